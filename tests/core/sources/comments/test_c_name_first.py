"""Comments of C that begin with the name of what they document."""

import unittest

from zarbek.core.sources.comments.c_name_first import from_named, name_told


class NameFirst(unittest.TestCase):
    def test_the_name_that_a_comment_begins_with(self):
        self.assertEqual(name_told(["", "hull_open:"]), "hull_open")
        self.assertEqual(name_told(["HullBox:"]), "HullBox")
        self.assertEqual(name_told(["HullBox::closed:"]), "")
        self.assertEqual(name_told(["HullBox:width:"]), "")

    def test_prose_is_another_form(self):
        self.assertIsNone(name_told(["Note:", "", "Opens a hull."]))
        self.assertIsNone(name_told(["Opens a hull: that is all."]))
        lines = ["Note:", "", "Opens @hull."]
        self.assertEqual(from_named(lines), lines)

    def test_parameters_and_tags_become_commands_line_by_line(self):
        found = from_named([
            "hull_open:", "@hull: (nullable): the hull", "@...: more", "", "Opens @hull, %TRUE if it can.", "",
            "Returns: (transfer full): a box", "Since: 2.4", "Stability: Stable",
        ])  # fmt: skip
        self.assertEqual(found[0], "")
        self.assertEqual(found[1].split(), ["@param", "hull", "the", "hull"])
        self.assertEqual(found[2].split(), ["@param", "...", "more"])
        self.assertRegex(found[4], r"^Opens \S*hull\S*, \S*TRUE\S* if it can\.$")
        self.assertEqual(found[6].split(), ["@return", "a", "box"])
        self.assertEqual(found[7].split(), ["@since", "2.4"])
        self.assertEqual((found[8], len(found)), ("", 9))

    def test_a_paragraph_after_the_list_may_begin_with_a_name(self):
        found = from_named(["hull_open:", "@hull: the hull", "", "Opens it.", "@hull: is what it opens."])
        self.assertNotIn("@param", found[4])


if __name__ == "__main__":
    unittest.main()
