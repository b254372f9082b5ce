"""Documentation comments of C and C++: block and line forms, trailing ones, commands with ``@`` or
``\\``, names that stand in the prose."""

from __future__ import annotations

import re
from collections.abc import Callable

import msgspec

from zarbek.core.model.doc_text import Doc
from zarbek.core.model.mention import address_of
from zarbek.core.sources.comments.block_tags import Dialect, TaggedDoc, read_tagged
from zarbek.core.sources.comments.c_name_first import from_named
from zarbek.core.sources.comments.comment_blocks import block_lines, trim
from zarbek.core.sources.markup.inline import MentionSink, code_span

TAGS = {
    "param": "param", "tparam": "tparam", "return": "returns", "returns": "returns", "retval": "returns",
    "result": "returns", "throw": "raises", "throws": "raises", "exception": "raises", "see": "see", "sa": "see",
    "since": "since", "deprecated": "deprecated", "author": "author", "authors": "author", "version": "",
    "note": "note", "remark": "note", "remarks": "note", "warning": "warning", "attention": "warning",
    "pre": "section", "post": "section", "invariant": "section", "todo": "section", "bug": "section", "example": "",
    "par": "section", "date": "", "copyright": "", "internal": "hidden",
}  # fmt: skip
_WORD_COMMANDS = {"p": "code", "c": "code", "a": "em", "e": "em", "em": "em", "b": "strong"}
_DROPPED = re.compile(
    r"^\s*[@\\](?:ingroup|addtogroup|weakgroup|relates(?:also)?|related|nosubgrouping|hideinitializer|showinitializer|"
    r"name|file|class|struct|union|enum|namespace|fn|var|typedef|def|def\w*group|anchor|image|dontinclude|include|"
    r"skip|until|line|skipline|headerfile|package|interface|memberof|callgraph|mainpage|page|subpage|copybrief|copydetails)\b.*$"
)
_SKIPPED = {"dot": "enddot", "msc": "endmsc", "htmlonly": "endhtmlonly", "latexonly": "endlatexonly",
            "startuml": "enduml", "internal": "endinternal", "cond": "endcond"}  # fmt: skip
_CODE = {"code": "endcode", "verbatim": "endverbatim"}
_COMMAND = re.compile(r"^\s*[@\\](\w+)")
#: Tags that may follow text on the line of a comment that has no other.
_LATER = "|".join(
    sorted(
        (t for t, kind in TAGS.items() if kind and kind not in ("author", "section", "hidden")), key=len, reverse=True
    )
)
_LATER_TAG = re.compile(rf"(?<=\S)\s+(?=[@\\](?:{_LATER})\s)")
_INLINE = re.compile(
    r"(?<!`)(?P<ticks>`++)(?P<code>.+?)(?<!`)(?P=ticks)(?!`)"
    r"|[@\\]f\$(?P<formula>.*?)[@\\]f\$|[@\\]f\[(?P<display>.*?)[@\\]f\]"
    r"|(?P<dollars>(?<![\w$\\])\$(?=[^\s$])[^$\n]{0,200}(?<=[^\s\\])\$(?![\w$]))"
    r"|[@\\]link\s+(?P<linked>\S+)\s+(?P<label>(?:(?![@\\]link\b).)*?)[@\\]endlink"
    r"|[@\\](?P<ref>ref|copydoc|subpage)\s+(?P<target>[A-Za-z_~][\w:~.\-]*(?:\([^()\n]*\))?)(?:\s*\"(?P<title>[^\"]*)\")?"
    r"|[@\\](?P<word>p|c|a|e|em|b)\s+(?P<argument>[^\s<>]*[^\s<>.,;:!?])"
    r"|[@\\](?P<other>brief|short|details|n|li|arg|cite|emoji|noop|public|protected|private)\b[ \t]*"
    r"|\[(?P<mdlabel>[^\[\]\n]*)\]\((?P<mdtarget>[^()\s]*)\)"
    r"|(?P<url>\bhttps?://[^\s<>\"'`\])]*[^\s<>\"'`\]).,;:!?])"
    r"|<(?P<close>/?)(?P<element>[a-zA-Z][\w]*)(?P<attributes>(?:\s[^<>]*)?)/?>"
    r"|%(?P<quoted>[A-Za-z_]\w*)"
    r"|(?<![\w@\\.:%/&-])(?P<hash>#)(?P<member>~?[A-Za-z_]\w*(?:::~?\w+)*(?:\([^()\n]*\))?)"
    r"|(?<![\w@\\.:#%/-])(?<!->)(?P<name>(?:::)?[A-Za-z_]\w*(?:<[\w\s,:&*]*>)?(?:::~?[A-Za-z_]\w*(?:<[\w\s,:&*]*>(?=::|\())?)+"
    r"(?P<call>\([^()\n]*(?:\([^()\n]*\)[^()\n]*)*\))?)"
    r"|(?<![\w@\\.:#%/-])(?<!->)(?P<bare>[A-Za-z_]\w+\(\))"
    r"|[@\\](?P<escaped>[@\\&$#<>%\".|])"
    r"|(?P<special>[\[\]])",
    re.DOTALL,
)
_QUALIFIED = re.compile(r"(?:::)?[A-Za-z_]\w*(?:<[\w\s,:&*]*>)?(?:::~?[A-Za-z_]\w*(?:<[\w\s,:&*]*>)?)+(?:\([^()]*\))?")
_ELEMENTS = {"b": "**", "strong": "**", "i": "*", "em": "*"}


