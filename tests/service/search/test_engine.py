"""The search index by itself: what is put in, put in again and taken out."""

import unittest

from tests.support.running import running


class Engine(unittest.TestCase):
    def test_a_release_is_there_once_however_often_it_is_indexed_and_gone_when_removed(self):
        done = running().in_service("""
            import tempfile
            from pathlib import Path
            from zarbek.core.searching.engine_port import Document
            from zarbek.core.searching.query import parse_query
            from zarbek.service.search.engine import TantivyIndex
            with tempfile.TemporaryDirectory() as folder:
                one, other = (TantivyIndex(Path(folder)) for _ in range(2))
                one.rebuild([])
                def put(index, release, *names):
                    index.replace(release, [Document(release, "p", "module", n, n, "", "") for n in names])
                def found(name):
                    return sorted(h.document.release for h in one.search(parse_query(name), [7, 8], 50))
                put(one, 8, "berth")
                for index in (one, other, one):
                    put(index, 7, "berth", "tide")
                print(found("berth") == [7, 8], found("tide") == [7])
                put(other, 7, "berth")
                print(found("tide") == [], one.release_ids([7, 8]) == {7, 8})
                one.remove([7])
                print(found("berth") == [8], one.release_ids([7, 8]) == {8})
        """)
        self.assertEqual(done.stdout.split(), ["True"] * 6, done.stderr)


if __name__ == "__main__":
    unittest.main()
