"""What a call of a macro stands for, where the same file declares the macro. Source: The Rust Reference,
"Macros by example"."""

from __future__ import annotations

from dataclasses import dataclass

from zarbek.core.sources.languages.rust.tokens import (
    CLOSING,
    Group,
    Token,
    TooDeep,
    Tree,
    parse_tokens,
    text_of,
    with_doc_attributes,
)

_MOST_TOKENS = 20_000
#: Of one file: what its macros write, and how many of their calls are looked at.
_MOST_CHARS, _MOST_CALLS = 2**21, 1000
_OPERATORS = frozenset("*+?")
#: What ends a fragment, as the language lets it be followed ("Follow-set ambiguity restrictions").
_ENDS = {
    "ty": frozenset({",", "=>", ":", "=", ">", ";", "|", "as", "where"}),
    "path": frozenset({",", "=>", ":", "=", ">", ";", "|", "as", "where"}),
    "expr": frozenset({"=>", ",", ";"}),
    "stmt": frozenset({"=>", ",", ";"}),
    "pat": frozenset({"=>", ",", "=", "|", "if", "in"}),
    "meta": frozenset({","}),
}  # fmt: skip
_BEFORE_TYPE = frozenset({"&", "*", "mut", "const", "<", "dyn", "impl", "->", "+", "!"})


@dataclass(frozen=True, slots=True)
class _Variable:
    name: str
    fragment: str


@dataclass(frozen=True, slots=True)
class _Repeated:
    """inside: of a pattern, or trees of what is written. separator: empty for none."""

    inside: tuple[object, ...]
    separator: str
    operator: str


#: A name to its text, or to what it is in each turn of a repetition.
Bindings = dict[str, "str | list[Bindings]"]
_Rule = tuple[tuple[object, ...], tuple[Tree, ...]]


class Macros:
    """The macros of one file, by name. Bounded: what writes too much writes nothing."""

    def __init__(self) -> None:
        self._rules: dict[str, list[_Rule]] = {}
        self._left, self._calls = _MOST_CHARS, _MOST_CALLS

    def declare(self, name: str, rules: list[tuple[str, str]]) -> None:
        """rules: what is matched and what is written, each with its brackets."""
        found = []
        for left, right in rules:
            pattern, body = _inside(left), _inside(right)
            if pattern is not None and body is not None:
                found.append((_pattern(pattern), body))
        self._rules[name] = found

    def expand(self, name: str, arguments: str) -> str:
        """What a call with arguments, their brackets included, writes; empty where that cannot be told."""
        self._calls -= 1
        given = _inside(arguments) if name in self._rules and self._calls >= 0 else None
        if given is None:
            return ""
        given = with_doc_attributes(given)
        for pattern, body in self._rules[name]:
            bound: Bindings = {}
            if _match(pattern, given, 0, bound) == len(given):
                out = _Written(self._left)
                if not _write(body, [bound], out) or out.is_too_much:
                    return ""
                text = out.text()
                self._left -= len(text)
                return text
        return ""


def _inside(text: str) -> tuple[Tree, ...] | None:
    try:
        trees = parse_tokens(text.strip(), most=_MOST_TOKENS)
    except TooDeep:
        return None
    return trees[0].inside if len(trees) == 1 and isinstance(trees[0], Group) else None


def _pattern(trees: tuple[Tree, ...]) -> tuple[object, ...]:
    found: list[object] = []
    at = 0
    while at < len(trees):
        tree, after = trees[at], trees[at + 1] if at + 1 < len(trees) else None
        if tree.text == "$" and isinstance(after, Group):
            repeated, at = _repetition(_pattern(after.inside), trees, at + 2)
            found.append(repeated)
            continue
        if tree.text == "$" and at + 3 < len(trees) and trees[at + 2].text == ":":
            found.append(_Variable(trees[at + 1].text, trees[at + 3].text))
            at += 4
            continue
        found.append((tree.opening, _pattern(tree.inside)) if isinstance(tree, Group) else tree.text)
        at += 1
    return tuple(found)