def read_comment(raws: list[str], line: int, sink: MentionSink) -> TaggedDoc:
    """raws: one block comment, or the line comments of one run; the first begins on a line."""
    first = raws[0]
    if first.startswith("/*"):
        opener = 4 if first[3:4] == "<" else 3
        lines = block_lines(first, opener)
    else:
        lines = [text for raw in raws for text in (_unmarked(raw),)]
    lines, line = trim(_prepared(from_named(lines)), line)
    if len(lines) == 1 and _LATER_TAG.search(lines[0]):
        return _read_one_line(lines[0], line, sink)
    return read_tagged(lines, line, sink, CXX) if lines else TaggedDoc(Doc(line=line))


def _read_one_line(text: str, line: int, sink: MentionSink) -> TaggedDoc:
    """A comment that says on one line what others say below one another."""
    start = len(sink.mentions)
    found = read_tagged(_LATER_TAG.sub("\n", text).split("\n"), line, sink, CXX)
    sink.mentions[start:] = [msgspec.structs.replace(m, line=min(m.line, line)) for m in sink.mentions[start:]]
    return found


def _unmarked(raw: str) -> str:
    text = raw[4:] if raw[3:4] == "<" else raw[3:]
    text = text.expandtabs().rstrip()
    return text[1:] if text.startswith(" ") else text


def is_documentation(raw: str) -> bool:
    """Whether a comment is one of the forms that document."""
    if raw.startswith("//"):
        return raw[2:3] in ("/", "!") and raw[3:4] != "/"
    return raw[2:3] in ("*", "!") and raw[3:4] not in ("*", "/")


def is_trailing(raw: str) -> bool:
    """Whether a comment documents what stands before it."""
    return raw[3:4] == "<" and is_documentation(raw)


_FORMULA = "f]"
_FORMULA_BEGINS = re.compile(r"^\s*[@\\]f[\[{]")
_FORMULA_ENDS = re.compile(r"[@\\]f[\]}]")


def _prepared(lines: list[str]) -> list[str]:
    """Code and formulas as fences, lines without meaning for readers empty; as many lines."""
    preparing = _Preparing()
    return [preparing.line(text) for text in lines]


class _Preparing:
    """One line after the other. ends: the command that closes what is open as a fence; skips: as what is left out."""

    def __init__(self) -> None:
        self.ends = self.skips = ""

    def line(self, text: str) -> str:
        match = _COMMAND.match(text)
        word = match[1] if match else ""
        if self.skips:
            self.skips = "" if word == self.skips else self.skips
            return ""
        if self.ends:
            return self._fenced(text, word)
        if word in _CODE:
            self.ends = _CODE[word]
            return "```cpp" if word == "code" else "```"
        if _FORMULA_BEGINS.match(text):
            return self._formula(text)
        if word in _SKIPPED and word != "internal":
            self.skips = _SKIPPED[word]
            return ""
        return _plain_line(text, word)

    def _fenced(self, text: str, word: str) -> str:
        if word != self.ends and not (self.ends == _FORMULA and _FORMULA_ENDS.search(text)):
            return text
        self.ends = ""
        return "```"

    def _formula(self, text: str) -> str:
        if _FORMULA_ENDS.search(text[3:]):
            return "`" + re.sub(r"[@\\]f[\[\]{}]", "", text).strip() + "`"
        self.ends = _FORMULA
        return "```"


