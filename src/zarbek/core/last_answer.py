"""What was computed last, for who asks the same again and again."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

T = TypeVar("T")


class LastAnswer(Generic[T]):
    """The answer to one question, until the question is another one."""

    def __init__(self) -> None:
        self._asked: tuple[object, ...] | None = None

    def to(self, asked: tuple[object, ...], answer: Callable[[], T]) -> T:
        """asked: all that the answer follows from, in values that nobody changes."""
        if self._asked != asked:
            self._answer = answer()
            self._asked = asked
        return self._answer
