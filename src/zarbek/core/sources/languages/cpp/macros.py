"""Macros that hide declarations from the grammar: recognised, and blanked with equal length.

A file is read without its included files, so a macro that opens a namespace, marks a symbol
for export or stands for an attribute would make the grammar misread what follows.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterable
from dataclasses import dataclass
from functools import lru_cache

from zarbek.core.sources.languages.cpp.unknown_forms import without_unknown
from zarbek.core.sources.languages.preprocessor import blanked, first_branches

_DEFINE = re.compile(r"^[ \t]*#[ \t]*define[ \t]+(\w+)(\([^)]*\))?[ \t]*((?:[^\n\\]|\\\n|\\.)*)", re.MULTILINE)
_TEMPLATE = re.compile(r"template\s*<[^;{}]*>\Z", re.DOTALL)
_HARMLESS = re.compile(
    r"(?:__attribute__\s*\(\(.*\)\)|__declspec\s*\(.*\)|\[\[.*\]\]|_Pragma\s*\(.*\)|__pragma\s*\(.*\)|alignas\s*\(.*\)|"
    r"(?:\bnoexcept|\bthrow)\s*\([^()]*\)|"
    r"\b(?:inline|constexpr|noexcept|const|static|extern|volatile|virtual|override|final|__inline__|__inline|restrict|"
    r"__restrict|__cdecl|__stdcall|__fastcall|__forceinline|explicit|thread_local|_Noreturn|typename|template)\b|"
    r"extern\s+\"C\"(?:\+\+)?\s*\{|\}|\s|;)*\Z",
    re.DOTALL,
)
_NAMESPACE = re.compile(
    r"(?:inline\s+)?namespace\s+([\w:]+)\s*\{\s*(?:(inline\s+)?namespace\s+(\w+)(?:\s*\([^{}]*\))?\s*\{\s*)?\Z"
)
_COMMENT = re.compile(r"/\*.*?\*/|//[^\n]*", re.DOTALL)
#: Names that say what they are, though the project does not define them.
_TELLING = re.compile(
    rb"\b(?:_?[A-Z][A-Z0-9_]*_(?:API|EXPORTS?|IMPORT|PUBLIC|PRIVATE|DLL|DECL|EXTERN|CALL|CDECL|VISIBLE|HIDDEN|BEGIN_DECLS|"
    rb"END_DECLS|ALWAYS_INLINE|FORCE_INLINE|STRONG_INLINE|INLINE|DEVICE_FUNC|NODISCARD|NOEXCEPT(?:_IF)?|NORETURN|CONSTEXPR|"
    rb"WARN_UNUSED_RESULT|PURE|CONST|MALLOC|NONNULL|DEPRECATED\w*|AVAILABLE\w*|UNAVAILABLE\w*)|"
    rb"(?:G|GLIB|GIO|GOBJECT)_[A-Z0-9_]*(?:BEGIN_DECLS|END_DECLS|EXTERN|AVAILABLE_\w+|DEPRECATED\w*|GNUC_\w+)|"
    rb"Q_OBJECT|Q_GADGET|__host__|__device__|__global__|__forceinline|__extension__|__inline__?|__restrict(?:__)?)\b"
)
_BEFORE_NAME = re.compile(
    rb"\b(class|struct|union|enum(?:[ \t]+class)?)[ \t]+([A-Z][A-Z0-9_]{2,})(?=[ \t]+[A-Za-z_]\w*\s*(?:final\s*)?[:{<])"
)
_CALLED = rb"\((?:[^(){};#]|\((?:[^(){};#]|\((?:[^(){};#]|\([^(){};#]*\))*\))*\))*\)"
_ALONE = re.compile(rb"^[ \t]*([A-Z][A-Z0-9_]{2,})(" + _CALLED + rb")?[ \t]*(?=$|//)", re.MULTILINE)
_ARGUMENTS = re.compile(rb"[ \t]*\((?:[^()\"]|\"(?:[^\"\\]|\\.)*\"|\([^()]*\))*\)")
_ATTRIBUTE = re.compile(
    rb"\b__attribute__\s*\(\((?:[^()]|\((?:[^()]|\([^()]*\))*\))*\)\)|\b(?:__declspec|__launch_bounds__)\s*\([^()]*(?:\([^()]*\))?\)"
)
_DIRECTIVE = re.compile(rb"^[ \t]*#[ \t]*(if|ifdef|ifndef|elif|else|endif)\b(?:[^\n\\]|\\\n|\\.)*", re.MULTILINE)
#: Signs after which a directive stands between declarations and not inside one.
_COMPLETE = frozenset(b";}{:/\n")


@dataclass(frozen=True, slots=True)
class Macros:
    """blank: names to blank. calls: of those, the ones that take arguments. opens: name to the namespace that it opens.
    closes: names that close one."""

    blank: frozenset[str] = frozenset()
    calls: frozenset[str] = frozenset()
    opens: tuple[tuple[str, str], ...] = ()
    closes: frozenset[str] = frozenset()
    #: Macro to the number of the argument that names the class that it declares.
    declares: tuple[tuple[str, int], ...] = ()
    #: Macros whose argument is the type of what they declare: ``EXTERN(int) f(void);``.
    wraps: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True)
class Prepared:
    """data: what the grammar is given; shown: the text without macros, for people. Both have the
    original's length. regions: (start, end, namespace) in bytes."""

    data: bytes
    shown: bytes
    regions: tuple[tuple[int, int, str], ...] = ()


