"""Our reading of reStructuredText held against docutils' on the docstrings of packages that are installed here."""

import ast
import re
import unittest
from importlib.util import find_spec
from pathlib import Path

from docutils import nodes
from docutils.core import publish_doctree
from markdown_it import MarkdownIt

from zarbek.core.sources.markup.inline import MentionSink, find_targets
from zarbek.core.sources.markup.rst import convert_blocks

#: Written in reStructuredText for the most part; what they say of parameters and versions is read elsewhere.
PACKAGES = ("django", "hypothesis", "rest_framework")
_FACTS = re.compile(r"^\s*:[\w ]+:|^ *\.\. (?!_|code-block|note|math)[\w-]+::", re.MULTILINE)
#: A list right below a paragraph or inside an item: to the specification no list, to the authors of docstrings one.
_ITEM = r" *(?:[-*+•]|\(?\w{1,4}[.)]) "
_NEAR_LIST = re.compile(rf"^(?!{_ITEM})[^\n]*\S\n{_ITEM}|^( *)[-*+] [^\n]*\n\1 +[-*+] ", re.MULTILINE)
#: A backslash before a letter: to the specification nothing, to the authors of docstrings a backslash.
_ESCAPED = re.compile(r"\\\w")
_SETTINGS = {
    "report_level": 5, "halt_level": 5, "file_insertion_enabled": False, "raw_enabled": False, "warning_stream": None,
    "syntax_highlight": "none", "_disable_config": True, "rfc_base_url": "https://www.rfc-editor.org/rfc/",
    "pep_base_url": "https://peps.python.org/",
}  # fmt: skip
#: What makes a text more than prose.
_MARKS = re.compile(r"[`*_|<\[\]]|::|https?:|^ *[-+] |^ +\S", re.MULTILINE)
_COMMONMARK = MarkdownIt("commonmark").enable("table")


def docstrings(package):
    """Each docstring of a package that is more than a sentence, with where it stands."""
    for file in sorted(Path(find_spec(package).origin).parent.rglob("*.py")):
        for node in ast.walk(ast.parse(file.read_bytes())):
            if isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef, ast.AsyncFunctionDef)):
                text = ast.get_docstring(node)
                if text and len(text) > 60 and _MARKS.search(text):
                    yield f"{file}:{getattr(node, 'lineno', 1)}", "\n".join(row.rstrip() for row in text.split("\n"))


def web_addresses(found):
    """Those that lead somewhere; of standards without the form that the server chooses."""
    return {re.sub(r"(/rfc\d+)\.html", r"\1", url).rstrip("/") for url in found if re.match(r"https?://\w", url)}


def by_docutils(text):
    """What is read, or None for what is no sound reStructuredText."""
    tree = publish_doctree(text, settings_overrides=_SETTINGS)
    if list(tree.findall(nodes.system_message)) or list(tree.findall(nodes.problematic)):
        return None
    for unseen in [*tree.findall(nodes.comment), *tree.findall(nodes.substitution_definition)]:
        unseen.parent.remove(unseen)

    def texts(*kinds):
        return [" ".join(n.astext().split()) for n in tree.findall(lambda n: isinstance(n, kinds))]

    return {
        "words": re.findall(r"\w+", tree.astext()),
        "code": texts(nodes.literal_block, nodes.doctest_block),
        "literals": texts(nodes.literal, nodes.title_reference),
        "items": len(texts(nodes.list_item, nodes.definition_list_item)),
        "links": web_addresses(n.get("refuri", "") for n in tree.findall(nodes.reference)),
    }


def by_us(text):
    lines = text.split("\n")
    sink = MentionSink(lines)
    find_targets(lines, 1, sink)
    tokens = _COMMONMARK.parse(convert_blocks(lines, 1, sink, None))
    inline = [[*(token.children or ())] for token in tokens]
    shown = [
        token.content if token.type in ("fence", "code_block") else
        "".join(c.content if c.type in ("text", "code_inline") else " " * c.type.endswith("break") for c in children)
        for token, children in zip(tokens, inline, strict=True)
    ]  # fmt: skip
    parts = [child for children in inline for child in children]
    return {
        "words": re.findall(r"\w+", "\n".join(shown)),
        "code": [" ".join(t.content.split()) for t in tokens if t.type in ("fence", "code_block")],
        "literals": [" ".join(c.content.split()) for c in parts if c.type == "code_inline"],
        "items": sum(t.type == "list_item_open" for t in tokens),
        "links": web_addresses(str(c.attrs["href"]) for c in parts if c.type == "link_open"),
    }


class Oracle(unittest.TestCase):
    def test_both_read_the_same(self):
        compared = 0
        for package in PACKAGES:
            for place, text in docstrings(package):
                if _FACTS.search(text) or _NEAR_LIST.search(text) or _ESCAPED.search(text):
                    continue
                expected = by_docutils(text)
                if expected is None:
                    continue
                compared += 1
                with self.subTest(place):
                    self.assertEqual(by_us(text), expected)
        self.assertGreater(compared, 1200)


if __name__ == "__main__":
    unittest.main()
