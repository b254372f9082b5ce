"""Properties of resolution that hold for any source."""

import unittest

from hypothesis import example, given, settings
from hypothesis import strategies as st

from tests.support.portals import MemoryPortal
from tests.support.sources import read
from zarbek.core.linking.index import ReleaseIndex, entry_of
from zarbek.core.linking.linker import Linker
from zarbek.core.linking.resolver import Resolver
from zarbek.core.linking.targets import Missing, Target
from zarbek.core.model.bundle import Manifest

NAMES = st.from_regex(r"[a-d][a-d]?", fullmatch=True)
CLASSES = st.lists(st.tuples(NAMES, st.lists(NAMES, max_size=3), st.lists(NAMES, max_size=2)), min_size=1, max_size=5)


def index_of(classes):
    lines = []
    for name, members, bases in classes:
        lines.append(f"class {name}({', '.join(dict.fromkeys(bases))}):\n    x = 1")
        lines += [f"    def {member}(self): ..." for member in members]
    reading = read("\n".join(lines), "m")
    return ReleaseIndex(
        "p",
        "1",
        symbols=map(entry_of, reading.symbols),
        scopes=[reading.scope],
        manifest=Manifest(1, "p", namespaces=["m"]),
    )


class Properties(unittest.TestCase):
    @settings(max_examples=150)
    @given(CLASSES)
    def test_every_symbol_is_found_by_its_path_and_from_its_own_scope(self, classes):
        index = index_of(classes)
        resolver = Resolver(index, MemoryPortal(index))
        for path, entry in index.symbols.items():
            found = resolver.resolve(path, "m")
            self.assertIsInstance(found, Target)
            self.assertEqual(found.entry.path, path)
            if entry.parent in index.symbols:
                inside = resolver.resolve(entry.name, entry.parent)
                self.assertEqual(inside.entry.path, path)

    @settings(max_examples=150)
    @given(CLASSES, st.lists(NAMES, min_size=1, max_size=4))
    def test_any_name_ends_in_a_target_or_a_reason_whatever_the_bases(self, classes, names):
        index = index_of(classes)
        resolver = Resolver(index, MemoryPortal(index))
        for text in (".".join(names), "." + ".".join(names), "~m." + ".".join(names), names[0] + "()"):
            self.assertIsInstance(resolver.resolve(text, "m"), Target | Missing)

    @settings(max_examples=60)
    @given(CLASSES, st.lists(NAMES, max_size=3))
    @example([("c", [], ["a"]), ("a", ["a"], ["b"]), ("b", [], ["c"])], ["a"])
    def test_an_answer_does_not_depend_on_what_was_asked_before(self, classes, names):
        index = index_of(classes)
        used = Resolver(index, MemoryPortal(index))
        for path in list(index.symbols):
            used.resolve(f"{path}.{'.'.join(names)}" if names else path, path)
        for path in index.symbols:
            for name in names:
                fresh = Resolver(index, MemoryPortal(index)).resolve(name, path)
                self.assertEqual(used.resolve(name, path), fresh)

    def test_linking_twice_gives_equal_links(self):
        reading = read('class A:\n    """:meth:`b`, :class:`m.A`, :func:`nothing`"""\n    def b(self): ...', "m")
        index = index_of([("A", ["b"], [])])
        first, second = (list(Linker(index, MemoryPortal(index)).link_symbols(reading.symbols)) for _ in range(2))
        self.assertEqual(first, second)


if __name__ == "__main__":
    unittest.main()
