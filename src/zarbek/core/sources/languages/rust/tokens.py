"""Rust as trees of tokens. Source: The Rust Reference, "Tokens", "Comments" and "Macros"."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

_TOKEN = re.compile(
    r"""(?P<space>\s+)
    |(?P<doc>///(?!/)[^\n]*|/\*\*(?![*/]).*?\*/)
    |(?P<comment>//[^\n]*|/\*.*?\*/)
    |(?P<string>[bc]?r(?P<marks>\#*)".*?"(?P=marks)|[bc]?"(?:\\.|[^"\\])*")
    |(?P<char>b?'(?:\\[^\n]{1,9}?|[^\\'\n])')
    |(?P<lifetime>'\w+)
    |(?P<word>r\#\w+|\w+)
    |(?P<sign>::|->|=>|\.\.=|\.\.\.|\.\.|.)""",
    re.VERBOSE | re.DOTALL,
)
CLOSING = {"(": ")", "[": "]", "{": "}"}


@dataclass(frozen=True, slots=True)
class Token:
    """lead: blanks and ordinary comments before it. kind: ``word``, ``string``, ``char``, ``lifetime``, ``doc``
    or ``sign``."""

    lead: str
    text: str
    kind: str


@dataclass(frozen=True, slots=True)
class Group:
    """What stands between brackets. tail: what stands before the closing one."""

    lead: str
    opening: str
    inside: tuple[Tree, ...]
    tail: str = ""

    @property
    def text(self) -> str:
        """The group with its brackets, as it is written."""
        return self.opening + text_of(self.inside) + self.tail + CLOSING[self.opening]


Tree = Token | Group


class TooDeep(Exception):
    """Brackets stand in one another beyond any use."""


def parse_tokens(text: str, *, most: int, deepest: int = 60) -> tuple[Tree, ...]:
    """Trees of at most so many tokens; brackets that nothing closes end with the text. Raises TooDeep."""
    stack: list[tuple[str, str, list[Tree]]] = [("", "", [])]
    lead = ""
    for match in _tokens(text, most):
        kind, found = match.lastgroup or "", match[0]
        if kind in ("space", "comment"):
            lead += found
        elif found in CLOSING and kind == "sign":
            if len(stack) > deepest:
                raise TooDeep
            stack.append((lead, found, []))
            lead = ""
        elif kind == "sign" and len(stack) > 1 and found == CLOSING[stack[-1][1]]:
            before, opening, inside = stack.pop()
            stack[-1][2].append(Group(before, opening, tuple(inside), lead))
            lead = ""
        else:
            stack[-1][2].append(Token(lead, found, kind))
            lead = ""
    while len(stack) > 1:
        before, opening, inside = stack.pop()
        stack[-1][2].append(Group(before, opening, tuple(inside)))
    return tuple(stack[0][2])


def _tokens(text: str, most: int) -> Iterator[re.Match[str]]:
    for count, match in enumerate(_TOKEN.finditer(text)):
        if count > most:
            return
        yield match


def text_of(trees: tuple[Tree, ...]) -> str:
    """Tokens as they are written, with what stands between them."""
    return "".join(tree.lead + tree.text for tree in trees)


def with_doc_attributes(trees: tuple[Tree, ...]) -> tuple[Tree, ...]:
    """Comments that document, as the attributes that they stand for (The Rust Reference, "Doc comments")."""
    found: list[Tree] = []
    for tree in trees:
        if isinstance(tree, Group):
            found.append(Group(tree.lead, tree.opening, with_doc_attributes(tree.inside), tree.tail))
        elif tree.kind == "doc":
            said = tree.text[3:].removesuffix("*/") if tree.text.startswith("/**") else tree.text[3:]
            value = Token(" ", f'r###"{said}"###', "string")
            inside = (Token("", "doc", "word"), Token(" ", "=", "sign"), value)
            found += [Token(tree.lead, "#", "sign"), Group("", "[", inside)]
        else:
            found.append(tree)
    return tuple(found)
