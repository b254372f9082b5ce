"""How tests went, from files in the JUnit form.

No standard has that form; ``testsuite``, ``testcase`` with ``name``, ``classname``, ``time`` and ``timestamp``,
``failure``, ``error`` and ``skipped`` are read, which all that write it have in common.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException

from zarbek.core.errors import UnreadableText
from zarbek.core.model.example import State, Verdict
from zarbek.core.sources.examples.test_names import keys_of

MAX_CASES = 200_000
#: Of texts, in characters.
_MAX_TOLD = 300
_WORSE: tuple[State, ...] = ("not-run", "skipped", "passed", "failed")


@dataclass(frozen=True, slots=True)
class Case:
    """One run of a test. name, group: as the runner calls them."""

    name: str
    group: str
    verdict: Verdict


def read_cases(text: str) -> list[Case]:
    """The runs that a file tells of. Raises UnreadableText: for what is not in the JUnit form, asks for entities, or
    tells of more runs than anybody has."""
    try:
        root = ElementTree.fromstring(text)
    except (ElementTree.ParseError, DefusedXmlException, ValueError, RecursionError) as error:
        line = getattr(error, "position", (1, 0))[0]
        raise UnreadableText(f"as results of tests: {error or type(error).__name__}", line) from error
    if root.tag not in ("testsuites", "testsuite"):
        raise UnreadableText("as results of tests: its root is neither testsuites nor testsuite", 1)
    found: list[Case] = []
    for case in _cases(root):
        if len(found) == MAX_CASES:
            raise UnreadableText(f"it tells of more than {MAX_CASES:,} tests", 1)
        found.append(case)
    return found


def _cases(root: Any) -> Iterator[Case]:
    for suite in root.iter("testsuite"):
        for case in suite.findall("testcase"):
            at = (case.get("timestamp") or suite.get("timestamp") or root.get("timestamp") or "")[:40]
            group = case.get("classname") or case.get("class") or suite.get("name") or ""
            yield Case(case.get("name") or "", group, _verdict(case, at))


def _verdict(case: Any, at: str) -> Verdict:
    fault = next((found for tag in ("failure", "error") if (found := case.find(tag)) is not None), None)
    skipped = case.find("skipped")
    state: State = "failed" if fault is not None else "skipped" if skipped is not None else "passed"
    said = fault if fault is not None else skipped
    told = " ".join(((said.get("message") or said.text or "") if said is not None else "").split())[:_MAX_TOLD]
    return Verdict("", state, at, _seconds(case.get("time")), told)


def _seconds(text: str | None) -> float | None:
    try:
        value = float((text or "").replace(",", ""))
    except ValueError:
        return None
    return value if 0 <= value < 1e7 else None


class Verdicts:
    """Runs by the names of their tests."""

    def __init__(self, cases: Iterable[Case]) -> None:
        self._by_last: dict[str, list[tuple[list[str], Verdict]]] = {}
        for case in cases:
            last = keys_of(case.name)[-1:]
            keys = [*keys_of(case.group), *keys_of(case.name)]
            for key in last:
                self._by_last.setdefault(key, []).append((keys, case.verdict))

    def of(self, path: str, *, is_only: bool) -> Verdict:
        """How a test went: of several runs, with other parameters, the worst, and how long all of them took. path: of
        its module, what holds it and its own name. is_only: whether no other test of the project has its last name, so
        that what a runner calls its group needs not be like the path."""
        wanted = keys_of(path)
        runs = self._by_last.get(wanted[-1], []) if wanted else []
        parts = set(wanted)
        found = [verdict for keys, verdict in runs if parts.issuperset(keys) or parts.issubset(keys)]
        if not found and is_only:
            found = [verdict for _, verdict in runs]
        if not found:
            return Verdict(path)
        worst = max(found, key=lambda verdict: _WORSE.index(verdict.state))
        times = [verdict.seconds for verdict in found if verdict.seconds is not None]
        return Verdict(path, worst.state, worst.at, round(sum(times), 6) if times else None, worst.told)