def _repetition(inside: tuple[object, ...], trees: tuple[Tree, ...], at: int) -> tuple[_Repeated, int]:
    """What follows the brackets of a repetition: a separator, if any, and how often."""
    separator = ""
    if at < len(trees) and trees[at].text not in _OPERATORS:
        separator, at = trees[at].text, at + 1
    operator = trees[at].text if at < len(trees) else "*"
    return _Repeated(inside, separator, operator), at + 1


def _match(pattern: tuple[object, ...], trees: tuple[Tree, ...], at: int, bound: Bindings) -> int:
    """Where the pattern ends among the trees, or -1. Names are put into bound."""
    for part in pattern:
        if isinstance(part, _Repeated):
            at = _match_repeated(part, trees, at, bound)
        elif isinstance(part, _Variable):
            end = _fragment_end(part.fragment, trees, at)
            if end >= 0:
                bound[part.name] = text_of(trees[at:end]).strip()
            at = end
        elif at >= len(trees):
            return -1
        elif isinstance(part, tuple):
            at = at + 1 if _is_group(part, trees[at], bound) else -1
        else:
            at = at + 1 if trees[at].text == part else -1
        if at < 0:
            return -1
    return at


def _is_group(part: tuple[str, tuple[object, ...]], tree: Tree, bound: Bindings) -> bool:
    opening, inside = part
    if not isinstance(tree, Group) or tree.opening != opening:
        return False
    return _match(inside, tree.inside, 0, bound) == len(tree.inside)


def _match_repeated(part: _Repeated, trees: tuple[Tree, ...], at: int, bound: Bindings) -> int:
    turns: list[Bindings] = []
    while at < len(trees):
        start = at
        if turns and part.separator:
            if trees[at].text != part.separator:
                break
            start += 1
        turn: Bindings = {}
        end = _match(part.inside, trees, start, turn)
        if end <= start:
            break
        turns.append(turn)
        at = end
        if part.operator == "?":
            break
    for name in _names(part.inside):
        bound[name] = turns
    return at if turns or part.operator != "+" else -1


def _names(pattern: tuple[object, ...]) -> list[str]:
    found: list[str] = []
    for part in pattern:
        if isinstance(part, _Variable):
            found.append(part.name)
        elif isinstance(part, _Repeated):
            found += _names(part.inside)
        elif isinstance(part, tuple):
            found += _names(part[1])
    return found


def _fragment_end(fragment: str, trees: tuple[Tree, ...], at: int) -> int:
    """Where a fragment of a kind that begins at a place ends, or -1 where there is none."""
    tree = trees[at] if at < len(trees) else None
    if fragment == "vis":
        if tree is None or tree.text != "pub":
            return at
        after = trees[at + 1] if at + 1 < len(trees) else None
        return at + 2 if isinstance(after, Group) and after.opening == "(" else at + 1
    if tree is None:
        return -1
    if fragment == "tt":
        return at + 1
    if fragment == "block":
        return at + 1 if isinstance(tree, Group) and tree.opening == "{" else -1
    if fragment in ("ident", "lifetime", "literal"):
        return _single_end(fragment, trees, at)
    if fragment == "item":
        return _item_end(trees, at)
    return _open_end(fragment, trees, at)


def _single_end(fragment: str, trees: tuple[Tree, ...], at: int) -> int:
    tree = trees[at]
    if isinstance(tree, Group):
        return -1
    if fragment == "ident":
        return at + 1 if tree.kind == "word" and not tree.text[0].isdigit() else -1
    if fragment == "lifetime":
        return at + 1 if tree.kind == "lifetime" else -1
    return _literal_end(trees, at + 1 if tree.text == "-" and at + 1 < len(trees) else at)


def _literal_end(trees: tuple[Tree, ...], start: int) -> int:
    """A number with a fraction is three tokens here."""
    found = trees[start]
    if not isinstance(found, Token):
        return -1
    if found.kind not in ("string", "char") and not found.text[0].isdigit() and found.text not in ("true", "false"):
        return -1
    is_fraction = start + 2 < len(trees) and trees[start + 1].text == "." and trees[start + 2].text[:1].isdigit()
    return start + 3 if is_fraction else start + 1


