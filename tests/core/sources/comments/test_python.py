"""Three conventions, one structure."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.sources.comments.python import read_docstring
from zarbek.core.sources.markup.inline import MentionSink


def doc_of(text):
    sink = MentionSink(text.split("\n"))
    return read_docstring(text, 1, sink), sink.mentions


FIELD_LIST = """Add numbers.

    :param int x: The first.
    :param y: The second,
        over two lines.
    :type y: float
    :returns: The sum.
    :rtype: float
    :raises ValueError: If not.
    """
INDENTED = """Add numbers.

    Args:
        x (int): The first.
        y (float): The second,
            over two lines.

    Returns:
        float: The sum.

    Raises:
        ValueError: If not.
    """
UNDERLINED = """Add numbers.

    Parameters
    ----------
    x : int
        The first.
    y : float
        The second,
        over two lines.

    Returns
    -------
    float
        The sum.

    Raises
    ------
    ValueError
        If not.
    """


class Conventions(unittest.TestCase):
    def test_all_conventions_give_the_same_structure(self):
        for name, text in (("fields", FIELD_LIST), ("indented", INDENTED), ("underlined", UNDERLINED)):
            with self.subTest(name):
                doc, _ = doc_of(text)
                self.assertEqual(doc.summary, "Add numbers.")
                self.assertEqual([(p.name, p.type) for p in doc.parameters], [("x", "int"), ("y", "float")])
                self.assertEqual(doc.parameters[1].text, "The second,\nover two lines.")
                self.assertEqual([(r.type, r.text) for r in doc.returns], [("float", "The sum.")])
                self.assertEqual([(r.name, r.text) for r in doc.raises], [("ValueError", "If not.")])

    def test_first_sentence_is_the_summary(self):
        doc, _ = doc_of("Use e.g. this one. It is good.\n\nMore.")
        self.assertEqual((doc.summary, doc.body), ("Use e.g. this one.", "It is good.\n\nMore."))

    def test_examples_stay_examples(self):
        doc, _ = doc_of("Do.\n\n    Examples:\n        >>> f(1)\n        2\n    ")
        self.assertEqual(doc.sections[0].text, "```pycon\n>>> f(1)\n2\n```")

    def test_see_also_lists_are_mentions(self):
        _, mentions = doc_of("Do.\n\n    See Also\n    --------\n    other : Another.\n    a.b, c\n    ")
        self.assertEqual([(m.name, m.origin) for m in mentions], [("other", "see"), ("a.b", "see"), ("c", "see")])

    def test_deprecation_counts_for_the_symbol_only_outside_its_parts(self):
        whole, _ = doc_of("Do.\n\n.. deprecated:: 2.0\n   Use :func:`new`.\n")
        part, _ = doc_of("Do.\n\n:param x: A thing.\n\n    .. deprecated:: 2.0\n       Never mind.\n")
        self.assertEqual((whole.deprecated.since, whole.deprecated.instead), ("2.0", "new"))
        self.assertIsNone(part.deprecated)
        self.assertIn("Deprecated since 2.0", part.parameters[0].text)

    def test_lists_lose_nothing_that_stands_between_or_beside_their_entries(self):
        doc, mentions = doc_of(
            "Do.\n\nParameters\n----------\nx : int\n    The x.\nFurther ones go to the painter.\ny: the value of y\n\n"
            "See Also\n--------\n:func:`its title <pkg.f>` : It does.\n\n"
            "References\n----------\n.. [1] A. Author, 1999,\n   in a book.\n.. [2] B.\n\n"
            ".. figure:: a.png\n   :alt: A tide\n\n   The caption.\n"
        )
        self.assertEqual(
            [(p.name, p.type, p.text) for p in doc.parameters],
            [("x", "int", "The x.\n\nFurther ones go to the painter."), ("y", "", "the value of y")],
        )
        self.assertEqual((doc.see[0].text, mentions[0].origin), ("[its title](api:pkg.f?function): It does.", "see"))
        self.assertEqual(
            doc.sections[0].text,
            "- \\[1\\] A. Author, 1999,\n  in a book.\n\n- \\[2\\] B.\n\n*A tide*\n\nThe caption.",
        )

    def test_most_notes_of_deprecation_are_about_a_part(self):
        first, late = (
            "Do.\n\n.. deprecated:: 2.0\n   {}\n",
            "Do.\n\nMore.\n\nMuch more.\n\n.. deprecated:: 2.0\n   {}\n",
        )
        for frame, text, is_all in (
            (first, "Use :func:`new`.", True), (first, "Will be removed in 3.", True), (first, "Too slow.", True),
            (first, "The argument ``x`` is ignored.", False), (first, "Passing a list is deprecated.", False),
            (late, "This function is deprecated.", True), (late, "Replaced by :func:`new`.", True),
            (late, "Lists of names.", False), (late, "Use of ``x`` as a keyword.", False),
        ):  # fmt: skip
            with self.subTest(text):
                doc, _ = doc_of(frame.format(text))
                self.assertEqual(doc.deprecated is not None, is_all)
                self.assertEqual("**Deprecated since 2.0.**" in doc.body, not is_all)


class Mentions(unittest.TestCase):
    def test_forms_of_roles(self):
        cases = {
            ":class:`A`": ("A", "[`A`](api:A?class)"),
            ":py:meth:`~a.B.c`": ("~a.B.c", "[`c`](api:~a.B.c?method)"),
            ":func:`the one <a.f>`": ("a.f", "[the one](api:a.f?function)"),
            ":meth:`.x`": (".x", "[`x`](api:.x?method)"),
        }
        for text, (name, shown) in cases.items():
            with self.subTest(text):
                doc, mentions = doc_of(text)
                self.assertEqual([m.name for m in mentions], [name])
                self.assertEqual(doc.summary, shown)

    def test_what_is_no_mention(self):
        for text in (":class:`!A`", "``A.b``", ":math:`x_i`", ":ref:`label`"):
            with self.subTest(text):
                self.assertEqual(doc_of(text)[1], [])

    def test_lines_and_columns_are_those_of_the_file(self):
        text = "Do.\n\n    First line\n    then :class:`B`.\n"
        _, (mention,) = doc_of(text)
        self.assertEqual((mention.line, mention.column), (4, 18))

    def test_single_backquotes_are_only_maybe_a_mention(self):
        _, (mention,) = doc_of("The `x` of it.")
        self.assertEqual(mention.origin, "code")

    @given(st.text(alphabet="`:*_<>[]()|\\ ab\n.-=+", max_size=120))
    def test_broken_markup_never_fails(self, text):
        doc, _ = doc_of(text)
        self.assertIsInstance(doc.summary, str)


if __name__ == "__main__":
    unittest.main()
