"""go.mod."""

import unittest

from zarbek.core.sources.manifests.gomod import read_go_mod


class GoMod(unittest.TestCase):
    def test_a_module_and_what_it_requires(self):
        facts = read_go_mod(
            "// Mast.\nmodule github.com/halmere/mast/v2\n\ngo 1.22\n\nrequire (\n\texample.org/a v1.2.3 // indirect\n\texample.org/b/v3 v3.0.1\n)\n"
            "require example.org/c v0.1.0\nreplace example.org/c => ../c\nexclude example.org/a v1.0.0\n"
        )
        self.assertEqual((facts.name, facts.purl), ("mast", "pkg:golang/github.com/halmere/mast/v2"))
        self.assertEqual(facts.repository, "https://github.com/halmere/mast/v2")
        self.assertEqual({d.purl.removeprefix("pkg:golang/example.org/"): d.range for d in facts.dependencies},
                         {"a": "v1.2.3", "b/v3": "v3.0.1", "c": "v0.1.0"})  # fmt: skip

    def test_quotes_and_nothing(self):
        self.assertEqual(read_go_mod('module "sea.example/x"').purl, "pkg:golang/sea.example/x")
        self.assertEqual((read_go_mod("").purl, read_go_mod("").dependencies), ("", []))


if __name__ == "__main__":
    unittest.main()