def collect_macros(files: Iterable[str], read: Callable[[str], str]) -> list[str]:
    """``NAME``, ``NAME()`` or ``NAME=text`` of the macros of a project's files that hide declarations, sorted."""
    found: dict[str, str] = {}
    others: dict[str, str] = {}
    for text in map(read, files):
        for match in _DEFINE.finditer(text) if "define" in text else ():
            body = _COMMENT.sub(" ", match[3]).replace("\\\n", " ").strip()
            _collect(match[1], match[2] or "", body, found, others)
    _follow(others, found)
    return sorted(f"{name}={body}" if body else name for name, body in found.items())


def _collect(name: str, parameters: str, body: str, found: dict[str, str], others: dict[str, str]) -> None:
    """What one definition hides goes to found; what may be another name of a macro, to others."""
    declared = _declared_argument(parameters, body)
    if declared is not None:
        found[f"{name}({declared})"] = "class"
    elif parameters and body and not _HARMLESS.match(body):
        if _is_wrap(parameters, body):
            found[name] = "type"
    elif _NAMESPACE.match(body):
        found[name] = body
    elif re.fullmatch(r"\}(?:\s*\})?", body):
        found[name] = "}"
    elif _is_mark(name) and (_HARMLESS.match(body) or _TEMPLATE.match(body)):
        found.setdefault(f"{name}()" if parameters else name, "")
    elif not parameters and name.isupper() and re.fullmatch(r"[A-Z_][A-Z0-9_ ]+", body):
        others[name] = body


def _is_mark(name: str) -> bool:
    """Whether a macro's name is that of a mark, not of a guard against reading a header twice."""
    return name.isupper() and len(name) > 2 and not name.endswith(("_H", "_H_", "_HPP", "_INCLUDED"))


def _follow(others: dict[str, str], found: dict[str, str]) -> None:
    """Macros that are other names of what is known to mark nothing but attributes."""
    for _ in range(_CHAIN):
        marks = {name for name, body in others.items() if all(found.get(w) == "" for w in body.split())}
        if not marks - found.keys():
            return
        found.update(dict.fromkeys(marks, ""))


_CHAIN = 4
#: A macro called on a line of its own.
_CALL = re.compile(rb"^[ \t]*[A-Z][A-Z0-9]*_[A-Z0-9_]+[ \t]*\(([^;{}()#]*)\)", re.MULTILINE)
_WORD = re.compile(rb"\b[A-Za-z_]\w{2,}\b")
_MOST_WORDS = 2000


