"""Words around the code from people who mean no good: bounded, told, harmless."""

import html
import re
import tempfile
import unittest
import uuid
from pathlib import Path

from tests.support.running import running
from tests.support.sources import gather_files, write_files
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.linking.index import MODULE_KINDS
from zarbek.core.material.held_bundle import Holder

LARGE = 50 * 2**20
#: What engines of templates fill in.
TEMPLATES = (
    "{{ 7 * 7 }}", "{% include '/etc/passwd' %}", "${7*7}", "#{7*7}", "<%= 7 * 7 %>", "{7*7}", "{@html 7}", "[[7*7]]", "%(path)s", "{0.real}",
    "{{constructor.constructor('return 7')()}}", "@{7*7}",
)  # fmt: skip


class Large(unittest.TestCase):
    def test_files_of_50_megabytes_are_told_and_the_rest_is_read(self):
        files = {
            "a.py": "text", "A.java": "text", "a.ts": "text", "a.cs": "text", "a.rs": "text", "a.go": "text", "a.hpp": "text",
            "guides/a.md": "text", "guides/b.rst": "text", "supplements/a.md": "text", "tests/test_a.py": '""":example:"""',
            "reports/a.xml": "text",
        }  # fmt: skip
        with tempfile.TemporaryDirectory() as name:
            more = {"ok.py": '"""Fine."""\n', "guides/ok.md": "# Fine\n\n[Of a file](a.md)\n",
                    "zarbek.toml": '[examples]\nresults = ["reports/*.xml"]\n'}  # fmt: skip
            folder = write_files(Path(name), files | more)
            for file in files:
                with (folder / file).open("r+b") as handle:
                    handle.truncate(LARGE)
            holder = Holder()
            findings = gather(folder, Path(), GatherOptions(slug="l", use_cache=False, write=holder)).findings
        told = {f.file for f in findings if f.rule == "text/unreadable"}
        self.assertEqual(set(files) - told, set())
        read = {s.path for s in holder.bundle.symbols() if s.doc is not None or s.kind not in MODULE_KINDS}
        self.assertEqual(read, {"ok"})
        self.assertEqual([p.path for p in holder.bundle.pages()], ["ok"])
        self.assertEqual([s.file for s in holder.bundle.sources()], ["ok.py"])

    def test_a_supplement_for_very_many_is_one_page_and_a_list_of_them_is_told(self):
        functions = "".join(f'def f{n}():\n    """F."""\n' for n in range(3000))
        files = {f"p/m{n}.py": functions for n in range(4)}
        files["supplements/all.md"] = "---\nfor: 'api:p.*'\nflags: [inner]\n---\nMind.\n"
        files["supplements/list.md"] = "---\nfor:\n" + "  - api:p.m0.f0\n" * 100_000 + "---\nX.\n"
        gathered, index, symbols = gather_files(files, slug="many")
        self.assertEqual(len([s for s in symbols if s.variants == ["inner"]]), 12_004)
        self.assertEqual(list(index.pages), ["supplements/all"])
        told = [f.message for f in gathered.findings if f.file == "supplements/list.md"]
        self.assertEqual(len(told), 1)
        self.assertIn("<= 100", told[0])


class Templates(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = running()
        cls.slug = slug = f"w{uuid.uuid4().hex[:6]}"
        prose = "\n\n".join(f"Before {text} after." for text in TEMPLATES)
        doc = prose.replace("\n", "\n    ")
        cls.portal.publish({
            f"src/{slug}/__init__.py": f'r"""Top.\n\n{prose}\n"""\n\ndef f():\n    r"""F.\n\n    {doc}\n    """\n',
            "guides/a.md": f"# A\n\n{prose}\n", "guides/b.rst": f"B\n=\n\n{prose}\n",
            "supplements/c.md": f"---\nfor: api://{slug}/{slug}.f\n---\n# Remarks\n\n{prose}\n",
        }, slug, "1.0")  # fmt: skip

    def test_in_prose_are_prose(self):
        symbol = self.portal.client.symbol(self.slug, f"{self.slug}.f", "1.0")
        shown = {
            "comment": symbol.body, "supplement": symbol.sections[-1].html,
            "markdown": self.portal.client.guide(self.slug, "a", "1.0").html,
            "rst": self.portal.client.guide(self.slug, "b", "1.0").html,
        }  # fmt: skip
        for place, page in shown.items():
            said = html.unescape(re.sub(r"<[^>]+>", "", page)).replace("‘", "'").replace("’", "'")
            self.assertNotIn("49", said)
            self.assertNotIn("root:", said)
            for text in TEMPLATES:
                if place == "rst" and text == "%(path)s":
                    continue
                with self.subTest(place, text=text):
                    wanted = (
                        "" if text.startswith("<%") and place != "rst" else text
                    )  # Markup that is none is left out.
                    self.assertIn(f"Before {wanted}", said)


if __name__ == "__main__":
    unittest.main()
