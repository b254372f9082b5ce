"""Forms of C and C++ that the grammar does not know, in the place of which it is given others of equal length."""

from __future__ import annotations

import re
from collections.abc import Callable

from zarbek.core.sources.languages.preprocessor import blanked

_MARKS = rb"\[\[(?:[^\[\]\"\n]|\"[^\"\n]*\")*\]\]"
_MARKS_BEGIN, _TYPENAME = (b"[[",), (b"typename",)
_CONDITION = re.compile(
    rb"(template(?<!\wtemplate)\s*<(?:[^;{}()]|\([^()]*\))*?[,<]\s*)"
    rb"((?:[A-Z][A-Z0-9]*_[A-Z0-9_]+)?\((?:[^(){};]|\((?:[^()]|\((?:[^()]|\([^()]*\))*\))*\))*\))(?=\s*[,>])"
)


def _in_place_of(condition: bytes) -> bytes:
    return b"int" + blanked(condition[3:]) if b"\n" not in condition[:3] else condition


#: A macro of several lines.
_LONG_DEFINE = re.compile(rb"^[ \t]*#[ \t]*define\b[^\n]*\\\n(?:[^\n]*\\\n)*[^\n]*", re.MULTILINE)
_COMMENT_IN_LINE = re.compile(rb"/\*[^\n]*?\*/")