def words_of_calls(data: bytes) -> list[str]:
    """Words that are handed to macros on lines of their own, sorted: names that these may declare."""
    words = {word for call in _CALL.finditer(data) for word in _WORD.findall(call[1])}
    return sorted(word.decode() for word in words)[:_MOST_WORDS]


def _declared_argument(parameters: str, body: str) -> int | None:
    """The number of the parameter that a macro's text declares as a class, or None."""
    match = re.search(r"\b(?:class|struct)\s+(\w+)\s*(?:final\s*)?[:{]", body) if parameters else None
    names = re.findall(r"\w+", parameters)
    return names.index(match[1]) if match and match[1] in names else None


def _is_wrap(parameters: str, body: str) -> bool:
    """Whether a macro of one parameter is that parameter with marks around it."""
    name = parameters.strip("() \t")
    return bool(
        name.isidentifier() and re.search(rf"\b{name}\b", body) and _HARMLESS.match(re.sub(rf"\b{name}\b", "", body))
    )


@lru_cache(maxsize=4)
def parse_macros(declared: tuple[str, ...]) -> Macros:
    """The macros of a list as collect_macros and the project file give it."""
    blank, calls = set[str](), set[str]()
    closes: set[str] = set()
    wraps: set[str] = set()
    opens: list[tuple[str, str]] = []
    declares: list[tuple[str, int]] = []
    for entry in declared:
        name, _, body = entry.partition("=")
        numbered = re.fullmatch(r"(\w+)\((\d+)\)", name)
        if numbered:
            declares.append((numbered[1], int(numbered[2])))
            continue
        opened = _NAMESPACE.match(body.strip()) if body else None
        if name.endswith("()"):
            blank.add(name[:-2])
            calls.add(name[:-2])
        elif opened:
            # What is in an inline namespace is named without it (C++20, [namespace.def]).
            opens.append((name, opened[1] + (f"::{opened[3]}" if opened[3] and not opened[2] else "")))
        elif body.strip().startswith("}"):
            closes.add(name)
        elif body == "type":
            wraps.add(name)
        else:
            blank.add(name)
    return Macros(
        frozenset(blank), frozenset(calls), tuple(opens), frozenset(closes), tuple(declares), frozenset(wraps)
    )


def prepare(data: bytes, macros: Macros) -> Prepared:
    """The text without what the grammar stumbles over. Offsets and lines stay."""
    if b"#" in data:
        data = first_branches(
            data, _DIRECTIVE, lambda start, end: _is_inside(data, start) or _has_heads(data, start, end)
        )
    regions, data = _take_namespaces(data, macros)
    if macros.declares:
        data = _as_classes(data, dict(macros.declares))
    if macros.blank:
        data = _blank_known(data, macros)
    data = _blank_telling(data, macros.wraps)
    data = _BEFORE_NAME.sub(lambda m: m[1] + b" " * (len(m[0]) - len(m[1])), data)
    if b"__" in data:
        data = _ATTRIBUTE.sub(_blanked_outside_directives(data), data)
    data = _blank_alone(data)
    return Prepared(without_unknown(data), data, tuple(regions))


#: A macro called as a statement, on a line of its own.
_STATEMENT = re.compile(rb"^[ \t]*[A-Z][A-Z0-9]*_[A-Z0-9_]+[ \t]*\([^\n]*\)[ \t]*+(?:;[ \t]*+)?(?=//|$)", re.MULTILINE)


def without_failing_calls(data: bytes, rows: Collection[int]) -> bytes:
    """Blank macros that are called between declarations with what no declaration has. rows: the lines, from 0, in which
    the grammar fails."""
    found, at, row = bytearray(data), 0, 0
    for match in _STATEMENT.finditer(data):
        row, at = row + data.count(b"\n", at, match.start()), match.start()
        if row in rows:
            found[match.start() : match.end()] = blanked(match[0])
    return bytes(found)


