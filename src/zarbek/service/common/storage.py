"""What to say of a disk that takes no more, or nothing at all."""

from __future__ import annotations

import errno

from zarbek.service.common.problems import NoRoom, Problem, Unavailable

_FULL = frozenset({errno.ENOSPC, errno.EDQUOT, errno.EFBIG})
_CLOSED = frozenset({errno.EROFS, errno.EACCES, errno.EPERM, errno.EIO, errno.EMFILE, errno.ENFILE})


def storage_problem(error: OSError) -> Problem | None:
    """The problem that an error of the disk is for who asks; None for an error of another kind."""
    if error.errno in _FULL:
        return NoRoom("The portal's disk is full. Nothing was kept. Tell an administrator.")
    if error.errno in _CLOSED:
        return Unavailable("The portal cannot write to its disk now. Nothing was kept. Tell an administrator.")
    return None
