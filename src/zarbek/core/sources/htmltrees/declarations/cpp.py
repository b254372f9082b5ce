"""Declarations of C and C++ as programs set them: with what they stand in before their names, and words behind them
that would stand before. Source: ISO C++ 20, [dcl.dcl], [class] and [temp]."""

from __future__ import annotations

import re

from zarbek.core.sources.htmltrees.declarations.form import NO_MODULE, Form, Owner

#: What programs put behind a declaration for what it would begin with.
_LABELS = re.compile(
    r"\s+\[?(?:inline|static|virtual|explicit|protected|private|public|constexpr|friend|mutable|package|slot|signal|"
    r"noexcept|override|pure|implicit|inherited|read|write|get|set|add|remove|final|related|default|delete)[\],]?$"
)
_KEPT_LABELS = ("static", "virtual", "explicit", "constexpr")
_KIND = re.compile(r"(?:typedef\s+)?(?:class|struct|union|enum)\b")
#: A type of functions, as some programs set it without its first word.
_POINTER = re.compile(r"(?!typedef\b)[\w\s*]+\(\s*\*\s*\w+\s*\)\s*\(")
#: What a class has beside it, not in it.
_APART = frozenset({"friend", "related"})
#: Arguments of a template, with three of them within one another.
_ANGLES = r"<(?:[^<>()]|<(?:[^<>()]|<[^<>()]*>)*>)*>"
_TEMPLATE = re.compile(rf"template\s*{_ANGLES}(?!\s*<)")
_NAME = re.compile(
    rf"(?P<outer>(?:[A-Za-z_]\w*\s*(?:{_ANGLES}\s*)?::\s*)*)"
    r"(?P<name>operator\s*(?:\(\s*\)|\[\s*\]|[^\s\w(]+|[\w:<>*& ]+?)|~?\s*[A-Za-z_]\w*)\s*"
    rf"(?P<specialised>{_ANGLES})?\s*"
    r"(?P<end>\(|\[|=|$|\{|:(?!:))"
)
_TYPE = re.compile(
    rf"(?:^|>\s*)(?:typedef\s+)?(?:class|struct|union|enum(?:\s+class)?)\s+\w+(?:::\w+)*(?:\s*{_ANGLES})?(?:\s+final)?"
    r"(?:\s*:\s[^;{}()]*)?$"
)


def cpp_form(text: str, owner: Owner) -> Form | None:
    """A source with a declaration in its namespaces and class."""
    if text.startswith("#define "):
        return Form(NO_MODULE, "/** A macro counts where somebody documents it. */", text, "")
    if not owner.is_type and _POINTER.match(text):
        text = f"typedef {text}"
    text, labels = _without_labels(text)
    match = _named(text)
    if match is None or ("friend" in (text.split()[0], *labels) and "(" not in text):
        return None  # Or it says who may use what, and declares nothing.
    if not _APART.isdisjoint(labels) and owner.is_type:
        owner = owner.outer
    line = _unqualified(text, match, labels)
    body = " {}" if _TYPE.search(line) and "{" not in line else ""
    return Form(NO_MODULE, *_around(_names(match["outer"], owner), owner.is_type, line + body + ";"))


def _without_labels(text: str) -> tuple[str, list[str]]:
    labels: list[str] = []
    while (found := _LABELS.search(text)) is not None:
        before = text[: found.start()]
        if not ("(" in before or found[0].endswith("]") or _KIND.match(text)):
            break
        labels.insert(0, found[0].strip(" [],"))
        text = before
    return text, labels


def _named(text: str) -> re.Match[str] | None:
    match = _NAME.search(text)
    is_last = text.startswith("typedef ") and (text[-1].isalnum() or text[-1] == "_")
    while match is not None and (match["name"].startswith("decltype") or (is_last and match["end"])):
        match = _NAME.search(text, match.end())
    return match


def _unqualified(text: str, match: re.Match[str], labels: list[str]) -> str:
    """The declaration with its name alone, and the words that stood behind it before it."""
    begin = text[: match.start("outer")]
    template = _TEMPLATE.match(begin)
    begin = (begin[template.end() :] if template else begin).strip()
    rest = text[match.start("name") :]
    if match["specialised"] and _KIND.match(begin):
        is_own = template is None or _own_parameters(template[0]) == _bare(match["specialised"][1:-1])
        rest = match["name"] + ("" if is_own else _bare(match["specialised"])) + text[match.end("specialised") :]
    kept = (label for label in labels if label in _KEPT_LABELS and label not in begin.split())
    return " ".join([*([template[0]] if template else []), *kept, begin, rest])


def _names(qualified: str, owner: Owner) -> tuple[str, ...]:
    """What a declaration stands in: what its name says, with what is known of that."""
    outer = tuple(re.sub(r"\s*<.*", "", part).strip() for part in qualified.split("::")[:-1])
    known = tuple(name.partition("<")[0] for name in owner.names[-len(outer) :])
    return owner.names if not outer or known == outer else outer


def _own_parameters(template: str) -> str:
    """The names of a template's parameters, as what it makes repeats them."""
    inner = template[template.index("<") + 1 : -1]
    named = (part.partition("=")[0].split() for part in inner.replace("...", " ").split(","))
    return ",".join(words[-1] for words in named if words)


def _bare(text: str) -> str:
    return "".join(text.split())


def _around(names: tuple[str, ...], is_type: bool, line: str) -> tuple[str, str, str]:
    spaces, types = (names[:-1], names[-1:]) if is_type else (names, ())
    opened = [f"namespace {name} {{ " for name in spaces]
    opened += [f"{'template<> ' * ('<' in name)}class {name} {{ public: " for name in types]
    return "".join(opened), line, "}; " * len(types) + "} " * len(spaces)
