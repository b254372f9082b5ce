"""Work that lost its locks to another run, or stored what another stored at the same time, begins again."""

from __future__ import annotations

import stamina
from django.db import IntegrityError, OperationalError

#: MariaDB error codes: lock wait timeout exceeded, deadlock found. Both rolled the transaction back.
_LOCKS_LOST = frozenset({1205, 1213})


#: Duplicate entry for a unique key; a row that another still refers to.
_DUPLICATE, _REFERRED = 1062, 1451


def _has_lost_locks(error: Exception) -> bool:
    return isinstance(error, OperationalError) and bool(error.args) and error.args[0] in _LOCKS_LOST


def _has_lost_race(error: Exception) -> bool:
    return _has_lost_locks(error) or (isinstance(error, IntegrityError) and error.args[:1] == (_DUPLICATE,))


def _has_been_joined(error: Exception) -> bool:
    return _has_lost_locks(error) or (isinstance(error, IntegrityError) and error.args[:1] == (_REFERRED,))


#: Decorates what may safely begin again; the last attempt's error is raised.
retried_on_deadlock = stamina.retry(on=_has_lost_locks, attempts=5, wait_initial=0.1, wait_max=3.0)
#: The same, of what removes a row with all that hang on it: a second look finds what has joined them meanwhile.
retried_on_removal = stamina.retry(on=_has_been_joined, attempts=5, wait_initial=0.1, wait_max=3.0)
#: The same, of what is stored by its content: a second look finds what the other has stored.
retried_on_race = stamina.retry(on=_has_lost_race, attempts=5, wait_initial=0.1, wait_max=3.0)
