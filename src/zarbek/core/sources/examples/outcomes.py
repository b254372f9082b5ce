"""What the assertions of test frameworks say, in the languages with brackets.

Their names are alike in all of them: ``assertEquals``, ``Assert.Equal``, ``EXPECT_EQ``, ``assert_eq!`` and
``expect(x).toBe(y)`` say the same. Sources: the documentation of the frameworks, on assertions.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from zarbek.core.sources.examples.call_text import CallText, split_at, split_call


class Outcome(NamedTuple):
    """What is looked at, the verb, and what comes out."""

    text: str
    how: str
    result: str = ""


#: An assertion that is of no use to readers: that nothing went wrong.
SILENT = Outcome("", "")
#: What only tells a framework of JavaScript how many assertions there are.
_COUNTING = re.compile(r"(?:s\d?)?t\.(?:end|plan)\(")
#: What a name of an assertion begins with.
_BEGIN = re.compile(
    r"^(?:(?i:Assert(?:ions)?|Verify|require|expect|check|test|boost|ck|munit|cmocka)(?:[._!]|(?=[A-Z])|$)|(?:s\d?)?t\.)+"
)
_EXPECTING = re.compile(
    r"^(?:expect|assert(?:_?that)?|check|require|verify|test_assert|boost_(?:check|require|test)|ck_assert|"
    r"assert(?:ions)?\.\w|require\.\w|(?:s\d?)?t\.(?:is|(?:not|deep|strict)*equal|same|ok|notOk|true|false|throws|doesNotThrow)\b|munit_assert|assert[A-Z_!])",
    re.IGNORECASE,
)
_TOOLS = re.compile(
    r"(?:(?:s\d?)?t\.test\b|[tb]\.(?:Error|Fatal|Log|Run|Helper|Skip|Cleanup)|Assume\b|fail\b|SECTION|SUBCASE|vi\.|jest\.|fmt\.)"
)
_EQUAL = re.compile(
    r"(?:are|is|str|int|uint|u?int\d+|ptr|hex\d*|deep|strict|deepstrict|array|iterable|sequence|content|lines|"
    r"string|floats?|doubles?|char|bool|memory|size|collection|json|elements)*_?(?:equals?|eq|same|match)(?:_\w+)?"
)
#: No name of an assertion is longer.
_MAX_NAME = 60
_OF_ONE = {
    "true": ("is", "true"), "istrue": ("is", "true"), "ok": ("is", "true"), "": ("holds", ""),
    "false": ("is", "false"), "isfalse": ("is", "false"), "null": ("is", "null"), "isnull": ("is", "null"),
    "nil": ("is", "nil"), "notnull": ("is not", "null"), "isnotnull": ("is not", "null"), "notnil": ("is not", "nil"),
    "empty": ("is", "empty"), "isempty": ("is", "empty"), "notempty": ("is not", "empty"),
    "error": ("is an", "error"), "defined": ("is", "defined"), "undefined": ("is", "undefined"),
}  # fmt: skip
_OF_TWO = {
    "gt": "is more than", "greater": "is more than", "greaterthan": "is more than", "ge": "is at least",
    "greaterorequal": "is at least", "greaterequal": "is at least", "lt": "is less than", "less": "is less than",
    "lessthan": "is less than", "le": "is at most", "lessorequal": "is at most", "lessequal": "is at most",
    "near": "is about", "close": "is about", "within": "is about", "indelta": "is about", "almostequal": "is about",
    "matches": "is", "len": "has length", "regexp": "fits",
}  # fmt: skip
_RAISES = re.compile(
    r"(?:does)?(?:throws?|failswith|panics|rejects|any_throw)(?:exactly|_as|_with|any|async)?", re.IGNORECASE
)
_NOTHING_WRONG = ("noerror", "doesnotthrow", "no_throw", "nothrow")
_HOLDING = ("contains", "contain", "has", "subset")
_LITERAL = re.compile(r"""[-+]?[\d.]|["'`]|(?:true|false|null|nil|None|undefined|nullptr|vec!)\b|\[|\{|new\b""")
_SIGNS = {"===": "is", "==": "is", "!==": "is not", "!=": "is not", "<=": "is at most", ">=": "is at least"}
#: Languages whose frameworks are given first what should come out.
_EXPECTED_FIRST = ("java", "kotlin", "csharp", "go", "c")
_LAMBDA = re.compile(
    r"^(?:async\s+)?(?:(?:\(\s*\)|\w+)\s*(?:=>|->)|\|\||\[[&=]*\]\s*(?:\(\s*\))?)\s*(?:await\s+)?", re.DOTALL
)
_GENERIC = re.compile(r"<([^<>]*(?:<[^<>]*>)?[^<>]*)>\s*$")
_NEGATIONS = frozenset({"not", "never"})
_THROWING = frozenset({"throw", "throws", "raise", "thrown"})
_HAVING = frozenset({"contain", "contains", "include", "includes"})
_EQUALLING = frozenset({"equal", "equals", "eql", "strict", "deep"})
_STEP = re.compile(r"\.(\w+)")
_HUMP = re.compile(r"(?<=[a-z0-9])(?=[A-Z])")
#: Words of chains that say nothing themselves.
_WORDLESS = frozenset({
    "to", "be", "been", "is", "that", "which", "and", "has", "have", "with", "at", "of", "same", "but", "does", "still",
    "also", "should", "resolves", "rejects", "a", "an",
})  # fmt: skip


