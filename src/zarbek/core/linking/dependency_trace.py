"""Which names of other projects an answer rests on, so that only their change asks for it again.

A name asked for is a pair of project and key; ``KEY.*`` stands for all members of a type. Where
nobody owns a name, the project is ``NOBODY`` and the key ``FAMILY:`` with its first two parts, by which
a project that brings it in that family of languages will be recognised. ``RELEASES`` as key stands for
which releases there are.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Hashable
from itertools import islice
from typing import Any, TypeVar

Asked = tuple[str, str]
NOBODY = "?"
RELEASES = "@"
NOTHING: frozenset[Asked] = frozenset()
T = TypeVar("T")
_PARTS = {"/": re.compile("/"), ".": re.compile(r"\.")}


def made_key(word: str) -> str:
    """The key for whether a word may be a name that a macro, or text that could not be read, declares."""
    return f"{RELEASES}{word}"


class DependencyTrace:
    """Collects what is asked; remembered answers bring back what they rest on."""

    def __init__(self) -> None:
        #: In order, with repeats: what an answer rests on is what was added since it began.
        self._asked: list[Asked] = []

    def ask(self, project: str, key: str) -> None:
        """Note that an answer rests on a name of another project, there or not."""
        self._asked.append((project, key))

    def ask_members(self, project: str, key: str) -> None:
        """Note that an answer rests on all that a name of another project has below it."""
        self._asked.append((project, key + ".*"))

    def ask_nobody(self, key: str, family: str) -> None:
        """family: of languages, empty for prose, which names what any of them has."""
        self._asked.append((NOBODY, f"{family}:{root_of(key)}"))

    def bring(self, asked: frozenset[Asked]) -> None:
        """What a remembered answer rests on."""
        self._asked += asked

    def mark(self) -> int:
        """Where the trace stands now, for ``since``."""
        return len(self._asked)

    def since(self, mark: int) -> frozenset[Asked]:
        """What was asked since a mark, each once."""
        return frozenset(self._asked[mark:]) if len(self._asked) > mark else NOTHING

    def clear(self) -> None:
        """Between answers that do not rest on one another."""
        self._asked.clear()

    def remembered(self, memo: dict[Any, tuple[T, frozenset[Asked]]], key: Hashable, compute: Callable[[], T]) -> T:
        """The answer from the memo, or computed and put there, with what it rests on."""
        known = memo.get(key)
        if known is None:
            mark = len(self._asked)
            answer = compute()
            memo[key] = (answer, self.since(mark))
            return answer
        if known[1]:
            self._asked += known[1]
        return known[0]


def root_of(key: str) -> str:
    """The first two parts of a key: a namespace worth waiting for."""
    parts = _PARTS["/" if "/" in key else "."].finditer(key)
    cuts = [match.start() for match in islice(parts, 2)]
    return key if len(cuts) < 2 else key[: cuts[1]]
