"""Inline markup of doc text: literals, roles, links and bare addresses, to CommonMark.

Sources of the forms: reStructuredText specification, "Inline Markup", and its "Interpreted Text Roles";
CommonMark 0.31.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from dataclasses import field as dataclass_field
from typing import NamedTuple

from zarbek.core.model.doc_text import TEXT, use_of
from zarbek.core.model.mention import Mention, Origin, address_of

#: Roles that name a Python object, and the kind that they ask for.
OBJECT_ROLES = {
    "class": "class", "func": "function", "meth": "method", "attr": "attribute",
    "mod": "module", "obj": "", "exc": "class", "data": "data", "const": "data",
    "any": "", "type": "",
}  # fmt: skip
CODE_ROLES = frozenset({"code", "literal", "samp", "file", "command", "program", "kbd", "envvar"})
#: References by label, to whether nothing else may be meant: others may lead where only another program knows.
LABEL_ROLES = {"label": "label", "ref": "ref", "numref": "ref", "term": "ref"}
#: Numbered documents: what is shown before the number, and where the document is.
_NUMBERED = {
    "pep": ("PEP", "https://peps.python.org/pep-{:0>4}/"),
    "rfc": ("RFC", "https://www.rfc-editor.org/rfc/rfc{}"),
}
#: Roles that say how a text looks, by what CommonMark has before and after it.
_LOOKS = {
    "emphasis": ("*", "*"), "strong": ("**", "**"), "title-reference": ("*", "*"), "title": ("*", "*"), "t": ("*", "*"),
    "superscript": ("^", ""), "sup": ("^", ""), "subscript": ("\\_", ""), "sub": ("\\_", ""),
}  # fmt: skip

#: What each begins with stands first, and is looked behind after that: a sign that is not there is passed over faster.
_SIGNS = r"_(?<!\w_)_*(?=\w)|\*(?<=\w\*)\**(?=\w)"
_REFERENCE_END = r"_(?![\w`])"
_WORD = rf"|(?P<word>[A-Za-z](?<![\w`./:-].)(?:[\w.+:-]*[A-Za-z0-9])?){_REFERENCE_END}"


def _inline_pattern(word: str) -> re.Pattern[str]:
    return re.compile(
        r"``(?P<literal>.+?)``(?!`)"
        r"|:(?P<role>[A-Za-z][\w.+:-]{0,60}):`(?P<roletext>[^`]+)`"
        r"|`(?P<linked>[^`]+)`(?P<marks>__?)(?![\w`])"
        rf"{word}"
        r"|`(?P<single>[^`]+)`"
        r"|(?P<api>\[[^\[\]\n]*\]\(api:[^)\s]*\))"
        r"|(?P<url>h(?<!\wh)ttps?://[^\s<>\"'`\])]*[^\s<>\"'`\]).,;:!?])"
        r"|\\(?P<escaped>.)"
        rf"|\[(?P<note>#?[\w.*+-]*)\]{_REFERENCE_END}"
        rf"|(?P<special>[\[\]<]|{_SIGNS})",
        re.DOTALL,
    )


_INLINE = _inline_pattern(_WORD)
#: Of a text in which no word is a reference, which would be looked for at each.
_WITHOUT_WORDS = _inline_pattern("")
_MAY_REFER = re.compile(_REFERENCE_END)
_TEXT_SIGNS = re.compile(_SIGNS)
_MARKED = re.compile(r"[`\\\[<]|://|(?<![\w_])_|(?<=\w)\*|\w_(?!\w)")
#: One of these is in all that is marked, and is found faster.
_SIGNS_OF_MARKUP = ("`", "_", "\\", "[", "<", "*", "://")
_TARGET = re.compile(r"^ *\.\. _(?:`([^`]+)`|((?:[^:\\]|\\:)+)): +(https?://\S+)\s*$")
_ANONYMOUS = re.compile(r"^ *(?:__|\.\. __:) +(https?://\S+)\s*$")
_SPACE = re.compile(r"\s+")
_NAME = re.compile(r"[A-Za-z_][\w.]*(\(\))?\Z")
_PREFIX = re.compile(r"_[a-z]\w*\.(?=\w)")


@dataclass(slots=True)
class MentionSink:
    """Collects the mentions of one symbol; lines are the file's, to find columns.

    targets: addresses of the web by the name, in small letters, that the text refers to them with; anonymous: those
    that are referred to in order.
    """

    lines: list[str]
    field: str = "doc"
    mentions: list[Mention] = dataclass_field(default_factory=list)
    targets: dict[str, str] = dataclass_field(default_factory=dict)
    anonymous: list[str] = dataclass_field(default_factory=list)

    def add(self, text: str, name: str, origin: Origin, line: int, role: str = "") -> None:
        """Note a reference in a line; its column is that of the first place where it stands there."""
        column = 0
        if 0 < line <= len(self.lines):
            column = self.lines[line - 1].find(text.split("\n", 1)[0]) + 1
        self.mentions.append(Mention(text, name, origin, self.field, line, column, role))


def find_targets(lines: list[str], line: int, sink: MentionSink) -> None:
    """Note the addresses that a text gives names, or none, to refer to them; each is a mention where it stands.

    Source: reStructuredText specification, "Hyperlink Targets".
    """
    for at, text in enumerate(lines):
        named, anonymous = _TARGET.match(text), _ANONYMOUS.match(text)
        first = named[3] if named else anonymous[1] if anonymous else ""
        if not first:
            continue
        more = _deeper_rows(lines, at)
        url = first + "".join(more)
        if not more:  # In parts it could not be replaced.
            sink.add(url, url, "url", line + at)
        if named:
            sink.targets[_SPACE.sub(" ", named[1] or named[2]).replace("\\:", ":").lower()] = url
        else:
            sink.anonymous.append(url)


def _deeper_rows(lines: list[str], at: int) -> list[str]:
    """The lines right below one that are indented more, without their indentation."""
    indent = len(lines[at]) - len(lines[at].lstrip())
    end = at + 1
    while end < len(lines) and lines[end].strip() and len(lines[end]) - len(lines[end].lstrip()) > indent:
        end += 1
    return [row.strip() for row in lines[at + 1 : end]]


def code_span(text: str) -> str:
    """A CommonMark code span that holds the text whatever backticks it has."""
    text = _SPACE.sub(" ", text)
    fence = "`"
    while fence in text:
        fence += "`"
    pad = " " if text[:1] == "`" or text[-1:] == "`" else ""
    return f"{fence}{pad}{text}{pad}{fence}"


def fenced(lines: list[str], language: str) -> str:
    """Lines as a code block of CommonMark, whatever fences they hold."""
    body = "\n".join(lines).strip("\n")
    fence = "```"
    while fence in body:
        fence += "`"
    return f"{fence}{language}\n{body}\n{fence}"


def convert_inline(text: str, line: int, sink: MentionSink, origin: Origin = "link") -> str:
    """CommonMark for one run of reStructuredText inline markup that starts on a file line."""
    if not any(map(text.__contains__, _SIGNS_OF_MARKUP)) or not _MARKED.search(text):
        return text

    def replace(match: re.Match[str]) -> str:
        return replacements[match.lastgroup or ""](match, line + text.count("\n", 0, match.start()))

    def literal(match: re.Match[str], _line: int) -> str:
        return code_span(match["literal"])

    def role(match: re.Match[str], at: int) -> str:
        return _convert_role(match["role"], match["roletext"], at, sink, origin)

    def linked(match: re.Match[str], at: int) -> str:
        title, target = titled(match["linked"])
        target = _SPACE.sub(" ", target)
        if title and "://" in target:
            target = target.replace(" ", "")
            sink.add(target, target, "url", at)
        elif match["marks"] == "__" and not title:
            target = sink.anonymous.pop(0) if sink.anonymous else ""
        else:
            target = sink.targets.get(target.removesuffix("_").lower(), "")
        shown = _plain(title or match["linked"])
        return f"[{shown}](<{target}>)" if target else shown

    def word(match: re.Match[str], _line: int) -> str:
        target = sink.targets.get(match["word"].lower(), "")
        return f"[{_plain(match['word'])}](<{target}>)" if target else _TEXT_SIGNS.sub(special, match[0])

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

    def special(match: re.Match[str], _line: int = 0) -> str:
        """What CommonMark takes for markup and reStructuredText for text."""
        return "".join("\\" + sign for sign in match[0])

    def note(match: re.Match[str], _line: int) -> str:
        return f"\\[{match['note']}\\]"

    replacements = {
        "literal": literal, "roletext": role, "marks": linked, "word": word, "single": single,
        "api": api, "url": url, "escaped": escaped, "note": note, "special": special,
    }  # fmt: skip
    return (_INLINE if _MAY_REFER.search(text) else _WITHOUT_WORDS).sub(replace, text)


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


def term_label(term: str) -> str:
    """The label of a term of a glossary."""
    return f"term:{_SPACE.sub(' ', term).strip().lower()}"


def role_text(role: str, text: str) -> RoleText:
    """What a role shows, and whether as code."""
    kind = role.rpartition(":")[2]
    title, target = titled(text)
    if kind == TEXT:
        return RoleText(title or target, True, target, target.strip(), TEXT)
    if kind in LABEL_ROLES:
        name = term_label(target) if kind == "term" else _SPACE.sub(" ", target).strip()
        return RoleText(title or target, False, target, name, LABEL_ROLES[kind])
    if kind == "doc":
        return RoleText(title or target, False)
    if kind not in OBJECT_ROLES:
        return RoleText(text if kind in CODE_ROLES else title or target.lstrip("~!."), True)
    if target.startswith("!"):
        return RoleText(title or target[1:], True)
    name = _SPACE.sub(" ", target).strip()
    return RoleText(title or shown_name(name), not title, target, name, OBJECT_ROLES[kind])


def _convert_role(role: str, text: str, line: int, sink: MentionSink, origin: Origin) -> str:
    standard = role.lower().removesuffix("-reference") if role.lower() != "title-reference" else "title"
    if standard == TEXT:
        return use_of(text)
    if standard == "math":
        return "{math}" + code_span(text)
    if standard in _NUMBERED:
        return _numbered(standard, text)
    if standard in _LOOKS:
        before, after = _LOOKS[standard]
        return f"{before}{_plain(text)}{after}"
    said = role_text(role, text)
    shown = code_span(said.shown) if said.is_code else _plain(said.shown)
    if not said.name or role.rpartition(":")[2] in LABEL_ROLES:  # Labels are those of guides.
        return shown
    sink.add(said.target, said.name, origin, line, said.kind)
    return f"[{shown}]({address_of(said.name, said.kind)})"


def _numbered(role: str, text: str) -> str:
    """A link to a numbered document, perhaps to a part of it: ``2822#section-3``. Its address is not the author's, so
    it is no mention."""
    title, target = titled(text)
    number, mark, anchor = target.strip().partition("#")
    word, address = _NUMBERED[role]
    if not number.isascii() or not number.isdecimal():
        return _plain(title or f"{word} {number}")
    return f"[{_plain(title or f'{word} {number}')}](<{address.format(number)}{mark}{anchor}>)"


def shown_name(name: str) -> str:
    """What a reader sees of a name: ``~a.b.C`` is C, ``.C`` and ``_prefix.C`` are C, else the whole."""
    if name.startswith("~"):
        return name.lstrip("~.").rstrip("()").rpartition(".")[2] + ("()" if name[-2:] == "()" else "")
    return _PREFIX.sub("", name.lstrip("."))