def is_of_framework(name: str) -> bool:
    """Whether a call is one of a test's framework, and not of what is tested."""
    return bool(_EXPECTING.match(name) or _TOOLS.match(name) or _COUNTING.match(f"{name}(")) or name.endswith(
        (".Should", ".should")
    )


def outcome_in(text: str, language: str) -> Outcome | None:
    """The outcome that a statement asserts; SILENT for one that says no more than that nothing is wrong; None for what
    is no assertion."""
    statement = " ".join(text.split()).rstrip(";").removeprefix("await ").strip()
    if _COUNTING.match(statement):
        return SILENT
    infix = re.match(r"(.+?)\s+should(Be|NotBe|Equal|Throw)\s+(.+)$", statement)
    if infix and language == "kotlin":
        return Outcome(infix[1], "is not" if "Not" in infix[2] else "is", infix[3])
    call = split_call(statement)
    if call is None:
        return _trailing(statement)
    if ".Should()" in statement or ".should." in statement:
        return _of_should(statement)
    if not _EXPECTING.match(call.head) or not call.given:
        return None
    if call.rest.startswith("."):
        return _of_chain(call.given[0], call.rest)
    if call.rest.startswith("{"):
        return _trailing(statement)
    return _of_call(call, language)


class _Asserted(NamedTuple):
    """A call of an assertion. name: what is left of its name; plain: that without a negation; generic: the type it is
    called for."""

    name: str
    plain: str
    negative: bool
    given: list[str]
    generic: str


def _asserted(call: CallText, language: str) -> _Asserted:
    generic = _GENERIC.search(call.head)
    name = _BEGIN.sub("", _GENERIC.sub("", call.head).strip().rstrip("!")).strip("._").lower()[:_MAX_NAME]
    given = call.given[1:] if language == "go" and call.given[0] in ("t", "b") and len(call.given) > 1 else call.given
    negative = name.startswith(("not", "ne", "isnot")) or "_ne" in name or "notequal" in name
    plain = re.sub(r"^(?:are|is)?not_?|^ne(?=_|$)", "", name) if negative else name
    return _Asserted(name, plain, negative, given, generic[1] if generic else "")


def _of_call(call: CallText, language: str) -> Outcome | None:
    it = _asserted(call, language)
    if it.name == "that" and len(it.given) > 1:
        return _of_constraint(it.given[0], it.given[1])
    if _RAISES.fullmatch(it.name):
        return _raising(it.given, it.generic, is_denied=it.name.startswith("doesn"))
    if it.name in _NOTHING_WRONG:
        return SILENT
    if it.generic:
        return Outcome(it.given[0], "is a", it.generic)
    found = _of_several(it, language) if len(it.given) >= 2 else None
    return found or (_of_one(it.given[0], it.name) if it.name in _OF_ONE else None)


def _of_several(it: _Asserted, language: str) -> Outcome | None:
    """Two values that are compared, or one that the other has."""
    if _EQUAL.fullmatch(it.plain) or (it.negative and it.plain in ("", "_int", "int")):
        return _of_two(it.given, "is not" if it.negative else "is", language)
    how = _OF_TWO.get(it.plain)
    if how is not None:
        return _of_two(it.given, how, language) if how == "is about" else Outcome(it.given[0], how, it.given[1])
    if it.plain in _HOLDING:
        held, of = (0, 1) if language == "csharp" else (1, 0)
        return Outcome(it.given[of], "does not have" if it.negative else "has", it.given[held])
    return None


