"""When texts and declarations last changed."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.findings.text_history import (
    DeclarationHistory,
    SymbolHistory,
    changed_declarations,
    changed_texts,
)
from zarbek.core.linking.index import ReleaseIndex, SymbolEntry

#: Of each release, what each of some symbols says and takes: "" for no text, None for a symbol that it has not.
SYMBOLS = st.dictionaries(
    st.sampled_from("abc"), st.none() | st.tuples(st.sampled_from(["", "x", "y"]), st.sampled_from("pq"))
)


def index(version, symbols):
    entries = [
        SymbolEntry(path, path, "function", "m", "m", "public", shape, said=said)
        for path, (said, shape) in ((p, s) for p, s in symbols.items() if s is not None)
    ]
    return ReleaseIndex("sea", version, symbols=entries)


class Histories(unittest.TestCase):
    def histories(self, releases, forgotten=()):
        """(texts, declarations) of each release, each of which follows the one before; forgotten: numbers of those
        that were stored without the history of their declarations."""
        found = [({}, DeclarationHistory())]
        for number in range(1, len(releases)):
            own, before = (index(f"{n}", releases[n]) for n in (number, number - 1))
            texts = changed_texts(own, before, found[-1][0], frozenset())
            declared = changed_declarations(own, before, texts, found[-1][1])
            found.append((texts, DeclarationHistory() if number in forgotten else declared))
        return found

    @given(st.lists(SYMBOLS, min_size=2, max_size=6), st.sets(st.integers(0, 5), max_size=2))
    def test_what_is_as_it_was_says_and_takes_the_same(self, releases, forgotten):
        found = self.histories(releases, forgotten)
        for now, parts in enumerate(found):
            history = SymbolHistory(*parts)
            for then in range(now):
                for path, symbol in releases[now].items():
                    if history.is_as_in(f"{then}", path):
                        self.assertEqual(releases[then][path], symbol)

    def test_what_changed_before_a_version_is_as_in_it(self):
        releases = [{"a": ("x", "p")}, {"a": ("x", "q")}, {"a": ("x", "q")}, {"a": ("y", "q")}, {"a": ("y", "q")}]
        found = self.histories(releases)
        known = [
            (then, now) for now in range(5) for then in range(now)
            if SymbolHistory(*found[now]).is_as_in(f"{then}", "a")
        ]  # fmt: skip
        self.assertEqual(known, [(1, 2), (3, 4)])

    def test_of_a_version_that_it_does_not_follow_nothing_is_known(self):
        texts, declared = self.histories([{"a": ("x", "p")}] * 3)[2]
        self.assertEqual([SymbolHistory(texts, declared).is_as_in(v, "a") for v in ("0", "1", "0.5")],
                         [True, True, False])  # fmt: skip


if __name__ == "__main__":
    unittest.main()
