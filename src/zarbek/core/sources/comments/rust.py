"""Rust's documentation comments. Sources: The Rust Reference, "Doc comments"; RFC 1946 (links to items by name);
CommonMark 0.31, sections 4.7 and 6.3 (reference definitions and links)."""

from __future__ import annotations

import re

from zarbek.core.model.doc_text import Doc, Section
from zarbek.core.model.mention import address_of
from zarbek.core.sources.markup.inline import MentionSink
from zarbek.core.sources.markup.markdown import indented_code

_PATH = re.compile(
    r"(?P<kind>[a-z]+@)?&?(?P<name>(?:::)?(?:\$?[A-Za-z_]\w*)(?:::[A-Za-z_]\w*)*)(?P<generics><.*>)?"
    r"(?:::(?P<assoc>[A-Za-z_]\w*))?(?P<mark>\(\)|!\(\)|!\[\]|!\{\}|!)?\Z"
)
_ROLES = {
    "struct": "class", "enum": "class", "trait": "class", "union": "class", "type": "type", "tyalias": "type",
    "mod": "module", "module": "module", "fn": "call", "function": "call", "method": "call", "const": "data",
    "constant": "data", "static": "data", "value": "value", "macro": "macro", "derive": "macro", "attr": "macro",
    "prim": "primitive", "primitive": "primitive", "field": "data", "variant": "data",
}  # fmt: skip
#: Parts of a page that stand for members (RFC 1946).
_ANCHOR = re.compile(r"(?:method|tymethod|variant|structfield|associatedconstant|associatedtype)\.(\w+)$")
_DEFINITION = re.compile(r"^ {0,3}\[([^\]]+)\]:\s*(\S+)(?:\s+(?:\"[^\"]*\"|'[^']*'|\([^)]*\)))?\s*$")
_FENCE = re.compile(r" {0,3}(`{3,}|~{3,})\s*([^`]*)")
_INLINE = re.compile(
    r"(?P<escape>\\.)"
    r"|(?<!`)(?P<ticks>`++)(?P<code>.+?)(?<!`)(?P=ticks)(?!`)"
    r"|!?\[(?P<label>(?:[^\[\]`\\]|\\.|`[^`]*`|\[[^\[\]]*\])*)\]"
    r"(?:\((?P<target><[^>]*>|[^()\s]*(?:\([^()]*\)[^()\s]*)*)(?:\s+\"[^\"]*\")?\)|\[(?P<reference>[^\]]*)\])?"
    r"|(?P<url>\bhttps?://[^\s<>\"'`\])]*[^\s<>\"'`\]).,;:!?])",
    re.DOTALL,
)
_HEADING = re.compile(r"#{1,2} +(.+?)\s*#*$")
_SECTIONS = {"examples": "examples", "example": "examples"}
_CODE_LANGUAGES = frozenset(
    "ignore no_run should_panic compile_fail edition2015 edition2018 edition2021 edition2024".split()
)


def read_rust_comment(lines: list[str], line: int, sink: MentionSink, *, outward: bool = False) -> Doc:
    """The structure of one documentation text. outward: names are those of the enclosing module."""
    text = _Converter(lines, line, sink, outward).read()
    return _structured(text, line)


def _structured(text: str, line: int) -> Doc:
    parts: list[tuple[str, list[str]]] = [("", [])]
    fence = ""
    for row in text.split("\n"):
        opened = _FENCE.match(row)
        if opened and (not fence or opened[1].startswith(fence)):
            fence = "" if fence else opened[1]
        heading = None if fence else _HEADING.match(row)
        if heading and not row.startswith("##"):
            parts.append((heading[1], []))
        else:
            parts[-1][1].append(row)
    summary, _, body = "\n".join(parts[0][1]).strip().partition("\n\n")
    if summary.startswith(("```", "- ", "* ", "> ", "|", "#")):
        summary, body = "", f"{summary}\n\n{body}".strip()
    sections = [
        Section(
            _SECTIONS.get(title.lower(), "free"), "\n".join(rows).strip(), "" if title.lower() in _SECTIONS else title
        )
        for title, rows in parts[1:]
    ]
    return Doc(summary=" ".join(summary.split()), body=body.strip(), sections=sections, line=line)


