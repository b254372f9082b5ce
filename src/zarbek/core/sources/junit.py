"""Files that say how tests went, in the JUnit form.

No standard has that form; ``testsuite``, ``testcase`` with ``name``, ``classname``, ``time`` and ``timestamp``,
``failure``, ``error`` and ``skipped`` are read, which all that write it have in common.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Literal, NamedTuple

from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException

from zarbek.core.errors import UnreadableText

State = Literal["passed", "failed", "skipped"]
MAX_CASES = 200_000
#: Of texts, in characters.
_MAX_TOLD = 300


class Case(NamedTuple):
    """One run of a test. name, group: as the runner calls them. at: when (as written), if that is known. seconds: how
    long it took. told: what was said of a failure, or why it was skipped."""

    name: str
    group: str
    state: State
    at: str = ""
    seconds: float | None = None
    told: str = ""


def read_cases(text: str, what: str = "results of tests") -> list[Case]:
    """The runs that a file tells of. what: it should hold. Raises UnreadableText: for what is not in this form, asks
    for entities, or tells of more runs than anybody has."""
    try:
        root = ElementTree.fromstring(text)
    except (ElementTree.ParseError, DefusedXmlException, ValueError, RecursionError) as error:
        line = getattr(error, "position", (1, 0))[0]
        raise UnreadableText(f"as {what}: {error or type(error).__name__}", line) from error
    if root.tag not in ("testsuites", "testsuite"):
        raise UnreadableText(f"as {what}: its root is neither testsuites nor testsuite", 1)
    found: list[Case] = []
    for case in _cases(root):
        if len(found) == MAX_CASES:
            raise UnreadableText(f"it tells of more than {MAX_CASES:,} tests", 1)
        found.append(case)
    return found


def _cases(root: Any) -> Iterator[Case]:
    for suite in root.iter("testsuite"):
        for case in suite.findall("testcase"):
            yield _case(case, suite, root)


def _case(case: Any, suite: Any, root: Any) -> Case:
    fault = next((found for tag in ("failure", "error") if (found := case.find(tag)) is not None), None)
    skipped = case.find("skipped")
    state: State = "failed" if fault is not None else "skipped" if skipped is not None else "passed"
    told = _said(fault if fault is not None else skipped)
    at = (case.get("timestamp") or suite.get("timestamp") or root.get("timestamp") or "")[:_MAX_TOLD]
    group = case.get("classname") or case.get("class") or suite.get("name") or ""
    return Case(case.get("name") or "", group, state, at, _seconds(case.get("time")), told)


def _said(node: Any) -> str:
    text = (node.get("message") or node.text or "") if node is not None else ""
    return " ".join(text.split())[:_MAX_TOLD]


def _seconds(text: str | None) -> float | None:
    try:
        value = float((text or "").replace(",", ""))
    except ValueError:
        return None
    return value if 0 <= value < 1e7 else None
