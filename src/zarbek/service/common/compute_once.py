"""What is dear to make is made once, and kept while it is used."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, ParamSpec, TypeVar

P = ParamSpec("P")
K = TypeVar("K", bound=Hashable)
V = TypeVar("V")


class ComputeOnce(Generic[K, V]):
    """Things by what they are made from, the latest used, up to a weight in all; each is made once,
    however many threads ask for it at the same time. What the making raises is not kept.

    most: of the weight. weigh: of one thing; 1 if left out.
    """

    def __init__(self, most: int, weigh: Callable[[V], int] = lambda _: 1) -> None:
        self._most, self._weigh, self._weight = most, weigh, 0
        self._kept: OrderedDict[K, V] = OrderedDict()
        self._making: dict[K, Lock] = {}
        self._lock = Lock()

    def get(self, key: K, make: Callable[[], V]) -> V:
        """Raises what make raises."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
            making = self._making.setdefault(key, Lock())
        try:
            with making:  # Who asks meanwhile waits for the first.
                with self._lock:
                    if key in self._kept:
                        return self._kept[key]
                made = make()
                with self._lock:
                    self._keep(key, made)
                return made
        finally:
            with self._lock:
                self._making.pop(key, None)

    def clear(self) -> None:
        """Forget all that is kept."""
        with self._lock:
            self._kept.clear()
            self._weight = 0

    def _keep(self, key: K, made: V) -> None:
        if key in self._kept:  # Of another thread that waited for a making that failed.
            self._weight -= self._weigh(self._kept.pop(key))
        self._kept[key] = made
        self._weight += self._weigh(made)
        while self._weight > self._most and len(self._kept) > 1:
            self._weight -= self._weigh(self._kept.popitem(last=False)[1])


class Remembered(Generic[P, V]):
    """A function that remembers what it gave, by its arguments in order."""

    def __init__(self, make: Callable[P, V], most: int, weigh: Callable[[V], int]) -> None:
        self._make, self._given = make, ComputeOnce[tuple[object, ...], V](most, weigh)
        self.__doc__ = make.__doc__

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> V:
        """What it gave before, or gives now."""
        return self._given.get((args, *sorted(kwargs.items())), lambda: self._make(*args, **kwargs))

    def forget(self) -> None:
        """Remember nothing."""
        self._given.clear()


def remembering(most: int, weigh: Callable[[V], int]) -> Callable[[Callable[P, V]], Remembered[P, V]]:
    """Have a function remember what it gave, the latest used, up to a weight in all: how many it is does not say how
    large it is. Functions of the standard library's that do so count."""
    return lambda make: Remembered(make, most, weigh)
