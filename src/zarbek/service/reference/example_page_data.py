"""What pages show of examples. Texts are safe HTML."""

from __future__ import annotations

import msgspec

from zarbek.core.model.example import Verdict
from zarbek.core.writing.html import SafeHtml
from zarbek.service.common.html import HtmlHolder


class ExamplePartView(HtmlHolder):
    """kind: ``set-up``, ``step`` or ``outcome``. code: with every name that is known a link. how: of an outcome, the
    verb between what is looked at and the result. line: of the file."""

    kind: str
    code: SafeHtml
    how: str
    result: SafeHtml
    line: int


class ExampleView(HtmlHolder):
    """An example. project, version: where it is from. exercises: what it calls, each once."""

    title: str
    path: str
    href: str
    project: str
    version: str
    framework: str
    language: str
    summary: SafeHtml
    parts: list[ExamplePartView]
    verdict: Verdict


class ExercisedView(msgspec.Struct):
    """An element that an example calls. name: as it is known there."""

    name: str
    href: str