def _plain_line(text: str, word: str) -> str:
    if re.match(r"^\s*[@\\][{}]\s*$", text) or _DROPPED.match(text):
        return ""
    if word in ("section", "subsection", "subsubsection", "paragraph"):
        title = re.sub(r"^\s*[@\\]\w+\s+\S+\s*", "", text)
        return "#" * (2 if word == "section" else 3) + " " + title
    if word in ("li", "arg"):
        parts = text.split(None, 1)
        return "- " + parts[1] if len(parts) > 1 else ""
    return text


def convert_text(text: str, line: int, sink: MentionSink) -> str:
    """CommonMark of prose; names that are meant as references become mentions."""
    out: list[str] = []
    for kind, chunk, start in _chunks(text.split("\n")):
        out.append(chunk if kind == "code" else _inline(chunk, line + start, sink))
    return "\n".join(out).strip("\n")


def _chunks(lines: list[str]) -> list[tuple[str, str, int]]:
    found: list[tuple[str, list[str], int]] = []
    fenced = False
    for index, text in enumerate(lines):
        is_fence = text.lstrip().startswith("```")
        kind = "code" if fenced or is_fence else "prose"
        if not found or found[-1][0] != kind:
            found.append((kind, [], index))
        found[-1][1].append(
            text if kind == "code" else text.strip() if not re.match(r"\s*(?:[-*+]|\d+\.)\s", text) else text
        )
        if is_fence:
            fenced = not fenced
    return [(kind, "\n".join(rows), index) for kind, rows, index in found]


def _inline(text: str, line: int, sink: MentionSink) -> str:
    return _INLINE.sub(lambda m: _replace(m, line + text.count("\n", 0, m.start()), sink), text)


def _replace(m: re.Match[str], line: int, sink: MentionSink) -> str:
    """By the group of the pattern that matched, in the order in which they are asked for."""
    if m["code"] is not None:
        return _code(m, line, sink)
    if m["formula"] is not None or m["display"] is not None:
        return code_span((m["formula"] or m["display"] or "").strip())
    for group, replace in _REPLACED:
        if m[group]:
            return str(replace(m, line, sink))
    return _markdown_link(m, line, sink) if m["mdtarget"] is not None else "\\" + m["special"]


def _topic(m: re.Match[str], line: int, sink: MentionSink) -> str:
    role = "topic" if m["linked"].isidentifier() else ""
    return _linked(m["linked"], m["linked"], m["label"].strip() or m["linked"], "link", line, sink, role)


def _reference(m: re.Match[str], line: int, sink: MentionSink) -> str:
    target = m["target"].rstrip(".:-")
    rest = m["target"][len(target) :]
    if m["ref"] == "copydoc":
        return "See " + _linked(target, target, target, "link", line, sink) + rest
    # A plain identifier may be that of a page or group, which is no name of the code.
    origin, role = ("link", "") if re.search(r"::|\(", target) else ("code", "topic")
    if m["title"]:
        return _linked(m[0], target, m["title"], origin, line, sink, role)
    return _linked(m[0], target, target, origin, line, sink, role) + rest


def _address(m: re.Match[str], line: int, sink: MentionSink) -> str:
    sink.add(m["url"], m["url"], "url", line)
    return f"<{m['url']}>"


def _member(m: re.Match[str], line: int, sink: MentionSink) -> str:
    if m["member"] == "operator":
        return m[0]
    return _linked("#" + m["member"], m["member"], m["member"], "link", line, sink)


def _name(m: re.Match[str], line: int, sink: MentionSink) -> str:
    if m["name"].endswith(("operator", "_")) or m.string[m.end() : m.end() + 1] == "*":
        return m[0].replace("_", "\\_")  # The beginning of many names, or of an operator's.
    return _linked(m["name"], m["name"], m["name"], "link", line, sink)


