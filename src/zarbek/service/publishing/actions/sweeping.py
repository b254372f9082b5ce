"""Removing what is of no more use once a run is long over: its bundle, its log, the results of jobs, and what uploads
that broke off have left."""

from __future__ import annotations

import time
from datetime import timedelta
from pathlib import Path

from django.conf import settings
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from zarbek.service.publishing.models import GOING, LogLine, Run

#: Rows and files a turn.
STEP = 500
#: Results of jobs, and what an upload leaves that breaks off.
JOBS_KEPT_FOR = timedelta(days=7)
UPLOADS_KEPT_FOR_S = 86_400.0


def sweep_runs() -> int:
    """Remove some of it; how much."""
    return _sweep_bundles() + _sweep_archives() + _sweep_logs() + _sweep_jobs() + _sweep_uploads()


def _sweep_bundles() -> int:
    """Bundles of runs that have ended so long ago that nobody tries them again."""
    limit = timezone.now() - timedelta(days=settings.KEEP_BUNDLES_DAYS)
    over = Run.objects.filter(finished_at__lt=limit).exclude(bundle="").exclude(state__in=GOING)
    names = set(over.values_list("bundle", flat=True)[:STEP])
    used = set(Run.objects.filter(bundle__in=names).exclude(finished_at__lt=limit).values_list("bundle", flat=True))
    for name in sorted(names - used):
        path = Path(settings.MEDIA_ROOT, name)
        if path.is_file() and path.stat().st_mtime > limit.timestamp():
            continue  # The same bytes have just come again.
        path.unlink(missing_ok=True)
        Run.objects.filter(bundle=name, finished_at__lt=limit).update(bundle="")
    return len(names - used)


def _sweep_archives() -> int:
    """Archives that were sent long ago and that no run is about to gather."""
    limit, removed = time.time() - settings.KEEP_BUNDLES_DAYS * 86_400, 0
    wanted = {run.origin.get("archive") for run in Run.objects.filter(state__in=GOING).only("origin")}
    for path in sorted(Path(settings.MEDIA_ROOT, "bundles").glob("*/*.archive"))[:STEP]:
        if path.stat().st_mtime < limit and f"bundles/{path.parent.name}/{path.name}" not in wanted:
            path.unlink(missing_ok=True)
            removed += 1
    return removed


def _sweep_logs() -> int:
    limit = timezone.now() - timedelta(days=settings.KEEP_LOGS_DAYS)
    lines = list(LogLine.objects.filter(run__finished_at__lt=limit).order_by("pk").values_list("pk", flat=True)[:STEP])
    return int(LogLine.objects.filter(pk__in=lines).delete()[0])


def _sweep_jobs() -> int:
    over = DBTaskResult.objects.finished().filter(finished_at__lt=timezone.now() - JOBS_KEPT_FOR)
    return int(DBTaskResult.objects.filter(pk__in=list(over.values_list("pk", flat=True)[:STEP])).delete()[0])


def _sweep_uploads() -> int:
    limit, removed = time.time() - UPLOADS_KEPT_FOR_S, 0
    for folder, pattern in (("bundles", "upload-*"), ("incoming", "incoming-*")):
        for path in sorted(Path(settings.MEDIA_ROOT, folder).glob(pattern))[:STEP]:
            if path.stat().st_mtime < limit:
                path.unlink(missing_ok=True)
                removed += 1
    return removed
