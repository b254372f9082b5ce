"""Jobs of the queue."""

from __future__ import annotations

import logging
import os
from pkgutil import resolve_name

from django.db import OperationalError
from django_tasks import task

from zarbek.service.common.watched_process import TRY_LATER

logger = logging.getLogger(__name__)
#: Asked for by name: what runs a run starts others, by this task.
_EXECUTE = "zarbek.service.publishing.execution:execute"


@task()
def execute_run(run_id: int, attempt: int) -> None:
    """Take a run through its stages; attempt: the one that the job was made for."""
    try:
        resolve_name(_EXECUTE)(run_id, attempt)
    except OperationalError as error:
        # The database went away in the midst of a run. Whoever watches this process takes the run up again.
        logger.warning("run %s lost the database: %s", run_id, error)
        os._exit(TRY_LATER)