def _as_classes(data: bytes, declares: dict[str, int]) -> bytes:
    """Calls of macros that declare a class, as that class."""
    names = b"|".join(re.escape(name.encode()) for name in declares)
    out: list[bytes] = []
    at = 0
    for match in re.finditer(rb"^[ \t]*(" + names + rb")\s*\(", data, re.MULTILINE):
        end = _closing(data, match.end() - 1)
        if match.start() < at or end < 0:
            continue
        arguments = data[match.end() : end].split(b",")
        number = declares[match[1].decode()]
        name = arguments[number].strip() if number < len(arguments) else b""
        if not re.fullmatch(rb"[A-Za-z_]\w*", name):
            continue
        start = data.index(name, match.end())
        ends = re.compile(rb"\s*;").match(data, end + 1) is not None
        mark = b"{}" if ends else b"{};"
        start = min(max(start, match.start(1) + 6), end + 1 - len(mark) - len(name))
        if data[start : end + 1].count(b"\n") and data[end + 1 - len(mark) : end + 1].count(b"\n"):
            continue
        if start < match.start(1) + 6:
            continue
        written = bytearray(blanked(data[match.start() : end + 1]))
        for place, text in ((match.start(1), b"class"), (start, name), (end + 1 - len(mark), mark)):
            written[place - match.start() : place - match.start() + len(text)] = text
        out += [data[at : match.start()], bytes(written)]
        at = end + 1
    return b"".join(out) + data[at:]


def _closing(data: bytes, at: int) -> int:
    """Where the round bracket at an offset closes, strings left aside; -1 if it does not."""
    depth = 0
    for match in re.compile(rb"[()]|\"(?:[^\"\\\n]|\\.)*\"|'(?:[^'\\]|\\.)'").finditer(data, at, at + 8000):
        if match[0] == b"(":
            depth += 1
        elif match[0] == b")":
            depth -= 1
            if depth == 0:
                return match.start()
    return -1


def _blanked_outside_directives(data: bytes) -> Callable[[re.Match[bytes]], bytes]:
    def blank(match: re.Match[bytes]) -> bytes:
        return match[0] if _is_directive(data, match.start()) else blanked(match[0])

    return blank


def _is_directive(data: bytes, at: int) -> bool:
    line = data[data.rfind(b"\n", 0, at) + 1 : at].lstrip()
    return line.startswith(b"#")


#: Names of macros that take arguments, wherever they are defined.
_WITH_ARGUMENTS = re.compile(
    rb"DEPRECATED|ATTRIBUTE|ALIGN|FORMAT|PRINTF|NONNULL|ALLOC|GNUC|SENTINEL|CLEANUP|CONCEPT|REQUIRES"
)


def _blank_known(data: bytes, macros: Macros) -> bytes:
    """Blank macros that the project defines, with the arguments of those that take some."""
    out: list[bytes] = []
    at = 0
    for match in re.finditer(rb"\b[A-Z_][A-Z0-9_]{2,}\b", data):
        name = match[0].decode()
        if match.start() < at or name not in macros.blank or _is_directive(data, match.start()):
            continue
        end = match.end()
        arguments = _ARGUMENTS.match(data, end)
        if arguments and (name in macros.calls or _WITH_ARGUMENTS.search(match[0])):
            end = arguments.end()
        out += [data[at : match.start()], blanked(data[match.start() : end])]
        at = end
    return b"".join(out) + data[at:]


#: Names of macros whose argument is the type of what they mark.
_WRAPPING = re.compile(rb"(?:API|EXPORTS?|IMPORT|PUBLIC|DLL|DECL|EXTERN|CALL|CDECL|VISIBLE)\Z")


