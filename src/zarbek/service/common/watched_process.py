"""What the processes of a worker have in common, which is watched from outside and started again where it ends."""

from __future__ import annotations

import logging
import signal
import sys
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import OperationalError

logger = logging.getLogger(__name__)
#: Of sysexits.h: it may go better later.
TRY_LATER = 75


@contextmanager
def until_told_to_stop() -> Iterator[None]:
    """What is done within ends at SIGTERM, and with TRY_LATER where the database goes away."""
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    try:
        yield
    except OperationalError as error:
        logger.warning("the database went away: %s", error)
        sys.exit(TRY_LATER)
