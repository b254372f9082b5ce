"""Examples: tests that show how something is used, with how they went."""

from __future__ import annotations

from typing import Literal

import msgspec

from zarbek.core.model.limits import Offset, Path

State = Literal["passed", "failed", "skipped", "not-run"]
PartKind = Literal["set-up", "step", "outcome"]
#: Field of mentions that stand in the code of an example: what it exercises.
EXERCISED = "exercised"
#: Role of what code calls: a bare name means what its scopes say, and nothing that is only called alike.
CALLED = "called"
#: Field of a mention of a guide whose block of code says which test it quotes.
QUOTED = "quoted"
#: Kind of the symbols that examples are.
EXAMPLE = "example"


class ExamplePart(msgspec.Struct, frozen=True, omit_defaults=True):
    """Some lines of a test. text: as written, without the indentation that they share. Of an outcome, text is what is
    looked at, how a verb with what goes with it (``is``, ``raises``, ``has length``), and result what comes out; empty
    where how says it all; written is the assertion as it stands. line: of the file, from 1."""

    kind: PartKind
    text: str
    how: str = ""
    result: str = ""
    line: Offset = 0
    written: str = ""


class Verdict(msgspec.Struct, frozen=True, omit_defaults=True):
    """How a test went when it was run last. path: of the example. at: when (ISO 8601), if that is known. seconds: how
    long it took. told: what was said of a failure, or why it was skipped."""

    path: Path = ""
    state: State = "not-run"
    at: str = ""
    seconds: float | None = None
    told: str = ""


class Example(msgspec.Struct, frozen=True, omit_defaults=True):
    """A test as an example. title: as its comment says, or made of its name. framework: by whose form it is a test.
    parts: what must be there before, then the test itself. Its verdict stands apart, for every run has another."""

    title: str
    framework: str
    parts: list[ExamplePart] = []


def shown_code(example: Example) -> str:
    """The code of an example without where it stands and how it is set."""
    shown = (words for part in example.parts for words in (part.text, part.how, part.result))
    return " ".join(" ".join(shown).split())


def is_quoted(code: str, example: Example) -> bool:
    """Whether all lines of some code stand in an example, in whatever order and however they are set."""
    held = {_plain(line) for part in example.parts for line in (part.written or part.text).split("\n")}
    return all(not line or line in held for line in map(_plain, code.split("\n")))


def _plain(line: str) -> str:
    return " ".join(line.replace("self.", "").rstrip(";").split())
