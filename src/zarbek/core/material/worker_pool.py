"""Hostile work in processes beside one another, each bound in time: what hangs or dies is left out."""

from __future__ import annotations

import gc
import multiprocessing
import os
import signal
import threading
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import BrokenExecutor, ProcessPoolExecutor
from contextlib import contextmanager, suppress
from itertools import islice
from typing import Any, Generic, TypeVar

from zarbek.core.material.processes import start_clean

T = TypeVar("T")
R = TypeVar("R")
_FEW = 24
#: A result that has not come after so many limits will not: others of its batch stand before it.
_PATIENCE = 3
#: Of many tasks so many go to a process at a time.
_MANY, _BATCH = 400, 4
#: So many batches of each process are begun before their turn: what is done waits in memory.
_AHEAD = 8
_COLLECT_EVERY = 400
#: An error that comes while something is cleared away is lost there (Python Language Reference 3.3.1): so long
#: after, it comes again.
_AGAIN_S = 1.0
_done_here = 0
_work_here: Callable[[Any], Any] | None = None


class WorkerPool(Generic[T, R]):
    """Does the same work for many tasks. Results come in the order of tasks.

    work: what a forked process inherits with all that it holds. limit_of: seconds of the processor that a task may
    take; work itself should end there. lost: the result of a task that ended its process (None), or that was deaf
    to its limit of so many seconds.
    """

    def __init__(
        self, work: Callable[[T], R], limit_of: Callable[[T], float], lost: Callable[[T, float | None], R]
    ) -> None:
        self.work, self.limit_of, self.lost = work, limit_of, lost

    def run(self, tasks: Sequence[T], *, is_guarded: bool) -> Iterator[R]:
        """is_guarded: do even a few tasks in processes that can be ended, where nobody vouches for them."""
        is_apart = is_guarded or (len(tasks) >= _FEW and (os.cpu_count() or 1) > 1)
        if not is_apart or os.name != "posix" or multiprocessing.current_process().daemon:
            yield from _do_here(self.work, tasks)
            return
        done = 0
        while done < len(tasks):
            size = _BATCH if len(tasks) - done > _MANY else 1
            for result in self._run_apart(tasks[done:], size):
                done += 1
                yield result

    def _run_apart(self, tasks: Sequence[T], size: int) -> Iterator[R]:
        """Ends after a task that is lost, or before the batch in which one stands."""
        workers = 1 if len(tasks) < _FEW else min(os.cpu_count() or 1, 8)
        pool = ProcessPoolExecutor(workers, mp_context=multiprocessing.get_context("fork"), initializer=_begin,
                                   initargs=(self.work,))  # fmt: skip
        batches = iter([tasks[at : at + size] for at in range(0, len(tasks), size)])
        begun = deque((batch, pool.submit(_do_batch, batch)) for batch in islice(batches, _AHEAD * workers))
        try:
            while begun:
                batch, found = begun.popleft()
                try:
                    yield from found.result(timeout=sum(_PATIENCE * self.limit_of(task) for task in batch))
                except (TimeoutError, BrokenExecutor) as error:
                    if size > 1:
                        yield from self._run_apart(batch, 1)
                    else:
                        is_dead = isinstance(error, BrokenExecutor)
                        yield self.lost(batch[0], None if is_dead else self.limit_of(batch[0]))
                    return
                del found  # With its results, which may be large.
                with suppress(BrokenExecutor):  # It is told where what was begun before it ends; the rest comes after.
                    begun.extend((batch, pool.submit(_do_batch, batch)) for batch in islice(batches, 1))
        finally:
            _end(pool)


def _do_here(work: Callable[[T], R], tasks: Sequence[T]) -> Iterator[R]:
    """In this process, as in those of a pool: what work leaves behind dies by itself, and the collector, which would
    look through large trees again and again, is called now and then."""
    was_enabled = gc.isenabled()
    for number, task in enumerate(tasks):
        gc.disable()
        try:
            result = work(task)
        finally:
            if was_enabled:
                gc.enable()
        yield result
        if number % _COLLECT_EVERY == _COLLECT_EVERY - 1:
            gc.collect()


def _do_batch(tasks: Sequence[Any]) -> list[Any]:
    global _done_here
    assert _work_here is not None, "a process that nobody began"
    results = list(map(_work_here, tasks))
    _done_here += len(tasks)
    if _done_here >= _COLLECT_EVERY:
        _done_here = 0
        gc.collect()
    return results


def _begin(work: Callable[[Any], Any]) -> None:
    global _work_here
    _work_here = work
    start_clean()
    gc.disable()  # What work leaves behind dies by itself; what does not is collected now and then.


def _end(pool: ProcessPoolExecutor) -> None:
    """Its processes end at once, whatever they are at: their results are here, or nobody wants them."""
    processes = list((pool._processes or {}).values())
    pool.shutdown(wait=False, cancel_futures=True)
    for process in processes:
        process.kill()
    for process in processes:
        process.join()


@contextmanager
def time_limit(limit_s: float, error: Exception) -> Iterator[None]:
    """Raise an error in work that takes more than so many seconds of the processor: on a busy machine, waiting is no
    fault of the work. Signals reach the main thread only; elsewhere nothing is bound."""
    if threading.current_thread() is not threading.main_thread() or not hasattr(signal, "setitimer"):
        yield
        return

    def stop(_number: int, _frame: object) -> None:
        raise error

    before = signal.signal(signal.SIGPROF, stop)
    signal.setitimer(signal.ITIMER_PROF, limit_s, _AGAIN_S)
    try:
        yield
    finally:
        signal.setitimer(signal.ITIMER_PROF, 0)
        signal.signal(signal.SIGPROF, before)