def _item_end(trees: tuple[Tree, ...], at: int) -> int:
    for end in range(at, len(trees)):
        tree = trees[end]
        if tree.text == ";" or (isinstance(tree, Group) and tree.opening == "{"):
            return end + 1
    return -1


def _open_end(fragment: str, trees: tuple[Tree, ...], at: int) -> int:
    ends = _ENDS.get(fragment, frozenset({","}))
    is_type = fragment in ("ty", "path")
    depth = 0
    for end in range(at, len(trees)):
        tree = trees[end]
        if is_type and tree.text in "<>" and tree.text:
            depth += 1 if tree.text == "<" else -1
            if depth < 0:
                return end if end > at else -1
            continue
        if depth == 0 and tree.text in ends:
            return end if end > at else -1
        if is_type and depth == 0 and end > at and _is_after_type(trees[end - 1], tree):
            return end
    return len(trees)


def _is_after_type(before: Tree, tree: Tree) -> bool:
    """Whether a block or bracket follows a type that has ended."""
    if not isinstance(tree, Group) or tree.opening not in "{[":
        return False
    is_part = before.text in _BEFORE_TYPE or (isinstance(before, Token) and before.kind == "lifetime")
    return not is_part or tree.text.startswith("{")


class _Written:
    """What a macro has written so far, which may have so many characters."""

    def __init__(self, most: int) -> None:
        self._parts: list[str] = []
        self._left = most

    def add(self, *parts: str) -> None:
        """Go on with these."""
        self._parts += parts
        self._left -= sum(map(len, parts))

    @property
    def is_too_much(self) -> bool:
        """Whether it is longer, or of more parts, than anybody needs."""
        return self._left < 0 or len(self._parts) > 2 * _MOST_TOKENS

    def text(self) -> str:
        """All of it."""
        return "".join(self._parts)


def _write(body: tuple[Tree, ...], scopes: list[Bindings], out: _Written) -> bool:
    """Append what a body writes; False where it is too much, or a name means nothing."""
    at = 0
    while at < len(body):
        tree, after = body[at], body[at + 1] if at + 1 < len(body) else None
        if out.is_too_much:
            return False
        if tree.text == "$" and isinstance(after, Group):
            repeated, at = _repetition(after.inside, body, at + 2)
            out.add(tree.lead)
            if not _write_repeated(repeated, scopes, out):
                return False
            continue
        if tree.text == "$" and after is not None:
            value = "crate" if after.text == "crate" else _value(after.text, scopes)
            if value is None:
                return False
            out.add(tree.lead, value)
            at += 2
            continue
        if isinstance(tree, Group):
            out.add(tree.lead, tree.opening)
            if not _write(tree.inside, scopes, out):
                return False
            out.add(tree.tail, CLOSING[tree.opening])
        else:
            out.add(tree.lead, tree.text)
        at += 1
    return True


def _write_repeated(part: _Repeated, scopes: list[Bindings], out: _Written) -> bool:
    body: tuple[Tree, ...] = part.inside  # type: ignore[assignment]
    turns = next((found for name in _references(body) if isinstance(found := _bound(name, scopes), list)), None)
    if turns is None:
        return False
    for number, turn in enumerate(turns):
        if number and part.separator:
            out.add(part.separator)
        if not _write(body, [*scopes, turn], out):
            return False
    return True


def _references(body: tuple[Tree, ...]) -> list[str]:
    found: list[str] = []
    for at, tree in enumerate(body):
        if isinstance(tree, Group):
            found += _references(tree.inside)
        elif at and body[at - 1].text == "$":
            found.append(tree.text)
    return found


def _bound(name: str, scopes: list[Bindings]) -> str | list[Bindings] | None:
    return next((scope[name] for scope in reversed(scopes) if name in scope), None)


def _value(name: str, scopes: list[Bindings]) -> str | None:
    found = _bound(name, scopes)
    return found if isinstance(found, str) else None
