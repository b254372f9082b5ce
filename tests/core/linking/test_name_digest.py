"""What says that a release has no name is never wrong; what says that it may have one rarely is."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.linking.index import PageEntry, ReleaseIndex, SymbolEntry
from zarbek.core.linking.name_digest import NameFilter, digest_names
from zarbek.core.model.bundle import Alias

PARTS = st.sampled_from(["a", "b", "Ä", "operator()(int)", "f(int)", "f(long)", "m!", "T<int>"])
PATHS = st.builds(
    lambda mark, parts: mark.join(parts), st.sampled_from([".", "::", "#"]), st.lists(PARTS, min_size=1, max_size=3)
)


def entry(path, language):
    return SymbolEntry(path, path.rpartition(".")[2], "class", "", "", "public", "", language=language)


@st.composite
def indexes(draw):
    language = draw(st.sampled_from(["python", "cpp", "java"]))
    paths = draw(st.lists(PATHS, max_size=5, unique=True))
    targets = st.sampled_from(paths) if paths else PATHS
    aliases = draw(st.lists(st.builds(lambda n, p: Alias(name=n, path=p), PATHS, targets), max_size=4))
    pages = draw(st.lists(st.sampled_from(["guides/a", "b"]), unique=True))
    return ReleaseIndex("sea", "1", symbols=[entry(p, language) for p in paths], aliases=aliases,
                        pages=[PageEntry(p, p, p, 0, 0) for p in pages])  # fmt: skip


def filter_of(index):
    return NameFilter(digest_names(index.symbols, ((a.name, a.path) for a in index.alias_list), index.pages))


class Names(unittest.TestCase):
    @given(indexes(), st.lists(PATHS, max_size=8))
    def test_what_an_index_has_is_never_denied(self, index, asked):
        names = filter_of(index)
        for name in {*asked, *index.symbols, *index.aliases, *index.pages, *(f"{a}.b" for a in index.aliases)}:
            if index.has_name(name):
                self.assertTrue(names.may_have(name), name)
            if name in index.symbols:
                self.assertTrue(names.may_be_path(name), name)

    def test_what_is_not_there_is_denied(self):
        index = ReleaseIndex("sea", "1", symbols=[entry(f"sea.m{n}.f", "python") for n in range(3000)],
                             aliases=[Alias(name="sea.M", path="sea.m1")])  # fmt: skip
        names = filter_of(index)
        self.assertTrue(names.may_have("sea.M.f"))
        self.assertFalse(names.may_have("sea.M.g"))
        self.assertEqual([n for n in range(3000) if names.may_have(f"sea.m{n}.gone")], [])


if __name__ == "__main__":
    unittest.main()
