"""Running the stages of a run to its end."""

from __future__ import annotations

import logging

from django.db import OperationalError

from zarbek.core.errors import ZarbekError
from zarbek.service.common.asker import Asker, asking
from zarbek.service.common.deadlocks import retried_on_deadlock, retried_on_race
from zarbek.service.common.metrics import REFERENCES, STAGE_SECONDS
from zarbek.service.common.problems import Problem
from zarbek.service.common.storage import storage_problem
from zarbek.service.publishing.actions.cache_epoch import renew_pages
from zarbek.service.publishing.actions.progress import RunProgress, RunTakenOver
from zarbek.service.publishing.actions.run_state import claim_run, close_run, discard_unseen
from zarbek.service.publishing.actions.runs import start_next
from zarbek.service.publishing.pipeline import Publish, Stage, list_stages

logger = logging.getLogger(__name__)


def execute(run_id: int, attempt: int) -> None:
    """Run all stages. Whatever happens, the run ends in a state that says what happened."""
    run = claim_run(run_id, attempt)
    if run is None:
        return
    publish = Publish(run, RunProgress(run))
    try:
        with asking(Asker(name=run.actor, is_portal=True)):  # It sees everything, and acts for who asked for it.
            _run_all(publish)
    except RunTakenOver:
        logger.warning("run %s attempt %s was taken over", run_id, attempt)


def _run_all(publish: Publish) -> None:
    """Raises RunTakenOver, having written nothing since, where another attempt has the run now."""
    try:
        for name, stage in list_stages():
            publish.progress.enter(name)
            with STAGE_SECONDS.labels(name).time():
                _run_stage(stage, publish)
        _end(publish, "done", counts=publish.counts)
        _count_references(publish)
    except RunTakenOver:
        raise
    except (ZarbekError, Problem) as error:
        _fail(publish, str(error) if isinstance(error, ZarbekError) else error.detail)
    except OSError as error:
        problem = storage_problem(error)
        if problem is None:
            logger.exception("run %s failed", publish.run.pk)
        _fail(publish, problem.detail if problem is not None else f"{type(error).__name__}: {error}.")
    except OperationalError:
        raise  # The database went away: the sweep takes the run up again.
    except Exception as error:  # The worker's outer edge: the run must end and say so.
        logger.exception("run %s failed", publish.run.pk)
        _fail(publish, f"{type(error).__name__}: {error}. This is a fault of the portal; its log has more.")


@retried_on_race
def _run_stage(stage: Stage, publish: Publish) -> None:
    """Stages can be taken up at any point, so one that lost its locks begins again."""
    stage(publish)


def _end(publish: Publish, state: str, **values: object) -> None:
    """The run's last word; the project's next one begins. Who sees that a run has ended sees the pages that it
    changed: they are made anew before."""
    renew_pages({publish.run.project, *publish.renewed})
    _close(publish, state, **values)
    start_next(publish.run.project)


@retried_on_deadlock
def _close(publish: Publish, state: str, **values: object) -> None:
    """What was stored for a look only, or never went live, goes with its run."""
    run, release = publish.run, publish.release
    with publish.progress.fenced():
        if release is not None and (run.is_dry or state == "failed"):
            discard_unseen(release)
        close_run(run, state, **values)


def _count_references(publish: Publish) -> None:
    if not publish.run.is_dry:
        for outcome in ("held", "dangling", "stale", "outside"):
            REFERENCES.labels(outcome).inc(publish.counts.get(outcome, 0))


def _fail(publish: Publish, reason: str) -> None:
    publish.progress.log(reason, "error")
    _end(publish, "failed", problem=reason)
