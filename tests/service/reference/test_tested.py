"""What is tested of a release is read when it is published, and a page of it is bounded."""

import unittest
import uuid
from unittest import mock

from tests.support.inprocess import connected

SOURCE = '"""Sea."""\n' + "".join(f"def {name}():\n    pass\n" for name in ("tie", "cut", "far", "near", "_own"))
TESTS = "from SLUG import cut, tie, _own\n" + "".join(
    f'def test_{n}():\n    """:example:"""\n    tie(); _own(){"; cut()" if n == 1 else ""}\n' for n in range(3)
)


class Tested(unittest.TestCase):
    def setUp(self):
        self.portal, self.slug = connected(), f"td{uuid.uuid4().hex[:6]}"
        self.publish("1.0")

    def publish(self, version, tests=TESTS):
        files = {f"src/{self.slug}/__init__.py": SOURCE, "tests/test_it.py": tests.replace("SLUG", self.slug)}
        self.portal.publish(files, self.slug, version)

    def found(self, version="1.0", **options):
        from zarbek.service.catalog.queries import get_release
        from zarbek.service.reference.tested import list_tested

        found = list_tested(get_release(self.slug, version), **options)
        (module,) = found.modules
        return found, module

    def test_nobody_who_reads_it_reads_the_tests(self):
        from django.core.cache import caches

        from zarbek.service.reference import own_tested

        caches["renderings"].clear()  # It is kept with the release, not for a while.
        with mock.patch.object(own_tested, "_read", side_effect=AssertionError("read again")):
            found, module = self.found()
        self.assertEqual((found.elements, found.shown, found.examples), (4, 2, {"not-run": 3}))
        self.assertEqual({e.name: len(e.examples) for e in module.shown}, {"tie": 3, "cut": 1})

    def test_of_much_a_page_has_the_beginning_and_says_so(self):
        from zarbek.service.reference import tested

        with mock.patch.multiple(tested, MAX_EXAMPLES=2, MAX_WITHOUT=1):
            _, module = self.found()
            self.assertEqual([(e.name, len(e.examples), e.left) for e in module.shown], [("tie", 2, 1), ("cut", 1, 0)])
            self.assertEqual(([o.name for o in module.others], module.left), (["far"], 1))
            _, module = self.found(is_whole=True)
        self.assertEqual([(len(e.examples), e.left) for e in module.shown], [(3, 0), (1, 0)])
        self.assertEqual(([o.name for o in module.others], module.left), (["far", "near"], 0))

    def test_examples_count_that_show_what_the_reader_sees(self):
        self.publish("1.2", TESTS + 'def test_inner():\n    """:example:"""\n    _own()\n')
        self.assertEqual(self.found("1.2")[0].examples, {"not-run": 3})

    def test_each_release_has_its_own(self):
        self.publish("1.1", TESTS.replace("tie(); ", ""))
        self.assertEqual({e.name for e in self.found("1.1")[1].shown}, {"cut"})
        self.assertEqual({e.name for e in self.found("1.0")[1].shown}, {"cut", "tie"})


if __name__ == "__main__":
    unittest.main()