def _bare_name(m: re.Match[str], line: int, sink: MentionSink) -> str:
    sink.add(m["bare"], m["bare"], "code", line)
    return code_span(m["bare"])


_REPLACED: tuple[tuple[str, Callable[[re.Match[str], int, MentionSink], str]], ...] = (
    ("dollars", lambda m, _line, _sink: code_span(m["dollars"])),
    ("linked", _topic),
    ("ref", _reference),
    ("word", lambda m, line, sink: _word(m["word"], m["argument"], line, sink)),
    ("other", lambda m, _line, _sink: "  \n" if m["other"] == "n" else ""),
    ("mdtarget", lambda m, line, sink: _markdown_link(m, line, sink)),
    ("url", _address),
    ("element", lambda m, _line, _sink: _element(m)),
    ("quoted", lambda m, _line, _sink: str(m["quoted"])),
    ("hash", _member),
    ("name", _name),
    ("bare", _bare_name),
    ("escaped", lambda m, _line, _sink: "\\" + m["escaped"]),
)


def _code(m: re.Match[str], line: int, sink: MentionSink) -> str:
    name = m["code"].strip()
    if _QUALIFIED.fullmatch(name):
        return _linked(name, name, name, "link", line, sink)
    if re.fullmatch(r"[A-Za-z_][\w:]*(?:\(\))?", name):
        sink.add(name, name, "code", line)
    return m[0]


def _word(command: str, argument: str, line: int, sink: MentionSink) -> str:
    form = _WORD_COMMANDS[command]
    if form == "code":
        if re.fullmatch(r"(?:::)?[A-Za-z_]\w*(?:::~?\w+)+(?:\(\))?", argument):
            return _linked(argument, argument, argument, "link", line, sink)
        if re.fullmatch(r"#?[A-Za-z_]\w*(?:\(\))?", argument):
            sink.add(argument, argument.lstrip("#"), "code", line)
        return code_span(argument.lstrip("#"))
    mark = "**" if form == "strong" else "*"
    return f"{mark}{argument}{mark}"


def _linked(text: str, name: str, shown: str, origin: str, line: int, sink: MentionSink, role: str = "") -> str:
    sink.add(text, name, origin, line, role)  # type: ignore[arg-type]
    label = code_span(shown) if " " not in shown or "(" in shown else shown.replace("[", "\\[").replace("]", "\\]")
    return f"[{label}]({address_of(name, role)})"


def _markdown_link(m: re.Match[str], line: int, sink: MentionSink) -> str:
    target = m["mdtarget"]
    if target.startswith(("http://", "https://")):
        sink.add(target, target, "url", line)
        return f"[{m['mdlabel']}](<{target}>)"
    if target.startswith("api:"):
        sink.add(target, target, "link", line)
        return m[0]
    return m["mdlabel"]


def _element(m: re.Match[str]) -> str:
    name = m["element"].lower()
    if name in _ELEMENTS:
        return _ELEMENTS[name]
    if name in ("tt", "code", "kbd", "samp"):
        return "`"
    if name == "li" and not m["close"]:
        return "\n- "
    if name in (
        "p",
        "br",
        "ul",
        "ol",
        "dl",
        "dd",
        "dt",
        "table",
        "tr",
        "td",
        "th",
        "center",
        "div",
        "blockquote",
        "hr",
    ):
        return "\n\n" if name in ("p", "ul", "ol", "dl", "table") else "\n" if name in ("br", "tr", "dt") else " "
    if name in (
        "li",
        "a",
        "sup",
        "sub",
        "span",
        "img",
        "small",
        "h1",
        "h2",
        "h3",
        "h4",
        "pre",
        "tbody",
        "thead",
        "caption",
    ):
        return ""
    return m[0].replace("<", "\\<")


def split_name(text: str) -> tuple[str, str]:
    """The name at the start of a see-also or raised text, with its parameter list."""
    match = re.match(r"#?~?[A-Za-z_:][\w:~]*(?:<[^<>]*>)?(?:\([^()]*\))?", text)
    return (match[0].rstrip(":,"), text[match.end() :].lstrip(" ,:\n")) if match else ("", text)


CXX = Dialect(TAGS, convert_text, marks="@\\", any_tag=False, split_name=split_name, by_paragraph=True)
