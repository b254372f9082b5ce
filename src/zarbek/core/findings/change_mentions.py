"""Whether a text speaks of what has changed about what it names.

Of fifty references to what changed since they were written, hardly one says anything that is no longer
true: only what names, quotes or calls the very thing that changed is worth a look.
"""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator

from zarbek.core.changes.change import Detail
from zarbek.core.changes.texts import lost_words, words_of
from zarbek.core.findings.mention_context import texts_of
from zarbek.core.model.doc_text import Doc
from zarbek.core.model.mention import Mention
from zarbek.core.model.naming import key_of
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol
from zarbek.core.writing.plain_text import LINK

_FENCE = re.compile(r"^(`{3,}+)[^`\n]*+\n(.*?)^\1", re.DOTALL | re.MULTILINE)
_OPENS = re.compile(r"\s*(`{3,}|~{3,})")
_SPAN = re.compile(r"(?<!`)`++([^`\n]++)`++")
_TOKEN = re.compile(r"[A-Za-z_]\w*|\d+(?:\.\d+)*")
#: A word that is no word of a language that people speak.
_NAME_LIKE = re.compile(r"\w*(?:_|[a-z][A-Z]|\d)\w*\Z")
_COMMON = frozenset("str int float bool bytes list dict tuple set None True False object any Any self type".split())
UNITS = frozenset(
    "metre metres meter meters feet foot mile miles km second seconds millisecond milliseconds ms minute minutes hour "
    "hours day days byte bytes bits characters pixels percent degrees radians celsius fahrenheit kelvin utc".split()
)


def block_in_symbol(symbol: Symbol, mention: Mention) -> str:
    """The paragraph of a symbol's text that holds a mention, with the examples of that text."""
    return _block(texts_of(symbol.doc), mention) if symbol.doc is not None else ""


def block_in_page(page: Page, mention: Mention) -> str:
    """The paragraph or list item of a guide that a mention stands in; empty for a page of a tree: it has no marks."""
    if page.form == "html":
        return ""
    return _block([page.text], mention)


def _block(texts: Iterator[str] | list[str], mention: Mention) -> str:
    marks = (f"]({mention.address}", f"]({mention.text})", f"`{mention.text}`")
    for text in texts:
        parts = re.split(r"\n\s*\n", _FENCE.sub("", text))
        found = next((part for part in parts if any(mark in part for mark in marks)), None)
        if found is not None:
            return "\n\n".join([found, *(m[0] for m in _FENCE.finditer(text))])
    return ""


def spoken_of(details: list[Detail], block: str, path: str) -> list[Detail]:
    """Those of the changes of a symbol that a block of text names, quotes or shows in a call."""
    text = LINK.sub(lambda m: m[1], block)
    last = key_of(path).rpartition(".")[2]
    codes = [c for c in _codes(text) if c.strip("`() ") not in (last, path)]
    calls = list(_calls(text, last))
    return [d for d in details if _is_spoken(d, text, codes, calls)]


def lost_figures(before: Doc | None, after: Doc | None) -> frozenset[str]:
    """The numbers and units that a text had and has no longer."""
    return frozenset(w for w in lost_words(before, after) if any(c.isdigit() for c in w) or w in UNITS)


def repeats(block: str, figures: frozenset[str]) -> bool:
    """Whether a block of text has one of some numbers and units."""
    return not figures.isdisjoint(words_of(LINK.sub(lambda m: m[1], block)))


def _is_spoken(detail: Detail, text: str, codes: list[str], calls: list[ast.Call]) -> bool:
    if detail.name:
        if any(k.arg == detail.name for call in calls for k in call.keywords):
            return detail.kind not in ("parameter-added", "default-added")
        if detail.kind == "parameter-added":
            return detail.breaks and bool(calls) and not any(_may_give(call, detail.name) for call in calls)
        if not _names(detail.name, text, codes):
            return False
        if detail.kind in ("parameter-removed", "parameter-renamed"):
            return True
        return any(_names(word, text, codes) for word in _lost(detail)) or (
            detail.kind.startswith("default") and "default" in text.lower()
        )
    return any(_names(word, text, codes) for word in _lost(detail))


def _may_give(call: ast.Call, name: str) -> bool:
    """Whether a call gives a parameter, or may."""
    has_rest = any(isinstance(a, ast.Starred) for a in call.args) or any(k.arg is None for k in call.keywords)
    return has_rest or any(k.arg == name for k in call.keywords)


def _lost(detail: Detail) -> list[str]:
    kept = set(_TOKEN.findall(detail.after))
    return [w for w in _TOKEN.findall(detail.before) if w not in kept and w not in _COMMON and len(w) > 1]


def _names(word: str, text: str, codes: list[str]) -> bool:
    """Whether a word stands in code, or in prose where it can be nothing but a name or a value."""
    whole = re.compile(rf"(?<![\w.]){re.escape(word)}(?![\w])")
    if any(whole.search(code) for code in codes):
        return True
    return bool(_NAME_LIKE.match(word) and whole.search(text))


def _codes(text: str) -> Iterator[str]:
    yield from (m[2] for m in _FENCE.finditer(text))
    yield from (m[1] for m in _SPAN.finditer(_FENCE.sub("", text)))


def _calls(text: str, name: str) -> Iterator[ast.Call]:
    """Calls of a name in the examples of a text, as far as they are Python."""
    for code in _codes(text):
        if f"{name}(" not in code or re.fullmatch(rf"[\w.:]*{re.escape(name)}\(\)", code.strip("` ")):
            continue  # Alone and empty, the parentheses are how functions are written in prose.
        lines = [line[4:] if line.startswith((">>> ", "... ")) else line for line in code.split("\n")]
        for piece in ("\n".join(lines), *lines):
            try:
                tree = ast.parse(piece.strip())
            except (SyntaxError, ValueError, RecursionError, MemoryError):  # Hostile, or no Python.
                continue
            for node in ast.walk(tree):
                if isinstance(node, ast.Call) and name == getattr(node.func, "attr", getattr(node.func, "id", "")):
                    yield node
            if piece.count("\n"):
                break


def quoted_in_page(page: Page, mention: Mention) -> str:
    """The code of a guide's block whose first line a mention stands in (CommonMark 0.31, 4.5)."""
    lines = page.text.split("\n")
    at = mention.line - page.line
    if page.form == "made":
        at = next((n for n, line in enumerate(lines) if _OPENS.match(line) and mention.text in line), -1)
    opened = _OPENS.match(lines[at]) if 0 <= at < len(lines) else None
    if opened is None:
        return ""
    inside = lines[at + 1 :]
    end = next((n for n, line in enumerate(inside) if line.strip().startswith(opened[1])), len(inside))
    return "\n".join(inside[:end])
