"""Work that lost its locks to another run begins again, as MariaDB asks."""

from __future__ import annotations

import stamina
from django.db import OperationalError

#: MariaDB error codes: lock wait timeout exceeded, deadlock found. Both rolled the transaction back.
_LOCKS_LOST = frozenset({1205, 1213})


def _has_lost_locks(error: Exception) -> bool:
    return isinstance(error, OperationalError) and bool(error.args) and error.args[0] in _LOCKS_LOST


#: Decorates what may safely begin again; the last attempt's error is raised.
retried_on_deadlock = stamina.retry(on=_has_lost_locks, attempts=5, wait_initial=0.1, wait_max=3.0)