def _blank_telling(data: bytes, wraps: frozenset[str]) -> bytes:
    """Blank macros whose names say what they are, with their arguments; a type that is one stays."""
    pattern = _TELLING
    if wraps:
        names = b"|".join(re.escape(name.encode()) for name in sorted(wraps))
        pattern = re.compile(rb"(?:" + _TELLING.pattern + rb")|\b(?:" + names + rb")\b(?=[ \t]*\()")
    out: list[bytes] = []
    at = 0
    for match in pattern.finditer(data):
        if match.start() < at or _is_directive(data, match.start()):
            continue
        end, kept = match.end(), b""
        arguments = _ARGUMENTS.match(data, end)
        if arguments:
            end = arguments.end()
            if _WRAPPING.search(match[0]) or match[0].decode() in wraps:
                kept = b" " + arguments[0].strip()[1:-1] + b" "
        blank = blanked(data[match.start() : end - len(kept)])
        out += [data[at : match.start()], blank, kept]
        at = end
    return b"".join(out) + data[at:]


#: So much before and after a macro tells whether it stands alone.
_BEFORE, _FOLLOWING = 2_000, 200


def _blank_alone(data: bytes) -> bytes:
    """Blank macros that stand on lines of their own between declarations."""
    found = bytearray(data)
    for match in _ALONE.finditer(data):
        before = bytes(found[max(match.start() - _BEFORE, 0) : match.start()]).rstrip()
        after = data[match.end() : match.end() + _FOLLOWING].lstrip()
        if _is_alone(before, after, is_call=match[2] is not None):
            found[match.start() : match.end()] = blanked(match[0])
    return bytes(found)


def _is_alone(before: bytes, after: bytes, *, is_call: bool) -> bool:
    if before[-1:] in (b",", b"=", b"(", b"|", b"+", b"\\", b"<") or after[:1] in (b"{", b",", b"=", b"(", b"|", b":"):
        return False
    if after[:1] == b"}" and before[-1:] not in (b";", b"}", b":") and not (is_call and before[-1:] == b"{"):
        return False  # It may be the last value of an enumeration.
    return before[-1:] in _AFTER or _last_line(before).startswith((b"#", b"//"))


def _last_line(text: bytes) -> bytes:
    """With the lines that go on in it."""
    at = text.rfind(b"\n")
    while at > 0 and text[at - 1 : at] == b"\\":
        at = text.rfind(b"\n", 0, at)
    return text[at + 1 :].lstrip()


_AFTER = (b";", b"}", b"{", b":", b"/", b"")


def _take_namespaces(data: bytes, macros: Macros) -> tuple[list[tuple[int, int, str]], bytes]:
    """Blank macros that open and close namespaces; what each pair encloses."""
    regions: list[tuple[int, int, str]] = []
    if not macros.opens:
        return regions, data
    opened = {name.encode(): namespace for name, namespace in macros.opens}
    names = b"|".join(re.escape(n) for n in (*opened, *(c.encode() for c in macros.closes)))
    stack: list[tuple[int, str]] = []
    for match in re.finditer(rb"\b(" + names + rb")\b", data):
        if _is_directive(data, match.start()):
            continue
        if match[1] in opened:
            stack.append((match.end(), opened[match[1]]))
        elif stack:
            start, namespace = stack.pop()
            regions.append((start, match.start(), namespace))
        else:
            continue
        data = data[: match.start()] + b" " * len(match[0]) + data[match.end() :]
    regions += [(start, len(data), namespace) for start, namespace in stack]
    return regions, data


_LINE_COMMENTS = re.compile(rb"(?:[\s;{}(),]//[^\n]*(?:\n\s*|\Z))+\Z")
_HEAD = re.compile(rb"\btemplate\s*<[^;{}]*>\s*\Z")


_BODY = re.compile(rb"\s*\{")


def _has_heads(data: bytes, start: int, end: int) -> bool:
    """Whether a condition chooses between the heads of one body."""
    return _BODY.match(data, end) is not None and data.find(b"{", start, end) < 0


def _is_inside(data: bytes, at: int) -> bool:
    """Whether a directive stands within a declaration or statement."""
    before = _LINE_COMMENTS.sub(b"", data[max(at - 400, 0) : at].rstrip()).rstrip()
    if _HEAD.search(before):
        return True  # What a template is of is still to come.
    if not before or before[-1] in _COMPLETE:
        return False
    last = before[before.rfind(b"\n") + 1 :].lstrip()
    return not last.startswith((b"#", b"*"))
