"""Inline markup of doc text: literals, roles, links and bare addresses, to CommonMark.

Source of the forms: reStructuredText specification, "Inline Markup"; CommonMark 0.31.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from dataclasses import field as dataclass_field
from typing import NamedTuple

from zarbek.core.model.mention import Mention, Origin, address_of

#: Roles that name a Python object, and the kind that they ask for.
OBJECT_ROLES = {
    "class": "class", "func": "function", "meth": "method", "attr": "attribute",
    "mod": "module", "obj": "", "exc": "class", "data": "data", "const": "data",
    "any": "", "type": "",
}  # fmt: skip
CODE_ROLES = frozenset({"code", "literal", "samp", "file", "command", "program", "kbd", "envvar"})
LABEL_ROLES = frozenset({"ref", "doc", "term", "numref"})

_INLINE = re.compile(
    r"``(?P<literal>.+?)``(?!`)"
    r"|:(?P<role>[A-Za-z][\w.+:-]{0,60}):`(?P<roletext>[^`]+)`"
    r"|`(?P<linked>[^`]+)`__?(?![\w`])"
    r"|`(?P<single>[^`]+)`"
    r"|(?P<api>\[[^\[\]\n]*\]\(api:[^)\s]*\))"
    r"|(?P<url>\bhttps?://[^\s<>\"'`\])]*[^\s<>\"'`\]).,;:!?])"
    r"|\\(?P<escaped>.)"
    r"|(?P<special>[\[\]<])",
    re.DOTALL,
)
_MARKED = re.compile(r"[`\\\[<]|://")
_SPACE = re.compile(r"\s+")
_NAME = re.compile(r"[A-Za-z_][\w.]*(\(\))?\Z")
_PREFIX = re.compile(r"_[a-z]\w*\.(?=\w)")


@dataclass(slots=True)
class MentionSink:
    """Collects the mentions of one symbol; lines are the file's, to find columns."""

    lines: list[str]
    field: str = "doc"
    mentions: list[Mention] = dataclass_field(default_factory=list)

    def add(self, text: str, name: str, origin: Origin, line: int, role: str = "") -> None:
        column = 0
        if 0 < line <= len(self.lines):
            column = self.lines[line - 1].find(text.split("\n", 1)[0]) + 1
        self.mentions.append(Mention(text, name, origin, self.field, line, column, role))


def code_span(text: str) -> str:
    """A CommonMark code span that holds the text whatever backticks it has."""
    text = _SPACE.sub(" ", text)
    fence = "`"
    while fence in text:
        fence += "`"
    pad = " " if text[:1] == "`" or text[-1:] == "`" else ""
    return f"{fence}{pad}{text}{pad}{fence}"


def convert_inline(text: str, line: int, sink: MentionSink, origin: Origin = "link") -> str:
    """CommonMark for one run of reStructuredText inline markup that starts on a file line."""
    if not _MARKED.search(text):
        return text

    def replace(match: re.Match[str]) -> str:
        return replacements[match.lastgroup or ""](match, line + text.count("\n", 0, match.start()))

    def literal(match: re.Match[str], _line: int) -> str:
        return code_span(match["literal"])

    def role(match: re.Match[str], at: int) -> str:
        return _convert_role(match["role"], match["roletext"], at, sink, origin)

    def linked(match: re.Match[str], at: int) -> str:
        title, target = titled(match["linked"])
        if not title:
            return match["linked"]
        target = _SPACE.sub("", target)
        if "://" in target:
            sink.add(target, target, "url", at)
            return f"[{_plain(title)}](<{target}>)"
        return _plain(title)

    def single(match: re.Match[str], at: int) -> str:
        name = match["single"]
        if _NAME.match(name.lstrip("~!.")):
            sink.add(name, name, "code", at)
            return code_span(name.lstrip("~!"))
        return code_span(name)

    def api(match: re.Match[str], at: int) -> str:
        address = match["api"].rpartition("](")[2][:-1]
        sink.add(address, address, "link", at)
        return match["api"]

    def url(match: re.Match[str], at: int) -> str:
        sink.add(match["url"], match["url"], "url", at)
        return f"<{match['url']}>"

    def escaped(match: re.Match[str], _line: int) -> str:
        return "" if match["escaped"].isspace() else "\\" + match["escaped"]

    def special(match: re.Match[str], _line: int) -> str:
        return "\\" + match["special"]

    replacements = {
        "literal": literal, "roletext": role, "linked": linked, "single": single,
        "api": api, "url": url, "escaped": escaped, "special": special,
    }  # fmt: skip
    return _INLINE.sub(replace, text)


def titled(text: str) -> tuple[str, str]:
    """(title, target) of ``title <target>``; the title is empty where there is none."""
    head, opened, target = text[:-1].rpartition("<")
    if not text.endswith(">") or not opened or not head or not target or ">" in target:
        return "", text
    return head.rstrip() or head, target


def _plain(text: str) -> str:
    return _SPACE.sub(" ", text).replace("[", "\\[").replace("]", "\\]")


class RoleText(NamedTuple):
    """What a role says. target: as written, name: what it names, kind: the kind that it asks for; all empty where
    it names no element."""

    shown: str
    is_code: bool
    target: str = ""
    name: str = ""
    kind: str = ""


def role_text(role: str, text: str) -> RoleText:
    kind = role.rpartition(":")[2]
    title, target = titled(text)
    if kind in LABEL_ROLES:
        return RoleText(title or target, False)
    if kind not in OBJECT_ROLES:
        return RoleText(text if kind in CODE_ROLES else title or target.lstrip("~!."), True)
    if target.startswith("!"):
        return RoleText(title or target[1:], True)
    name = _SPACE.sub(" ", target).strip()
    return RoleText(title or shown_name(name), not title, target, name, OBJECT_ROLES[kind])


def _convert_role(role: str, text: str, line: int, sink: MentionSink, origin: Origin) -> str:
    said = role_text(role, text)
    shown = code_span(said.shown) if said.is_code else _plain(said.shown)
    if not said.name:
        return shown
    sink.add(said.target, said.name, origin, line, said.kind)
    return f"[{shown}]({address_of(said.name, said.kind)})"


def shown_name(name: str) -> str:
    """What a reader sees of a name: ``~a.b.C`` is C, ``.C`` and ``_prefix.C`` are C, else the whole."""
    if name.startswith("~"):
        return name.lstrip("~.").rstrip("()").rpartition(".")[2] + ("()" if name[-2:] == "()" else "")
    return _PREFIX.sub("", name.lstrip("."))