class _Converter:
    def __init__(self, lines: list[str], line: int, sink: MentionSink, outward: bool) -> None:
        self.lines, self.line, self.sink, self.outward = lines, line, sink, outward
        self.definitions: dict[str, str] = {}

    def read(self) -> str:
        kept: list[tuple[int, str]] = []
        fence = ""
        code = {self.line + index for index in indented_code(self.lines)}
        for number, text in enumerate(self.lines, start=self.line):
            if number in code and not fence:
                kept.append((0, text))
                continue
            opened = _FENCE.match(text)
            if fence:
                if opened and opened[1].startswith(fence):
                    fence = ""
                elif text.lstrip().startswith("# ") or text.strip() == "#":
                    continue  # Hidden lines of an example begin with a hash.
                elif text.lstrip().startswith("##"):
                    text = text.replace("##", "#", 1)
                kept.append((0, text))
                continue
            if opened:
                fence = opened[1]
                kept.append((0, f"{opened[1]}{_language(opened[2])}"))
                continue
            definition = _DEFINITION.match(text)
            if definition:
                self.definitions.setdefault(_folded(definition[1]), definition[2].strip("<>"))
                continue
            kept.append((number, text))
        return "\n".join(self._converted(kept))

    def _converted(self, kept: list[tuple[int, str]]) -> list[str]:
        """Paragraphs are converted as a whole, for a link may run over lines."""
        out: list[str] = []
        run: list[str] = []
        start = 0
        for number, text in [*kept, (0, "")]:
            if number and text.strip():
                start = start or number
                run.append(text)
                continue
            if run:
                out.append(self._inline("\n".join(run), start))
                run, start = [], 0
            out.append(text)
        return out[:-1]

    def _inline(self, text: str, line: int) -> str:
        if "[" not in text and "://" not in text:
            return text

        def replace(match: re.Match[str]) -> str:
            at = line + text.count("\n", 0, match.start())
            if match["url"]:
                self.sink.add(match["url"], match["url"], "url", at)
                return f"<{match['url']}>"
            if match["label"] is None or match[0].startswith("!"):
                return match[0]
            return self._link(match, at)

        return _INLINE.sub(replace, text)

    def _link(self, match: re.Match[str], line: int) -> str:
        label = match["label"]
        target = match["target"]
        if target is not None:
            target = target.strip("<>")
        elif match["reference"]:
            target = self.definitions.get(_folded(match["reference"]), match["reference"])
        else:
            target = self.definitions.get(_folded(label), label)
        if target.startswith(("http://", "https://")):
            self.sink.add(target, target, "url", line)
            return f"[{label}](<{target}>)"
        bare = target.strip().strip("`").strip()
        place, _, anchor = bare.partition("#")
        part = _ANCHOR.match(anchor)
        path = _PATH.match(f"{place}::{part[1]}" if part and place else place or bare)
        is_defined = match["target"] is not None or bool(match["reference"]) or _folded(label) in self.definitions
        if path is None or not (is_defined or _is_meant(label)):
            if match["target"] is not None or match["reference"] is not None:
                return label  # An address on a page that another tool made.
            return f"\\[{self._inline(label, line)}\\]"
        return self._mention(label, target.strip(), path, line)

    def _mention(self, label: str, target: str, path: re.Match[str], line: int) -> str:
        name = path["name"] + (f"::{path['assoc']}" if path["assoc"] else "")
        role = _ROLES.get((path["kind"] or "").rstrip("@"), "")
        mark = path["mark"] or ""
        if not role:
            role = "call" if mark == "()" else "macro" if mark.startswith("!") else ""
        if self.outward and name.partition("::")[0] not in ("crate", "super", "std", "core", "alloc", "$crate"):
            name = "super" if name == "self" else f"super::{name.removeprefix('self::')}"
        is_sure = "`" in label or "::" in name or not name.islower() or bool(mark) or role != ""
        self.sink.add(target, name, "link" if is_sure else "code", line, role)
        shown = " ".join(re.sub(r"^`([a-z]+@)?", "`", label).split())
        return f"[{shown}]({address_of(name, role)})"


def _is_meant(label: str) -> bool:
    """Whether a bracketed text without an address can be a name."""
    return "`" in label or " " not in label.strip()


def _language(info: str) -> str:
    words = [w for w in re.split(r"[,\s]+", info.strip()) if w and w not in _CODE_LANGUAGES]
    return words[0] if words and words[0] != "rust" else "rust"


def _folded(label: str) -> str:
    return " ".join(label.split()).lower()
