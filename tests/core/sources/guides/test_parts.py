"""What guides take from other files."""

import unittest

from tests.support.sources import gather_files, pages_of
from zarbek.core.sources.guides.parts import MAX_PARTS, Parts, region_of, splice

TIDE = """import sea

# region reading
def read(port):
    # region inner
    return sea.at(port)
    # endregion
# endregion


class Table:
    def peak(self):
        return max(self.heights)
"""
FILES = {
    "src/tide/__init__.py": "",
    "src/tide/tables.py": TIDE,
    "guides/_parts/safety.md": "Mind [the bar](../bar.md).\n\n::: include more.md\n",
    "guides/_parts/more.md": "And `tide.tables.Table`.\n",
    "guides/bar.md": "# The bar\n",
    "guides/a.md": """---
title: A
---
# A

::: include _parts/safety.md
:::

```python from=../src/tide/tables.py region=reading
what was there
```

```python symbol=tide.tables.Table.peak
```

```python from=/src/tide/tables.py lines=1
```

After [the bar](bar.md).
""",
    "guides/b.rst": """B
=

.. include:: parts/c.txt

.. code-block:: python
   :symbol: tide.tables.Table.peak

.. code-block:: python
   :from: ../src/tide/tables.py
   :region: inner
""",
    "guides/parts/c.txt": "From a `part <bar.md>`_.\n",
}


def read(text, files, path="guides/a.md"):
    return splice(text, file=path, path="a", parts=Parts(files.get, lambda _: None))


class Taken(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.pages = {page.path: page for page in pages_of(FILES, slug="own")}

    def test_are_parts_and_code_as_they_are_now(self):
        text = self.pages["a"].text
        for part in (
            "Mind [the bar](../bar.md).", "And `tide.tables.Table`.",
            "region=reading\ndef read(port):\n    return sea.at(port)\n```",
            "symbol=tide.tables.Table.peak\ndef peak(self):\n    return max(self.heights)\n```", "lines=1\nimport sea\n```",
        ):  # fmt: skip
            self.assertIn(part, text)
        self.assertNotIn("what was there", text)
        for part in ("From a [part](bar.md).", "def peak(self):", "return sea.at(port)"):
            self.assertIn(part, self.pages["b"].text)

    def test_mentions_stand_where_the_guide_takes_them(self):
        page = self.pages["a"]
        places = [(m.text, m.line, m.column) for m in page.mentions]
        self.assertEqual(
            places, [("../bar.md", 6, 0), ("tide.tables.Table", 6, 0), ("sea.at", 9, 0), ("bar.md", 19, 17)]
        )
        self.assertEqual((page.form, self.pages["bar"].form), ("made", ""))

    def test_what_begins_with_an_underscore_is_no_page_of_its_own(self):
        self.assertEqual(sorted(self.pages), ["a", "b", "bar"])

    def test_what_is_not_there_dangles(self):
        files = {"guides/a.md": "::: include gone.md\n\n```c from=../a.c region=x\n```\n\n```c symbol=gone\n```\n\n```c from=../a.c lines=9\n```\n",
                 "a.c": "int f;\n"}  # fmt: skip
        gathered, *_ = gather_files(files, slug="own")
        found = [(f.rule, f.line, f.text) for f in gathered.findings if f.subject == "a"]
        self.assertEqual(
            found,
            [
                ("dangling/block", 1, "gone.md"),
                ("dangling/block", 3, "x"),
                ("dangling/block", 6, "gone"),
                ("dangling/block", 9, "9"),
            ],
        )


class Hostile(unittest.TestCase):
    def test_nothing_outside_or_hidden_is_taken(self):
        files = {"guides/a.md": "::: include ../../etc/passwd\n::: include /etc/passwd\n::: include ../.env\n```c from=../../x\n```\n", ".env": "secret"}  # fmt: skip
        gathered, *_ = gather_files(files, slug="own")
        self.assertEqual([f.rule for f in gathered.findings], ["dangling/block"] * 4)
        self.assertNotIn("secret", pages_of(files, slug="own")[0].text)

    def test_circles_and_bombs_end(self):
        found = read(
            "::: include b.md\n", {"guides/b.md": "::: include c.md\nb\n", "guides/c.md": "::: include b.md\nc\n"}
        )
        self.assertEqual(
            (found.text, [f.message for f in found.findings]), ("c\n\nb\n\n", ["b.md is a part of itself."])
        )
        wide = {f"guides/{n}.md": f"::: include {n + 1}.md\n" * 10 for n in range(12)}
        found = read("::: include 0.md\n", wide)
        self.assertLess(len(found.findings), 4 * MAX_PARTS * 10)
        big = read("::: include x.md\n" * 50, {"guides/x.md": "y" * 100_000})
        self.assertLess(len(big.text), 1_100_000)

    def test_regions_within_regions(self):
        lines = TIDE.split("\n")
        self.assertEqual(region_of(lines, "inner"), ["    return sea.at(port)"])
        self.assertIsNone(region_of(lines, "rea"))
        self.assertIsNone(region_of(["# region a", "x"], "a"), "it does not end")


if __name__ == "__main__":
    unittest.main()
