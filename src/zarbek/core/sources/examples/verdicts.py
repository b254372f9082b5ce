"""How examples went, by the runs of tests that files tell of."""

from __future__ import annotations

from collections.abc import Iterable

from zarbek.core.model.example import State, Verdict
from zarbek.core.sources.examples.test_names import keys_of
from zarbek.core.sources.junit import Case

_WORSE: tuple[State, ...] = ("skipped", "passed", "failed")


class Verdicts:
    """Runs by the names of their tests."""

    def __init__(self, cases: Iterable[Case]) -> None:
        self._by_last: dict[str, list[tuple[list[str], Case]]] = {}
        for case in cases:
            last = keys_of(case.name)[-1:]
            keys = [*keys_of(case.group), *keys_of(case.name)]
            for key in last:
                self._by_last.setdefault(key, []).append((keys, case))

    def of(self, path: str, *, is_only: bool) -> Verdict:
        """How a test went: of several runs, with other parameters, the worst, and how long all of them took. path: of
        its module, what holds it and its own name. is_only: whether no other test of the project has its last name, so
        that what a runner calls its group needs not be like the path."""
        wanted = keys_of(path)
        runs = self._by_last.get(wanted[-1], []) if wanted else []
        parts = set(wanted)
        found = [case for keys, case in runs if parts.issuperset(keys) or parts.issubset(keys)]
        if not found and is_only:
            found = [case for _, case in runs]
        if not found:
            return Verdict(path)
        worst = max(found, key=lambda case: _WORSE.index(case.state))
        times = [case.seconds for case in found if case.seconds is not None]
        return Verdict(path, worst.state, worst.at, round(sum(times), 6) if times else None, worst.told)
