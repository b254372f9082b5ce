"""A machine's index follows what search is to find: latest, judged and previews, as they come and go."""

import unittest
import uuid

from tests.support.running import running
from tests.support.waiting import until
from zarbek.client import PortalProblem


class Following(unittest.TestCase):
    def setUp(self):
        self.portal, self.slug = running(), f"find{uuid.uuid4().hex[:6]}"

    def publish(self, version, name, **options):
        return self.portal.publish({f"{self.slug}.py": f"def {name}():\n    '''F.'''\n"}, self.slug, version, **options)

    def indexed(self):
        done = self.portal.in_service(f"""
            from zarbek.service.catalog.models import Release
            from zarbek.service.search.engine import get_index
            rows = dict(Release.objects.filter(project__slug={self.slug!r}).values_list("pk", "version"))
            print(",".join(sorted(rows[pk] for pk in get_index().release_ids(rows))))
        """)
        self.assertEqual(done.returncode, 0, done.stderr[-2000:])
        return done.stdout.strip()

    def found(self, name, **filters):
        return [h.name for h in self.portal.client.search(name, project=self.slug, **filters) if h.name == name]

    def test_what_is_superseded_leaves_the_index_and_search_says_so(self):
        name = f"f{self.slug}"
        self.publish("1.0", name)
        self.assertEqual(self.found(name), [name])
        self.publish("1.1", f"{name}b")
        until(lambda: self.indexed() == "1.1")
        self.assertEqual((self.found(f"{name}b"), self.found(name)), ([f"{name}b"], []))
        with self.assertRaises(PortalProblem) as refused:
            self.found(name, version="1.0")
        self.assertIn("superseded", str(refused.exception))
        self.portal.client.set_support(self.slug, "1.0", "supported")
        until(lambda: self.indexed() == "1.0,1.1")
        self.assertEqual(self.found(name, version="1.0"), [name])

    def test_a_preview_takes_the_place_of_the_one_before_and_what_is_removed_goes(self):
        name = f"f{self.slug}"
        self.publish("1.0", name)
        for number in (1, 2):
            self.publish("main", f"{name}{number}", preview=True)
        self.assertEqual(self.found(f"{name}2", version="main"), [f"{name}2"])
        self.portal.client.remove_release(self.slug, "main")
        until(lambda: self.indexed() == "1.0")

    def test_a_change_that_is_kept_late_is_followed_all_the_same(self):
        done = self.portal.in_service(f"""
            import tempfile
            from pathlib import Path
            from zarbek.service.catalog.models import Project, Release, SearchChange
            from zarbek.service.search import actions, documents, engine
            from zarbek.core.searching.engine_port import Document
            from django.db import transaction
            block = transaction.atomic()  # The portal's own index sees nothing of it.
            block.__enter__()
            project = Project.objects.create(slug={self.slug!r}, title="x")
            with tempfile.TemporaryDirectory() as folder:
                index = engine.TantivyIndex(Path(folder))
                actions.get_index = lambda: index
                actions.documents_of = lambda r: [Document(r.pk, "p", "module", "n", "n")]
                make = lambda v: Release.objects.create(project=project, version=v, manifest=b"{{}}", is_findable=True, bundle_digest="")
                follower = actions.Follower()
                while follower.follow():  # Others share the portal.
                    pass
                early, late = make("1"), make("2")
                first = SearchChange.objects.create(release=early.pk)
                first_id = first.pk
                first.delete()
                SearchChange.objects.create(release=late.pk)
                while follower.follow():  # Others share the portal.
                    pass
                SearchChange.objects.create(pk=first_id, release=early.pk)  # Its transaction took longer.
                while follower.follow():  # Others share the portal.
                    pass
                print(index.release_ids([early.pk, late.pk]) == {{early.pk, late.pk}}, follower.follow())
            transaction.set_rollback(True)
            block.__exit__(None, None, None)
        """)
        self.assertEqual(done.stdout.strip(), "True 0", done.stderr[-2000:])

    def test_one_process_of_a_machine_follows(self):
        done = self.portal.in_service("""
            import tempfile
            from pathlib import Path
            from zarbek.service.search.engine import TantivyIndex
            with tempfile.TemporaryDirectory() as folder:
                one, other = (TantivyIndex(Path(folder)) for _ in range(2))
                with one.following() as mine, other.following() as yours:
                    print(mine, yours)
                with other.following() as yours:
                    print(yours)
        """)
        self.assertEqual(done.stdout.split(), ["True", "False", "True"], done.stderr[-2000:])

    def test_every_machine_says_how_far_it_is(self):
        self.publish("1.0", f"f{self.slug}")
        done = self.portal.in_service("""
            from zarbek.service.search.models import SearchNode
            from zarbek.service.search.queries import newest_change
            print(list(SearchNode.objects.values_list("position", flat=True)) == [newest_change()])
        """)
        self.assertEqual(done.stdout.strip(), "True", done.stderr[-2000:])


if __name__ == "__main__":
    unittest.main()
