"""Guides in reStructuredText to pages: read by docutils, kept as CommonMark like all others.

Nothing is run or fetched; parts of other files are those of the source, within bounds. Roles and directives that
docutils does not know are those of other programs: a role keeps its name and is a mention like in documentation
comments, and of a directive its content is shown.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import cache
from typing import Any

from docutils import nodes
from docutils.core import publish_doctree
from docutils.parsers.rst import Directive, directives, roles
from docutils.parsers.rst.directives.body import CodeBlock
from docutils.parsers.rst.languages import en
from docutils.statemachine import StringList
from docutils.utils import SystemMessage
from msgspec.structs import replace

from zarbek.core.model.finding import Finding
from zarbek.core.model.limits import MAX_TITLE, is_dear
from zarbek.core.model.mention import Mention
from zarbek.core.model.page import Page
from zarbek.core.sources.guides.dialect import DIAGRAMS
from zarbek.core.sources.guides.parts import Parts, Splicer, joined
from zarbek.core.sources.guides.reader import read_guide, settings_of
from zarbek.core.sources.guides.rst_text import (
    MAX_NESTING,
    RstWriter,
    captioned_node,
    folded_node,
    glossary_node,
    role_node,
)

#: From which level on of docutils' messages something is lost.
LEAST = 3
#: Of a line, in characters.
MAX_LINE = 20_000
_SETTINGS = {
    "file_insertion_enabled": False, "raw_enabled": False, "report_level": LEAST, "halt_level": 5,
    "_disable_config": True, "warning_stream": False, "syntax_highlight": "none", "smart_quotes": False,
    "line_length_limit": MAX_LINE,
}  # fmt: skip
_ROLE = re.compile(r":([A-Za-z][\w:+.-]*):`|`:([A-Za-z][\w:+.-]*):")
_DIRECTIVE = re.compile(r"^[ \t]*\.\. (?:\|[^|\n]+\| )?([A-Za-z][\w:+.-]*) ?::", re.MULTILINE)
_SUBSTITUTION = re.compile(r"^[ \t]*\.\. \|([^|\n]+)\|(.*(?:\n[ \t]+\S.*)*)", re.MULTILINE)
_SUBSTITUTED = re.compile(r"\|([^|\s](?:[^|\n]*[^|\s])?)\|")
#: Characters that all substitutions of a text may stand for.
MAX_SUBSTITUTED = 1_000_000
_FOLDED = ("details", "tab")
_CAPTIONED = ("listing", "example")
_CODE = ("code", "code-block", "sourcecode")
_UNRESOLVED = re.compile(r"Unknown target name|Undefined substitution|Duplicate|Anonymous hyperlink mismatch")
_NAME = re.compile(r"[a-z][\w.+-]*\Z", re.ASCII)


def read_rst_guide(
    raw: str, *, file: str, path: str, parts: Parts, numbered: bool = False
) -> tuple[Page, list[Finding]]:
    """One page, and what is wrong with it: what docutils could not read, parts that are not there.

    file: as it appears in findings. path: its address, without suffix. Raises ValueError with a sentence for people if
    the text is none that could be set.
    """
    if is_dear(raw):
        raise ValueError("it is too long, or holds more marks than any text, to be set")
    if any(len(line) > MAX_LINE for line in raw.split("\n")):
        raise ValueError(f"a line is longer than {MAX_LINE:,} characters")
    if _swells(raw):
        raise ValueError("what its substitutions stand for is longer than any text")
    _take_in({m[1] or m[2] for m in _ROLE.finditer(raw)}, {m[1] for m in _DIRECTIVE.finditer(raw)})
    splicer = Splicer(file, path, parts)
    try:
        document = publish_doctree(raw, settings_overrides={**_SETTINGS, "splicer": splicer, "guide_file": file})
    except SystemMessage as error:
        raise ValueError(f"it cannot be read: {error}") from error
    page = read_guide(RstWriter(document).write(), file=file, path=path, numbered=numbered)
    told = {field.children[0].astext(): field.children[-1].astext() for field in document.findall(nodes.field)
            if isinstance(field.parent, nodes.docinfo)}  # fmt: skip
    lines = raw.split("\n")
    made = replace(
        page, form="made", line=1, title=(told.get("title") or page.title)[:MAX_TITLE],
        summary=told.get("summary") or page.summary, mentions=list(_placed(page.mentions, lines)),
        **settings_of(told),
    )  # fmt: skip
    lost = (_unread_part(made, node) for node in document.findall(nodes.system_message) if _is_lost(node))
    return made, [*splicer.findings, *lost]


def _unread_part(page: Page, node: nodes.system_message) -> Finding:
    told = next((c.astext() for c in node.children if isinstance(c, nodes.paragraph)), "")
    told = re.sub(r'"([\w-]+)" directive disabled', r"what \1 would bring is not read", told)
    told = " ".join(told.split())[:300].rstrip(".")
    line = int(node.get("line") or 1)
    message = f"Part of the guide could not be read, from line {line} on: {told}."
    return Finding("text/unreadable", "warning", page.path, message, subject_kind="page", file=page.file, line=line,
                   text=told)  # fmt: skip


def _is_lost(node: nodes.system_message) -> bool:
    """Whether a message is of something that is not shown; names that lead nowhere are told where links are."""
    text = node.astext()
    is_lost = int(node.get("level", 0)) >= LEAST or "directive disabled" in text
    return is_lost and not _UNRESOLVED.search(text)


def _swells(raw: str) -> bool:
    """Whether substitutions that name one another would make more of a text than anybody reads."""
    named = {m[1].lower(): m[2] for m in _SUBSTITUTION.finditer(raw)}
    sizes: dict[str, int] = {}

    def size_of(name: str, depth: int) -> int:
        if name not in sizes:
            sizes[name] = 0  # Of a circle, which docutils refuses.
            inner = [m[1].lower() for m in _SUBSTITUTED.finditer(named.get(name, ""))]
            more = sum(size_of(each, depth + 1) for each in inner) if depth < MAX_NESTING else MAX_SUBSTITUTED
            sizes[name] = min(len(named.get(name, "")) + more, MAX_SUBSTITUTED)
        return sizes[name]

    total = 0
    for used in _SUBSTITUTED.finditer(raw):
        total += size_of(used[1].lower(), 0)
        if total >= MAX_SUBSTITUTED:
            return True
    return False


def _placed(mentions: Iterable[Mention], lines: list[str]) -> Iterable[Mention]:
    """Mentions where they stand in the source: each at or behind the one before."""
    row, column = 0, 0
    for mention in mentions:
        plain = mention.text.lstrip("#")
        spelt = (mention.text, plain, plain.replace("-", " "))
        places = ((_find(text, lines, *at), len(text)) for at in ((row, column), (0, 0)) for text in spelt)
        found, size = next(((place, size) for place, size in places if place is not None), (None, 0))
        if found is None:
            yield replace(mention, line=row + 1, column=0)
            continue
        row, column = found
        yield replace(mention, line=row + 1, column=column + 1)
        column += size


def _find(text: str, lines: list[str], row: int, column: int) -> tuple[int, int] | None:
    for number in range(row, len(lines)):
        at = lines[number].find(text, column if number == row else 0)
        if at >= 0:
            return number, at
    return None


def _take_in(used_roles: Iterable[str], used_directives: Iterable[str]) -> None:
    """Tell docutils of the names that it does not know."""
    for name in {name.lower() for name in used_roles} - _known_roles():
        if _NAME.match(name.replace(":", "-")):
            roles.register_local_role(name, _keep_role)
    for name in _CODE:
        directives.register_directive(name, _Code)
    directives.register_directive("include", _Include)
    directives.register_directive("glossary", _Glossary)
    for name in _CAPTIONED:
        directives.register_directive(name, _Captioned)
    for name in _FOLDED:
        directives.register_directive(name, _Folded)
    for name in {name.lower() for name in used_directives} - _known_directives():
        directives.register_directive(name, _Unknown)


@cache
def _known_roles() -> frozenset[str]:
    return frozenset(en.roles)


@cache
def _known_directives() -> frozenset[str]:
    return frozenset(en.directives) | {*_CODE, *_FOLDED, *_CAPTIONED, "glossary"}


def _keep_role(
    name: str, rawtext: str, text: str, lineno: int, inliner: Any, options: Any = None, content: Any = None
) -> tuple[list[nodes.Node], list[nodes.Node]]:  # fmt: skip
    return [role_node(rawtext, text, role=name)], []


class _AnyOption(dict[str, Any]):
    """The options of a directive that nobody here knows: all of them, as they are written."""

    def __missing__(self, name: str) -> Any:
        return directives.unchanged


class _Unknown(Directive):  # type: ignore[misc]
    """A directive of another program: what it holds is shown, as it stands where it is no such text."""

    has_content, optional_arguments, final_argument_whitespace = True, 1, True
    option_spec = _AnyOption(name=directives.unchanged)

    def run(self) -> list[nodes.Node]:
        """Its content as blocks."""
        holder = nodes.container()
        self.state.nested_parse(self.content, self.content_offset, holder)
        if next(iter(holder.findall(nodes.system_message)), None) is None:
            return list(holder.children)
        text = "\n".join(self.content)  # It is no such text: code, or a form of its own.
        return [nodes.literal_block(text, text)]


class _Include(Directive):  # type: ignore[misc]
    """A part of another file of the source."""

    required_arguments, final_argument_whitespace = 1, True
    option_spec = _AnyOption(name=directives.unchanged)

    def run(self) -> list[nodes.Node]:
        """Nothing by itself: the text is read in the place of it."""
        settings, name = self.state.document.settings, self.arguments[0].strip()
        text = settings.splicer.load_part(joined(settings.guide_file, name), name, self.lineno)
        if text is not None and settings.splicer.has_room(text):
            self.state_machine.insert_input(text.expandtabs(4).split("\n"), name)
        return []


class _Folded(Directive):  # type: ignore[misc]
    """A part that opens, by its title."""

    has_content, required_arguments, final_argument_whitespace = True, 1, True

    def run(self) -> list[nodes.Node]:
        """The part."""
        holder = folded_node(kind=self.name, title=" ".join(self.arguments[0].split()))
        self.state.nested_parse(self.content, self.content_offset, holder)
        return [holder]


class _Captioned(Directive):  # type: ignore[misc]
    """A listing or an example with its caption."""

    has_content, required_arguments, final_argument_whitespace = True, 1, True
    option_spec = {"name": directives.unchanged}

    def run(self) -> list[nodes.Node]:
        """The block."""
        holder = _with_caption(self, self.name, self.arguments[0])
        self.add_name(holder)
        self.state.nested_parse(self.content, self.content_offset, holder)
        return [holder]


def _with_caption(directive: Directive, kind: str, caption: str) -> nodes.Element:
    told, wrong = directive.state.inline_text(" ".join(caption.split()), directive.lineno)
    return captioned_node("", nodes.caption("", "", *told, *wrong), kind=kind)


def _holding(holder: nodes.Element, made: list[nodes.Node]) -> nodes.Element:
    holder += made
    return holder


class _Glossary(Directive):  # type: ignore[misc]
    """Terms of a glossary."""

    has_content = True
    option_spec = _AnyOption(name=directives.unchanged)

    def run(self) -> list[nodes.Node]:
        """The definitions."""
        holder = glossary_node()
        self.state.nested_parse(self.content, self.content_offset, holder)
        return [holder]


class _Code(CodeBlock):  # type: ignore[misc]
    """A block of code, which may say which test it quotes, or what of the source it shows."""

    _OWN = ("from", "region", "lines", "symbol")
    option_spec = _AnyOption(
        CodeBlock.option_spec, **dict.fromkeys(("caption", "example", *_OWN), directives.unchanged_required)
    )
    options: dict[str, Any]

    def run(self) -> list[nodes.Node]:
        """The block."""
        own = self.options
        wanted = {name: own.pop(name) for name in self._OWN if name in own}
        settings = self.state.document.settings
        if "from" in wanted or "symbol" in wanted:
            code = settings.splicer.code_of(wanted, settings.guide_file, self.lineno)
            if code is None:
                return []
            self.content = StringList(code.split("\n"), settings.guide_file)
        caption, name = own.pop("caption", ""), own.pop("name", "")
        kind = "figure" if self.arguments and self.arguments[0] in DIAGRAMS else "listing"
        made: list[nodes.Node] = super().run()
        for node in made:
            if isinstance(node, nodes.literal_block) and "example" in own:
                node["quotes"] = f"example={own['example'].split()[0]}"
        holder = _with_caption(self, kind, caption) if caption else made[0]
        self.options = {"name": name} if name else {}
        self.add_name(holder)
        return [_holding(holder, made)] if caption else made
