"""Processes that do hostile work: started clean, bound in time, memory and files, gone with whoever
started them."""

from __future__ import annotations

import contextlib
import ctypes
import os
import signal
import subprocess
import sys
import time
from dataclasses import dataclass
from pathlib import Path

if sys.platform != "win32":
    import resource

_PR_SET_PDEATHSIG = 1
#: What nice(1) adds where nobody says how much.
_BACKGROUND_NICE = 10
_AUTOGROUP = Path("/proc/self/autogroup")
_HANDLED = (signal.SIGTERM, signal.SIGINT, signal.SIGALRM)


@dataclass(frozen=True, slots=True, kw_only=True)
class Bounds:
    """What a process may take: seconds of wall time, bytes of memory and of its largest file, open files."""

    time_s: float = 1800.0
    memory_bytes: int = 4 * 2**30
    file_bytes: int = 4 * 2**30
    open_files: int = 1024


def die_with_parent(number: int = signal.SIGKILL) -> None:
    """Have this process get a signal when the one that started it ends (prctl(2), Linux only).

    To be called in the child: fork and a change of user forget it.
    """
    if sys.platform == "linux":
        ctypes.CDLL(None, use_errno=True).prctl(_PR_SET_PDEATHSIG, number, 0, 0, 0)


def begin_in_background() -> None:
    """As the first act of a child that leads a session: gone with its parent, and behind whoever answers people.

    Where the kernel shares the processor among sessions first (sched(7), autogroup), a nice value alone counts within
    its own session only: the session is told, too.
    """
    die_with_parent()
    if sys.platform != "win32":
        os.nice(_BACKGROUND_NICE)
        _nice_session()


def _nice_session() -> None:
    for _ in range(10):
        try:
            _AUTOGROUP.write_text(str(_BACKGROUND_NICE), encoding="ascii")
        except BlockingIOError:  # Who is not privileged is heard once in a tenth of a second, all taken together.
            time.sleep(0.1)
        except OSError:  # A kernel without them: the nice value does it alone.
            return
        else:
            return


def start_clean() -> None:
    """As the first act of a forked child: no handler of its parent, and gone with it."""
    for number in _HANDLED:
        signal.signal(number, signal.SIG_DFL)
    die_with_parent()


def hold_to(bounds: Bounds) -> None:
    """Hold this process, and all that it starts, to its bounds; time is for the parent to watch."""
    _lower(resource.RLIMIT_AS, bounds.memory_bytes)
    _lower(resource.RLIMIT_FSIZE, bounds.file_bytes)
    _lower(resource.RLIMIT_NOFILE, bounds.open_files)
    _lower(resource.RLIMIT_CORE, 0)
    cores = os.cpu_count() or 1
    _lower(resource.RLIMIT_CPU, int(bounds.time_s) * cores + 10)


def begin_bound(file_bytes: int) -> None:
    """As a child's first act: gone with its parent, and no file of it larger than so many bytes."""
    die_with_parent()
    if sys.platform != "win32":
        _lower(resource.RLIMIT_FSIZE, file_bytes)


def _lower(kind: int, wanted: int) -> None:
    _, hard = resource.getrlimit(kind)
    limit = wanted if hard == resource.RLIM_INFINITY else min(wanted, hard)
    resource.setrlimit(kind, (limit, limit))


def kill_group(process: subprocess.Popen[bytes]) -> None:
    """End a process that leads a session, with all that it started, at once."""
    with contextlib.suppress(ProcessLookupError):
        os.killpg(process.pid, signal.SIGKILL)
    process.wait()


def start_bound(command: list[str], *, environment: dict[str, str] | None = None) -> subprocess.Popen[bytes]:
    """A child in the background with pipes to its input and output that leads a session of its own and dies with us."""
    return subprocess.Popen(
        command, env=environment, stdin=subprocess.PIPE, stdout=subprocess.PIPE, start_new_session=True,
        preexec_fn=begin_in_background,
    )  # fmt: skip
