"""Which links are faults, which are worth a note, and which are nobody's business."""

import unittest
from types import SimpleNamespace
from unittest import mock

import msgspec

from zarbek.core.findings.link_rules import judge_page, judge_symbol
from zarbek.core.linking.link import Link
from zarbek.core.model.doc_text import Change, Doc
from zarbek.core.model.mention import Mention
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol

KNOWN = mock.Mock(suggest=mock.Mock(return_value=None), gone_since=mock.Mock(return_value="2.0"),
                  changed=mock.Mock(return_value=None), deprecated_in=mock.Mock(return_value=""),
                  entry=mock.Mock(return_value=None), newest=mock.Mock(return_value="2.0"))  # fmt: skip
GONE = Link("dangling", project="lib", wanted="lib.old", reason="symbol")
OLD = Link("linked", "symbol", "lib", "1.0", "lib.old", stale=["deprecated"])
OLDER = Link("linked", "symbol", "lib", "1.0", "lib.new", stale=["older-release"])
HIDDEN = Link("hidden", "symbol", "lib", "1.0", "lib.secret")


def judged(link, origin="see", text="See [old](api:old) too.", visibility="public", path="app.f", role=""):
    symbol = Symbol(
        path, "f", "function", "python", "app", visibility=visibility, file="app.py", doc=Doc(summary=text),
        mentions=[Mention("old", "old", origin, role=role)],
    )  # fmt: skip
    (made,), findings = judge_symbol(symbol, [link], KNOWN)
    return made.fault, [(f.rule, f.severity) for f in findings]


class Faults(unittest.TestCase):
    def test_what_is_certain_counts(self):
        self.assertEqual(judged(GONE), ("dangling", [("dangling/symbol", "error")]))
        self.assertEqual(judged(OLD), ("stale", [("stale/deprecated", "warning")]))

    def test_a_note_does_not(self):
        self.assertEqual(judged(OLDER), ("", [("stale/older-release", "note")]))
        self.assertEqual(judged(HIDDEN), ("", [("dangling/hidden", "note")]))

    def test_code_and_text_that_know_it_say_nothing(self):
        self.assertEqual(judged(OLD, origin="type"), ("", []))
        self.assertEqual(judged(OLD, text="Replaces [old](api:old)."), ("", []))
        self.assertEqual(judged(OLD, text="This is called from [old](api:old)."), ("", []))
        self.assertEqual(judged(OLD, text="Call it from [a](api:a), or use [old](api:old).")[0], "stale")
        self.assertEqual(judged(HIDDEN, origin="type"), ("", []))
        self.assertEqual(judged(HIDDEN, origin="link", role="value"), ("", []))

    def test_what_a_text_says_not_to_use_or_lists_or_tells_of_the_past(self):
        for text in (
            "It does not support [old](api:old).",
            "Nor is the [old](api:old) method.",
            "To keep the contract of [old](api:old).",
        ):
            self.assertEqual(judged(OLD, text=text), ("", []))
        listed = msgspec.structs.replace(OLD, path="lib.T.old")
        self.assertEqual(
            judged(listed, text="All of them:\n\n- [new](api:new)\n- [old](api:old)", path="lib.T"), ("", [])
        )
        self.assertEqual(judged(listed, text="All of them:\n\n- [old](api:old) first", path="lib.T")[0], "stale")
        doc = Doc(summary="Does.", changes=[Change("4.1", "Falls back to [old](api:old).")])
        symbol = Symbol(
            "app.f", "f", "function", "python", "app", file="a.py", doc=doc, mentions=[Mention("old", "old", "link")]
        )
        self.assertEqual(judge_symbol(symbol, [OLD], KNOWN).findings, [])

    def test_a_name_in_code_is_found_without_the_mark_before_it(self):
        doc = Doc(body="3. `lib.old()`/`lib.x`: simple **deprecated** way.")
        symbol = Symbol(
            "app.f",
            "f",
            "function",
            "python",
            "app",
            file="a.py",
            doc=doc,
            mentions=[Mention("~lib.old()", "~lib.old()", "code")],
        )
        self.assertEqual(judge_symbol(symbol, [OLD], KNOWN).findings, [])

    def test_each_of_several_mentions_is_judged_by_its_own_sentence(self):
        text = "Use [old](api:old) here.\n\nIt was [old](api:old), which is deprecated."
        symbol = Symbol("app.f", "f", "function", "python", "app", file="a.py", doc=Doc(summary="F.", body=text),
                        mentions=[Mention("old", "old", "link", line=n) for n in (3, 5)])  # fmt: skip
        found = judge_symbol(symbol, [OLD, OLD], KNOWN).findings
        self.assertEqual([(f.line, f.before.strip()) for f in found], [(3, "Use")])

    def test_a_word_in_code_is_no_clear_name_and_a_family_knows_its_own(self):
        self.assertEqual(judged(OLD, origin="code"), ("", []))
        entry = SimpleNamespace(deprecated=SimpleNamespace(instead="fresh", since=""), parent="lib")
        with mock.patch.object(KNOWN, "entry", return_value=entry):
            self.assertEqual(judged(OLD, path="app.fresh"), ("", []))
            self.assertEqual(judged(OLD)[0], "stale")

    def test_the_worst_of_several_counts(self):
        both = Link("linked", "symbol", "lib", "1.0", "lib.old", stale=["older-release", "removed-later"])
        self.assertEqual(judged(both)[0], "stale")

    def test_of_what_is_private_nothing_is_said(self):
        self.assertEqual(judged(GONE, visibility="private"), ("", []))

    def test_guides_are_judged_alike(self):
        page = Page("guide", "Guide", "See [old](api:old).", "guide.md", mentions=[Mention("old", "old", "link")])
        (made,), (finding,) = judge_page(page, [GONE], KNOWN)
        self.assertEqual(
            (made.fault, finding.subject_kind, finding.message), ("dangling", "page", "lib.old was removed in lib 2.0.")
        )


if __name__ == "__main__":
    unittest.main()
