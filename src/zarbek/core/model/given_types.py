"""What type a function gives, as far as members of what it gives can be named by that."""

from __future__ import annotations

import re

from zarbek.core.model.symbol import Symbol

#: Stand in a name for what the function before them gives, for each of several that it gives, and for what ``with``
#: makes of it; members of that follow. Each of a type is what it gives where it is iterated over.
GIVEN, EACH, ENTERED = "__given__", "__each__", "__entered__"
BY_TYPE = frozenset({GIVEN, EACH, ENTERED})
#: Types around the one whose members are meant: what is awaited, pointed to, or may not be there.
_AROUND = re.compile(
    r"(?:\w+(?:\.|::))*(?:Optional|Option|Result|Promise|Task|ValueTask|Awaitable|unique_ptr|shared_ptr|Box|Rc|Arc)"
    r"\s*[<\[](.+)[>\]]"
)
#: Types of several of one kind, and of what is handed out for a time.
_SEVERAL = re.compile(
    r"(?:impl\s+)?(?:\w+(?:\.|::))*(?:Async)?(?:"
    r"Iterator|Iterable|IterableIterator|Generator|(?:Abstract)?(?:Async)?ContextManager|"
    r"[Ll]ist|ArrayList|MutableList|I(?:ReadOnly)?List|[Ss]et|MutableSet|HashSet|BTreeSet|unordered_set|ISet|"
    r"[Ff]rozen[Ss]et|(?:Mutable)?Sequence|I?(?:ReadOnly)?Collection|I(?:Async)?Enumerable|Seq|Stream|Flow|"
    r"(?:Readonly)?[Aa]rray|Vec|vector|VecDeque|[Dd]eque|Queue|span|initializer_list)"
    r"\s*[<\[](?:Item\s*=\s*)?(.+)[>\]][^<>\[\]]*"
)
_ROW = re.compile(
    r"(?:readonly\s+)?([^\[\]]+)\[\]|\[\]([^\[\]]+)|\[([^\[\];]+)(?:;.*)?\]|[Tt]uple\[([^\[\],]+),\s*\.\.\.\]"
)
_NOTHING = re.compile(r"\s*\|\s*(?:None|null|undefined)|(?:None|null|undefined)\s*\|\s*")
_MARKS = re.compile(r"^(?:&(?:'\w+\s+)?|\*|mut\s+|const\s+|\?\s+extends\s+)+|[\s?&*!]+$")
_PLAIN = re.compile(r"[\w$]+(?:(?:\.|::)[\w$]+)*")
_GENERIC = re.compile(r"[<\[(].*")
_GIVING = frozenset({"function", "method", "macro"})
_ITSELF = frozenset({"Self", "typing.Self", "this"})


def given_types(symbol: Symbol) -> tuple[str, str]:
    """The type of what a function gives, and of each where that is several: by name, as it is written where the
    function stands; empty for none, and for what is no class by the customs of its language."""
    if symbol.kind not in _GIVING:
        return "", ""
    if symbol.makes:
        made = _class_of(symbol.makes, symbol)
        return ("", made) if "generator" in symbol.flags else (made, "")
    declared = _declared(symbol)
    inner = element_type(declared)
    return _class_of(_without_marks(declared), symbol), _class_of(inner, symbol) if inner else ""


def name_by_type(name: str, how: str, separator: str = ".") -> str:
    """The name of what is made of what a name stands for; empty for none. how: EACH or ENTERED."""
    return f"{name.removesuffix(f'{separator}{GIVEN}')}{separator}{how}" if name else ""


def _declared(symbol: Symbol) -> str:
    """What a function gives, by its signature, else by its text."""
    returns = symbol.signatures[0].returns if symbol.signatures else ""
    if not returns and symbol.doc is not None and len(symbol.doc.returns) == 1:
        return symbol.doc.returns[0].type
    return returns


def element_type(written: str) -> str:
    """Of a type as it is written, the one of each of several; empty where it is not of several."""
    if "[" not in written and "<" not in written:
        return ""
    text = _without_marks(written)
    if (row := _ROW.fullmatch(text)) is not None:
        return _without_marks(next(filter(None, row.groups())))
    found = _SEVERAL.fullmatch(text)
    return _without_marks(found[1].partition(",")[0]) if found is not None else ""


def _without_marks(written: str) -> str:
    """A type as it is written, without what may stand around it."""
    text = _NOTHING.sub("", written.strip("'\" "))
    if text.startswith("("):  # The first of several (Go).
        text = text[1:].partition(",")[0].rstrip(")")
    text = _MARKS.sub("", text)
    while (inner := _AROUND.fullmatch(text)) is not None:
        text = _MARKS.sub("", inner[1].partition(",")[0].strip("'\" "))
    return text


def _class_of(text: str, symbol: Symbol) -> str:
    if text in _ITSELF:
        return symbol.parent
    name = _GENERIC.sub("", text).strip()
    is_class = any(part[:1].isupper() for part in re.split(r"[.:]+", name))
    return name if is_class and _PLAIN.fullmatch(name) else ""