#: Forms that the grammar does not know, with what it is given in their place; behind these what stands in a text with
#: such a form, one of several, where that is found faster.
_UNKNOWN_FORMS: tuple[tuple[re.Pattern[bytes], Callable[[re.Match[bytes]], bytes], tuple[bytes, ...]], ...] = (
    (
        re.compile(rb"=(\s*)\{([^{};]*)\}(?=\s*[,)])"),
        lambda m: (
            b"=" + m[1] + b"_" + re.sub(rb"[^\n]", b"0", m[2]).replace(b"\n", b" ") + b"0"
            if b"\n" not in m[2]
            else m[0]
        ),
        (),
    ),
    (_LONG_DEFINE, lambda m: _COMMENT_IN_LINE.sub(lambda c: blanked(c[0]), m[0]), (b"define",)),
    (re.compile(rb"\*(\s*=\s*(?:nullptr|NULL|0))(?=\s*[,>)])"), lambda m: b"*" + blanked(m[1]), ()),
    (
        re.compile(rb"^[ \t]*(?:extern\s+template|template\s+(?:class|struct))\s[^;{]*;", re.MULTILINE),
        lambda m: blanked(m[0]),
        (b"template",),
    ),
    (
        re.compile(rb"^[ \t]*#[ \t]*define[ \t]+\w+[ \t][^\n]*[{}][^\n]*(?<!\\)$", re.MULTILINE),
        lambda m: m[0] if m[0].count(b"{") == m[0].count(b"}") else blanked(m[0]),
        (b"define",),
    ),
    (
        re.compile(
            rb"^[ \t]*#[ \t]*ifdef[ \t]+__cplusplus[ \t]*\n\s*(?:extern[ \t]+\"C\"\s*\{|\})[^\n]*\n\s*"
            rb"#[ \t]*endif[^\n]*",
            re.MULTILINE,
        ),
        lambda m: blanked(m[0]),
        (b"__cplusplus",),
    ),
    (
        re.compile(rb"^[ \t]*#[ \t]*(?:warning|error|pragma)\b(?:[^\n\\]|\\\n|\\.)*", re.MULTILINE),
        lambda m: blanked(m[0]),
        (b"#",),
    ),
    (
        re.compile(rb"((?:->|\.)\s*operator)(\s*(?:\[\]|\(\)|[-+*/=<>!&|^%]+))(?=\s*\()"),
        lambda m: m[1] + b"_" * len(m[2]),
        (b"operator",),
    ),
    (
        re.compile(rb"\b(public|private|protected|virtual)(\s+)::(?=\w)"),
        lambda m: m[1] + m[2] + b"  ",
        (b" ::", b"\t::", b"\n::"),
    ),
    (
        re.compile(rb"^([ \t]*\w[^#;{}()\n]*?[\s*])([A-Z][A-Z0-9_]+\()(\s*\w+\s*\))(?=\s*\()", re.MULTILINE),
        lambda m: m[1] + b" " * (len(m[2]) - 2) + b"(*" + m[3],
        (),
    ),
    # A type that a macro makes of its arguments.
    (
        re.compile(
            rb"(\b(?:typedef|const|inline|static|constexpr|virtual|friend|explicit|extern)\s+|>\s*)"
            rb"([A-Z][A-Z0-9]*_[A-Z0-9_]+)([ \t]*\((?:[^();{}#]|\((?:[^();{}#]|\([^();{}#]*\))*\))*\))"
            rb"(?=[\s&*]*(?:operator\b|(?![A-Z0-9_]+\b)[A-Za-z_]))"
        ),
        lambda m: m[1] + m[2] + blanked(m[3]),
        (),
    ),
    # Words that say that what follows is a type or a template, where an expression stands.
    (re.compile(rb"(=\s*)typename\b"), lambda m: m[1] + b" " * 8, _TYPENAME),
    (re.compile(rb"(return(?<!\wreturn)\s*)typename\b"), lambda m: m[1] + b" " * 8, _TYPENAME),
    (
        re.compile(rb"([(,]\s*)typename(?=\s+\w[\w:]*(?:<[^;{}()]{0,300}>[\w:]*)?\()"),
        lambda m: m[1] + b" " * 8,
        _TYPENAME,
    ),
    (re.compile(rb"template(?<=::template)\b"), lambda m: b" " * 8, ()),
    # Pointers to members ([dcl.mptr]).
    (re.compile(rb"(?<![\w>:])(?:[A-Za-z_]\w*::)+(?=\*\s*\w)"), lambda m: blanked(m[0]), (b"::*",)),
    # A statement without an end before another.
    (
        re.compile(rb"([;{}]\s*)([A-Z][A-Z0-9]*_[A-Z0-9_]+[ \t]*\([^(){};#]*\))(?=\s*return\b)"),
        lambda m: m[1] + blanked(m[2]),
        (b"return",),
    ),
    (re.compile(rb"using(?<!\wusing)(\s+)typename\b"), lambda m: b"using" + m[1] + b"        ", _TYPENAME),
    # Attributes of enumerations, of their values and before a typedef (C++20, [dcl.enum], [dcl.pre]).
    (
        re.compile(rb"(\benum(?:\s+(?:class|struct))?\s*)(" + _MARKS + rb")"),
        lambda m: m[1] + b" " * len(m[2]),
        _MARKS_BEGIN,
    ),
    (re.compile(rb"(?<=\w)(\s*)(" + _MARKS + rb")(?=\s*[,=}])"), lambda m: m[1] + b" " * len(m[2]), _MARKS_BEGIN),
    (re.compile(_MARKS + rb"(?=\s*typedef\b)"), lambda m: blanked(m[0]), _MARKS_BEGIN),
    # Words for ``try`` and ``catch`` where exceptions may be switched off.
    (re.compile(rb"\b(?:[A-Z][A-Z0-9]*_)+TRY(?=\s*\{)"), lambda m: b"try" + b" " * (len(m[0]) - 3), (b"_TRY",)),
    (
        re.compile(rb"\b(?:[A-Z][A-Z0-9]*_)+CATCH(?=\s*\([^()]*\)\s*\{)"),
        lambda m: b"catch" + b" " * (len(m[0]) - 5),
        (b"_CATCH",),
    ),
    # Conditions that macros, known ones blank by now, write as parameters of a template.
    *[(_CONDITION, lambda m: m[1] + _in_place_of(m[2]), (b"template",))] * 3,
)


def without_unknown(data: bytes) -> bytes:
    """The text, macros blanked, with forms that the grammar knows. Offsets and lines stay."""
    for pattern, replacement, needed in _UNKNOWN_FORMS:
        if not needed or any(sign in data for sign in needed):
            data = pattern.sub(replacement, data)
    return data
