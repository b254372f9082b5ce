"""zarbek.toml."""

import tomllib
import unittest

from zarbek.core.errors import ProjectFileError
from zarbek.core.sources.project_file import OPTIONS, ProjectFile, read_project_file


class ProjectFiles(unittest.TestCase):
    def refused(self, text, key, words):
        with self.assertRaises(ProjectFileError) as caught:
            read_project_file(text)
        self.assertEqual(caught.exception.key, key)
        self.assertIn(words, caught.exception.reason)

    def test_every_key_may_be_left_out(self):
        self.assertEqual(read_project_file(""), ProjectFile())

    def test_the_example_of_every_option_is_read_and_means_something(self):
        for option in OPTIONS:
            with self.subTest(option.key):
                self.assertNotEqual(read_project_file(option.example), ProjectFile())
                self.assertIn(option.key.partition(".")[0], tomllib.loads(option.example))

    def test_every_field_is_an_option(self):
        known = {o.key.partition(".")[0] for o in OPTIONS}
        self.assertEqual(known, set(ProjectFile.__struct_fields__))

    def test_what_is_wrong_is_named_with_what_may_be_meant(self):
        self.refused('visiblity = "public"', "visiblity", "the nearest known key is visibility")
        self.refused("[guides]\nfoldr = 'x'", "guides.foldr", "the nearest known key is guides.folder")
        self.refused('visibility = "secret"', "visibility", "must be public, internal or private")
        self.refused("languages = 'python'", "languages", "Expected `array`")
        self.refused("a = ", "the file", "is no TOML")
        self.refused("a = " + "[" * 5000, "the file", "")


if __name__ == "__main__":
    unittest.main()
