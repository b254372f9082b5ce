"""Known faults, put into real sources: what a text names is renamed, removed, moved or deprecated, what it
documents or leads to is another."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from pathlib import Path

from bench.precision.codeparts import in_code
from zarbek.core.linking.language_profile import family_of
from zarbek.core.linking.link import Link
from zarbek.core.linking.linker import LinkedText
from zarbek.core.linking.targets import TYPE_KINDS
from zarbek.core.model.mention import Mention
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.languages.registry import language_of

#: What makes an element deprecated, written on the line before it.
_MARKS = {
    "python": '@deprecated("Out of use.")', "java": "@Deprecated", "kotlin": '@Deprecated("Out of use.")',
    "csharp": "[Obsolete]", "rust": "#[deprecated]", "cpp": "[[deprecated]]", "c": "__attribute__((deprecated))",
}  # fmt: skip
_MARKED_KINDS = frozenset({"function", "method", "class", "interface", "struct", "enum", "trait", "constructor"})
_NAMED_KINDS = _MARKED_KINDS | {"constant", "type", "macro", "field", "property", "attribute", "variable", "member"}
_CALLED = frozenset({"function", "method"})
#: Elements whose definition alone is renamed: nothing is compiled there.
_INTERFACES = frozenset({"openapi", "jsonschema", "xsd", "wsdl", "asyncapi"})
_PACKAGED = frozenset({"java", "kotlin", "csharp"})
#: Lines above a definition that belong to it.
_ABOVE = re.compile(r"\s*(?:\*|/\*|//|@\w|#\[|\[\w|\*/)")
_WORD = re.compile(r"[A-Za-z]\w{3,}")
LOST = ("dangling/symbol", "stale/moved")


@dataclass(frozen=True, slots=True)
class Fault:
    """kind: what was done. target: what it was done to. file, text: of the place that is wrong now, as written
    there. rules: any of which tells it. words: names that stand for something else since."""

    kind: str
    target: str
    file: str
    text: str
    rules: tuple[str, ...]
    words: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Named:
    """A symbol, with a place in a text of another that clearly names it."""

    symbol: Symbol
    subject: Symbol
    mention: Mention


@dataclass(slots=True)
class Planter:
    """Changes sources below a folder. A file that was changed for one fault stays as it is for the others that
    would cut it."""

    root: Path
    symbols: list[Symbol]
    faults: list[Fault] = field(default_factory=list)
    _bearers: Counter[str] = field(default_factory=Counter)
    _cut: set[str] = field(default_factory=set)
    _subjects: set[str] = field(default_factory=set)
    _targets: set[str] = field(default_factory=set)

    def __post_init__(self) -> None:
        self._bearers.update(s.name for s in self.symbols)

    def plant(self, named: Iterable[Named], most: int) -> None:
        """At most so many faults at symbols, kinds in turn."""
        kinds = ("renamed", "removed", "deprecated", "moved")
        at = 0
        for one in named:
            if len(self.faults) >= most:
                return
            if self._is_free(one):
                for kind in (kinds[at % 4], "renamed"):
                    fault = self._try(kind, one)
                    if fault is not None:
                        self._keep(fault, one)
                        at += 1
                        break

    def plant_parameters(self, most: int) -> None:
        """At most so many faults at documented parameters, renamed and dropped in turn."""
        planted = 0
        for symbol in self.symbols:
            if planted < most and symbol.file not in self._cut and not self._touches(symbol.path):
                fault = self._parameter(symbol, is_dropped=planted % 2 == 1)
                if fault is not None:
                    self.faults.append(fault)
                    self._cut.add(symbol.file)
                    planted += 1

    # One symbol -------------------------------------------------------------------------------

    def _is_free(self, one: Named) -> bool:
        return not (
            one.symbol.path in self._subjects or self._touches(one.subject.path) or self._touches(one.symbol.path)
            or any(s.startswith(one.symbol.path) for s in self._subjects)
        )  # fmt: skip

    def _touches(self, path: str) -> bool:
        return any(path.startswith(target) for target in self._targets)

    def _keep(self, fault: Fault, one: Named) -> None:
        self.faults.append(fault)
        self._subjects.add(one.subject.path)
        self._targets.add(one.symbol.path)

    def _try(self, kind: str, one: Named) -> Fault | None:
        act: Callable[[Named], bool] = {
            "renamed": self._rename, "removed": self._remove, "deprecated": self._deprecate, "moved": self._move,
        }[kind]  # fmt: skip
        if not act(one):
            return None
        symbol = one.symbol
        rules = ("stale/deprecated",) if kind == "deprecated" else LOST
        if symbol.language in _INTERFACES:
            rules = (*rules, "text/breaks-standard")
        words = (symbol.name, *(s.name for s in self.symbols if s.path.startswith(symbol.path)))
        return Fault(kind, symbol.path, one.subject.file, one.mention.text, rules, words)

    def _rename(self, one: Named) -> bool:
        """Everywhere in code; of interfaces where it is defined."""
        symbol = one.symbol
        if symbol.language in _INTERFACES:
            return self._change_line(symbol, rf"\b{re.escape(symbol.name)}\b", f"{symbol.name}Anew")
        self._rename_in_code(symbol, f"{symbol.name}Anew")
        return True

    def _remove(self, one: Named) -> bool:
        symbol = one.symbol
        if symbol.file in self._cut or symbol.kind not in _MARKED_KINDS or symbol.end_line - symbol.line > 200:
            return False
        lines = self._lines(symbol.file)
        if not any(symbol.name in text for text in lines[symbol.line - 1 : symbol.line + 4]):
            return False
        start = symbol.line - 1
        while start and _ABOVE.match(lines[start - 1]) and lines[start - 1].strip():
            start -= 1
        siblings = [s for s in self.symbols if s.parent == symbol.parent and s.file == symbol.file]
        if symbol.language == "python" and len(siblings) < 3:
            return False
        for at in range(start, symbol.end_line):
            lines[at] = ""
        self._write(symbol.file, lines)
        self._cut.add(symbol.file)
        self._rename_in_code(symbol, f"{symbol.name}Gone")
        return True

    def _deprecate(self, one: Named) -> bool:
        symbol = one.symbol
        if symbol.kind not in _MARKED_KINDS or symbol.file in self._cut or symbol.file == one.subject.file:
            return False
        lines = self._lines(symbol.file)
        at = symbol.line - 1
        indent = re.match(r"\s*", lines[at])[0]  # type: ignore[index]
        if symbol.language in _MARKS:
            lines.insert(at, indent + _MARKS[symbol.language])
        elif symbol.language == "go" and at and lines[at - 1].startswith("//"):
            lines[at:at] = ["//", "// Deprecated: Out of use."]
        elif symbol.language in ("typescript", "javascript"):
            end = next((n for n in range(at - 1, max(at - 4, -1), -1) if lines[n].rstrip().endswith("*/")), None)
            if end is None:
                return False
            lines[end] = lines[end].replace("*/", f"\n{indent} * @deprecated Out of use. */")
        else:
            return False
        self._write(symbol.file, lines)
        self._cut.add(symbol.file)
        return True

    def _move(self, one: Named) -> bool:
        """The file with what it holds into another module or package."""
        symbol = one.symbol
        place = self.root / symbol.file
        if symbol.file in self._cut or symbol.file == one.subject.file or symbol.parent != symbol.module:
            return False
        if any(symbol.file == fault.file for fault in self.faults):
            return False
        if symbol.language == "python" and "." in one.mention.name and place.stem in one.mention.name.split("."):
            place.rename(place.with_stem(f"{place.stem}_anew"))
        elif symbol.language in _PACKAGED and symbol.kind in TYPE_KINDS and symbol.module in one.mention.name:
            text = place.read_text(errors="surrogateescape")
            made = re.sub(r"^(\s*(?:package|namespace)\s+[\w.]+)", r"\1.anew", text, count=1, flags=re.MULTILINE)
            if made == text:
                return False
            place.write_text(made, errors="surrogateescape")
        else:
            return False
        self._cut.add(symbol.file)
        self._targets |= {s.path for s in self.symbols if s.file == symbol.file}
        return True

    # Parameters ---------------------------------------------------------------------------------

    def _parameter(self, symbol: Symbol, *, is_dropped: bool) -> Fault | None:
        if symbol.kind not in _CALLED or symbol.doc is None or symbol.visibility != "public" or not symbol.file:
            return None
        if len(symbol.signatures) != 1 or symbol.decorators or symbol.language in _INTERFACES:
            return None
        declared = {p.name for p in symbol.signatures[0].parameters if p.kind == "positional"}
        told = next((d.name for d in symbol.doc.parameters if d.name in declared and len(d.name) > 3), "")
        if not told or self._bearers[symbol.name] > 1:
            return None
        if is_dropped and any(p.kind in ("variadic", "keywords") for p in symbol.signatures[0].parameters):
            return None  # What is told may be among those that it takes.
        lines = self._lines(symbol.file)
        head = "\n".join(lines[symbol.line - 1 : symbol.end_line])
        is_c = symbol.language in ("c", "cpp")
        made = _without(head, symbol.name, told) if is_dropped and not is_c else None
        kind = "parameter dropped" if made is not None else "parameter renamed"
        if made is None:
            pattern = re.compile(rf"(?<![\w.]){re.escape(told)}\b")
            try:
                made = in_code(head, symbol.language, lambda code: pattern.sub(f"{told}Anew", code))
            except SyntaxError:
                return None
        if made == head:
            return None
        lines[symbol.line - 1 : symbol.end_line] = made.split("\n")
        self._write(symbol.file, lines)
        if is_c:
            self._rename_in_declarations(symbol.name, told)
        return Fault(kind, symbol.path, symbol.file, told, ("stale/parameter",), (told,))

    def _rename_in_declarations(self, name: str, parameter: str) -> None:
        """Headers declare what bodies define, and the names of either will do."""
        declared = re.compile(rf"\b{re.escape(name)}\s*\([^;{{}}]*\)")
        own = re.compile(rf"\b{re.escape(parameter)}\b(?!Anew)")
        self._change_code("c", name, lambda code: declared.sub(lambda m: own.sub(f"{parameter}Anew", m[0]), code))

    # Files --------------------------------------------------------------------------------------

    def _rename_in_code(self, symbol: Symbol, name: str) -> None:
        pattern = re.compile(rf"(?<![\w$]){re.escape(symbol.name)}(?![\w$])")
        self._change_code(symbol.language, symbol.name, lambda code: pattern.sub(name, code))

    def _change_code(self, language: str, holding: str, change: Callable[[str], str]) -> None:
        """Of all files in a language of one family that hold a text."""
        for place in sorted(self.root.rglob("*")):
            own = language_of(place.name)
            if own and family_of(own) == family_of(language) and place.is_file():
                text = place.read_text(errors="surrogateescape")
                if holding in text:
                    try:
                        made = in_code(text, own, change)
                    except SyntaxError:
                        continue
                    place.write_text(made, errors="surrogateescape")

    def _change_line(self, symbol: Symbol, pattern: str, name: str) -> bool:
        lines = self._lines(symbol.file)
        for at in range(symbol.line - 1, min(symbol.line + 1, len(lines))):
            made = re.sub(pattern, name, lines[at], count=1)
            if made != lines[at]:
                lines[at] = made
                self._write(symbol.file, lines)
                return True
        return False

    def _lines(self, file: str) -> list[str]:
        return (self.root / file).read_text(errors="surrogateescape").split("\n")

    def _write(self, file: str, lines: list[str]) -> None:
        (self.root / file).write_text("\n".join(lines), errors="surrogateescape")


def _without(head: str, name: str, parameter: str) -> str | None:
    """A function without one of its parameters; None where they cannot be told apart."""
    opened = re.search(rf"\b{re.escape(name)}\s*(?:<[^()]*>|\[[^()]*\])?\s*\(", head)
    if opened is None:
        return None
    depth, start, parts = 1, opened.end(), []
    for at in range(opened.end(), len(head)):
        sign = head[at]
        depth += (sign in "([{<") - (sign in ")]}" or (sign == ">" and head[at - 1] not in "-="))
        if (sign == "," and depth == 1) or depth == 0:
            parts.append((start, at))
            start = at + 1
        if depth == 0:
            break
    else:
        return None
    own = [(a, b) for a, b in parts if re.search(rf"\b{re.escape(parameter)}\b", head[a:b])]
    if len(own) != 1 or len(parts) < 2:
        return None
    (a, b), is_last = own[0], own[0] == parts[-1]
    return head[: a - 1] + head[b:] if is_last else head[:a] + head[b + 1 :]


# What to plant at ---------------------------------------------------------------------------------


def find_named(symbols: list[Symbol], texts: Iterable[LinkedText]) -> list[Named]:
    """Symbols of a release that its own texts name, each with the first such text, in the order of their paths.

    Only names that nothing else bears: another of its name would answer in its place.
    """
    by_path = {s.path: s for s in symbols}
    bearers: dict[str, int] = {}
    for symbol in symbols:
        for name in (symbol.name, *(p.name for s in symbol.signatures for p in s.parameters)):
            bearers[name] = bearers.get(name, 0) + 1
    found: dict[str, Named] = {}
    for text in texts:
        subject = by_path.get(text.path)
        for mention, link in zip(text.mentions, text.links, strict=True):
            target = by_path.get(link.path)
            if target is None or subject is None or bearers[target.name] > 1:
                continue
            if _is_clear(mention, link, target, subject):
                found.setdefault(target.path, Named(target, subject, mention))
    return [found[path] for path in sorted(found)]


def _is_clear(mention: Mention, link: Link, target: Symbol, subject: Symbol) -> bool:
    origins = ("link", "see", "schema", "type") if target.language in _INTERFACES else ("link", "see")
    return (
        mention.origin in origins and link.outcome == "linked" and not link.stale
        and (target.language in _INTERFACES or target.kind in _NAMED_KINDS)
        and subject.visibility == "public" and target.visibility == "public" and bool(_WORD.fullmatch(target.name))
        and not subject.path.startswith(target.path) and not target.path.startswith(subject.path)
        and not {"override", "untold"} & set(target.flags) and bool(target.file) and bool(subject.file) and target.name == re.split(r"[.:#/!]+", mention.name.partition("(")[0].strip("!"))[-1]
        and not (subject.doc is not None and subject.doc.deprecated) and not (target.doc and target.doc.deprecated)
    )  # fmt: skip


def plant_in_pages(root: Path, pages: Iterable[Page], most: int) -> Iterator[Fault]:
    """Headings and files that guides lead to, under other names: anchors and pages in turn."""
    by_path = {p.path: p for p in pages}
    planted, used = 0, set[str]()
    for page in by_path.values():
        for mention in page.mentions:
            target, _, anchor = mention.name.partition("#")
            other = next((p for p in by_path.values() if p.file == target), None)
            if planted >= most or mention.origin != "page" or other is None or other is page or other.path in used:
                continue
            if page.path in used:
                break
            if anchor and planted % 2 == 0:
                heading = next((h for h in other.headings if h.anchor == anchor), None)
                if heading is None or not _retitle(root / other.file, heading.title):
                    continue
                yield Fault("anchor changed", mention.name, page.file, mention.text, ("dangling/anchor",), (anchor,))
            else:
                place = root / other.file
                place.rename(place.with_stem(f"{place.stem}-anew"))
                yield Fault("page moved", mention.name, page.file, mention.text, ("dangling/page",), (place.stem,))
            planted += 1
            used |= {page.path, other.path}


def _retitle(place: Path, title: str) -> bool:
    text = place.read_text(errors="surrogateescape")
    made = re.sub(rf"^(#+\s+).*{re.escape(title)}.*$", r"\1Told anew", text, count=1, flags=re.MULTILINE)
    place.write_text(made, errors="surrogateescape")
    return made != text