def _of_one(text: str, name: str) -> Outcome:
    how, result = _OF_ONE[name]
    if how != "holds":
        return Outcome(text, how, result)
    compared = split_at(text, tuple(_SIGNS))
    if compared is not None:
        return _with_result(compared[0], _SIGNS[compared[1]], compared[2])
    return Outcome(text[1:].strip(), "is", "false") if text.startswith("!") else Outcome(text, "holds")


def _of_two(given: list[str], how: str, language: str) -> Outcome:
    expected, actual = (given[0], given[1]) if language in _EXPECTED_FIRST else (given[1], given[0])
    return _with_result(actual, how, expected)


def _with_result(text: str, how: str, result: str) -> Outcome:
    """What is written out is what comes out, on whichever side it stands."""
    if _LITERAL.match(text) and not _LITERAL.match(result) and how in ("is", "is not", "is about"):
        text, result = result, text
    return Outcome(text, how, result)


def _raising(given: list[str], error: str, *, is_denied: bool) -> Outcome | None:
    if is_denied:
        return SILENT
    body = next((g for g in given if "=>" in g or "->" in g or g.startswith(("{", "||", "function"))), None)
    others = [g for g in given if g is not body]
    if body is None:
        body, others = given[0], given[1:]
    return Outcome(_body_of(body), "raises", error or (_class(others[0]) if others else ""))


def _body_of(text: str) -> str:
    inner = _LAMBDA.sub("", text, count=1).strip()
    if inner.startswith("{") and inner.endswith("}"):
        inner = inner[1:-1].strip()
    return inner.rstrip(";").strip()


def _class(text: str) -> str:
    return (
        re.sub(r"(?:::class(?:\.java)?|\.class)$|^typeof\(|\)$", "", text)
        if "(" not in text or "typeof" in text
        else text
    )


def _trailing(statement: str) -> Outcome | None:
    """An assertion with its block behind: ``assertFailsWith<X> { … }``."""
    found = re.match(
        r"(?:assertFailsWith|assertThrows|shouldThrow)\s*<\s*([\w.]+)\s*>\s*(?:\([^)]*\)\s*)?\{(.*)\}$", statement
    )
    return Outcome(found[2].strip(), "raises", found[1]) if found else None


# Chains -----------------------------------------------------------------------------------


def _of_chain(text: str, rest: str) -> Outcome | None:
    words: list[str] = []
    given: list[str] = []
    while found := _STEP.match(rest):
        words.append(found[1])
        rest = rest[found.end() :]
        if rest.startswith("("):
            call = split_call(rest)
            if call is None:
                return None
            given, rest = call.given, call.rest
            if not rest or not rest.startswith("."):
                break
    return _in_words(text, words, given)


def _of_should(statement: str) -> Outcome | None:
    text, _, rest = statement.replace(".should.", ".Should().").partition(".Should()")
    return _of_chain(text, rest)


def _of_constraint(text: str, constraint: str) -> Outcome | None:
    """``Assert.That(x, Is.EqualTo(y))``: the second says what must hold."""
    call = split_call(constraint)
    head, given = (call.head, call.given) if call is not None else (constraint, [])
    generic = _GENERIC.search(head)
    words = _GENERIC.sub("", head).split(".")
    if words[0] == "Throws":
        return Outcome(_body_of(text), "raises", generic[1] if generic else words[-1])
    return _in_words(text, words, given or ([generic[1]] if generic else []))


def _in_words(text: str, names: list[str], given: list[str]) -> Outcome | None:
    """The verb that the words of a chain make."""
    words = [w.lower() for name in names for w in _HUMP.sub(" ", name).replace("_", " ").split()]
    negative = bool(_NEGATIONS & set(words))
    if _THROWING & set(words):
        return SILENT if negative else Outcome(_body_of(text), "raises", _class(given[0]) if given else "")
    verb, told = _verb_of(words)
    if negative:
        verb = {"is": "is not", "has": "does not have", "fits": "does not fit", "is a": "is no"}[verb]
    if not given:
        return Outcome(text, verb, " ".join(told)) if told else None
    return Outcome(text, " ".join([verb, *told]), ", ".join(given))


def _verb_of(words: list[str]) -> tuple[str, list[str]]:
    """The verb, and what the words say beside it."""
    told = [w for w in words if w not in _WORDLESS and w not in _NEGATIONS | _HAVING | _EQUALLING]
    if told[:1] in (["instance"], ["type"]):
        return "is a", told[2:] if told[1:2] in (["of"], ["type"]) else told[1:]
    if told[:1] in (["match"], ["matches"]):
        return "fits", told[1:]
    return ("has" if (_HAVING | {"has", "have"}) & set(words) else "is"), told
