import unittest

from zarbek.core.editions.supplements import SOURCE, tell
from zarbek.core.model.doc_text import Doc, DocField, Section
from zarbek.core.model.supplement import Supplement, SupplementPart

DOC = Doc("Its summary.", "Its text.", parameters=[DocField("*day", text="a day")], sections=[Section("example", "ex")])


def supplement(kind, how, text="x", name="", language=""):
    return Supplement(["api:a"], [SupplementPart(kind, how, text, name)], language=language)


def seen(told):
    return [(t.kind, t.text) for t in told if t.hidden_by is None]


class Telling(unittest.TestCase):
    def test_adds_behind_the_source(self):
        told = tell(DOC, [supplement("text", "add"), supplement("remarks", "add", "r")])
        self.assertEqual([(t.kind, t.text, t.by) for t in told], [
            ("summary", "Its summary.", SOURCE), ("text", "Its text.", SOURCE), ("text", "x", 0),
            ("parameter", "a day", SOURCE), ("remarks", "r", 1), ("examples", "ex", SOURCE),
        ])  # fmt: skip

    def test_replaces_what_was_said_before_and_remembers_it(self):
        told = tell(DOC, [supplement("examples", "add", "one"), supplement("examples", "replace", "two")])
        self.assertEqual([(t.text, t.hidden_by) for t in told if t.kind == "examples"],
                         [("ex", 1), ("one", 1), ("two", None)])  # fmt: skip

    def test_fills_only_where_nothing_is_said(self):
        told = tell(
            DOC,
            [supplement("summary", "fill", "no"), supplement("see", "fill", "yes"), supplement("see", "fill", "late")],
        )
        self.assertEqual([(t.text, t.hidden_by) for t in told if t.kind in ("summary", "see")],
                         [("Its summary.", None), ("no", SOURCE), ("yes", None), ("late", 1)])  # fmt: skip
        self.assertEqual(seen(tell(None, [supplement("summary", "fill", "yes")])), [("summary", "yes")])

    def test_parameters_are_told_apart_by_name(self):
        told = tell(
            DOC, [supplement("parameter", "replace", "the day", "day"), supplement("parameter", "fill", "m", "margin")]
        )
        self.assertEqual([t for t in seen(told) if t[0] == "parameter"], [("parameter", "the day"), ("parameter", "m")])

    def test_translations_are_for_their_readers(self):
        german = [supplement("summary", "add", "Auf Deutsch.", language="de")]
        for language, expected in (("", "Its summary."), ("fr", "Its summary."), ("de", "Auf Deutsch."),
                                   ("de-AT", "Auf Deutsch."), ("den", "Its summary.")):  # fmt: skip
            with self.subTest(language):
                self.assertEqual(seen(tell(DOC, german, language))[0], ("summary", expected))


if __name__ == "__main__":
    unittest.main()
