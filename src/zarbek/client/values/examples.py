"""Examples: tests that show how something is used. Texts are HTML."""

from __future__ import annotations

from typing import Literal

import msgspec


class TestVerdict(msgspec.Struct, frozen=True, omit_defaults=True):
    """How an example went when it was run last. state: ``passed``, ``failed``, ``skipped`` or ``not-run``. at: when
    (ISO 8601), or empty. seconds: how long it took. told: what was said of a failure, or why it was skipped."""

    path: str = ""
    state: Literal["passed", "failed", "skipped", "not-run"] = "not-run"
    at: str = ""
    seconds: float | None = None
    told: str = ""


class TestExamplePart(msgspec.Struct, frozen=True, kw_only=True):
    """Some lines of an example. kind: ``set-up``, ``step`` or ``outcome``. how: of an outcome, the verb between what
    is looked at (code) and the result. line: of the file."""

    kind: str
    code: str
    how: str
    result: str
    line: int


class TestExample(msgspec.Struct, frozen=True, kw_only=True):
    """An example. project, version: where it is from. framework: by whose form it is a test."""

    title: str
    path: str
    href: str
    project: str
    version: str
    framework: str
    language: str
    summary: str
    parts: list[TestExamplePart]
    verdict: TestVerdict


class ExercisedElement(msgspec.Struct, frozen=True, kw_only=True):
    """An element that an example calls. name: as it is known there."""

    name: str
    href: str


class ShownBy(msgspec.Struct, frozen=True, kw_only=True):
    """An example of an element. project, version: where it is from."""

    title: str
    path: str
    href: str
    project: str
    version: str
    verdict: TestVerdict


class ElementTested(msgspec.Struct, frozen=True, kw_only=True):
    """An element that examples show. name: within its module. left: how many more there are."""

    path: str
    name: str
    kind: str
    href: str
    examples: list[ShownBy]
    left: int = 0


class ElementUntested(msgspec.Struct, frozen=True, kw_only=True):
    """An element that none shows."""

    path: str
    name: str
    kind: str
    href: str


class ModuleTested(msgspec.Struct, frozen=True, kw_only=True):
    """The elements of a module: those that examples show, and the others. left: how many more of these there are."""

    path: str
    href: str
    shown: list[ElementTested]
    others: list[ElementUntested]
    left: int = 0


class Tested(msgspec.Struct, frozen=True, kw_only=True):
    """What is tested of a release, by module. elements: how many can be called or made; shown: how many of them by an
    example; examples: how many, by how they went."""

    project: str
    title: str
    version: str
    elements: int
    shown: int
    examples: dict[str, int]
    modules: list[ModuleTested]
