"""Runs, their logs, and what the portal's processes agree upon."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import models
from django.db.models import Exists, OuterRef, Q

from zarbek.service.catalog.models import Project
from zarbek.service.catalog.visibility import ReadableManager, readable_by
from zarbek.service.common.asker import current_asker
from zarbek.service.common.fields import identifier

#: States of a run that has not ended.
GOING = ("queued", "running")


class ReadableRuns(ReadableManager):
    """Runs without those of projects that are kept from the asker. What is published for the first time is of no
    project yet: it is kept from whom a new project is."""

    path = "project"
    is_slug = True

    def get_queryset(self) -> models.QuerySet[Any]:
        """Without what is kept from the asker."""
        rows, asker = super().get_queryset(), current_asker()
        if asker.sees_everything or settings.NEW_PROJECTS == "public":
            return rows
        own = Q(actor=asker.name) if asker.name else Q(pk=None)
        return rows.filter(Exists(Project.everything.filter(slug=OuterRef("project"))) | own)


class Run(models.Model):
    """One publish attempt. Those of one project go one at a time, in order of arrival."""

    project = identifier(100)
    version = identifier(100, blank=True)
    is_preview = models.BooleanField(default=False)
    is_dry = models.BooleanField(default=False)
    actor = models.CharField(max_length=150, blank=True)
    #: queued, running, done or failed.
    state = models.CharField(max_length=10, default="queued", db_index=True)
    stage = models.CharField(max_length=20, blank=True)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    #: Raised when a dead worker's run is taken up again; an older attempt may write nothing more.
    attempt = models.PositiveIntegerField(default=1)
    #: Its job in the queue, none while another run of its project goes; since when it waits there, and the worker
    #: that took it.
    job = models.UUIDField(null=True)
    queued_at = models.DateTimeField(auto_now_add=True)
    worker = models.CharField(max_length=40, blank=True, db_collation="ascii_bin")
    #: When its worker was last known to live, when its stage began, and when that last came forward.
    heartbeat_at = models.DateTimeField(null=True)
    stage_at = models.DateTimeField(null=True)
    progress_at = models.DateTimeField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)
    finished_at = models.DateTimeField(null=True)
    bundle = models.CharField(max_length=300, blank=True)
    bundle_digest = models.CharField(max_length=64, blank=True, db_collation="ascii_bin")
    #: By which a request that is sent again is known; none once the run has failed.
    idempotency_key = models.CharField(max_length=100, null=True)
    #: Where to gather from, for runs that the portal gathers itself.
    origin = models.JSONField(default=dict)
    #: Names that the project provides since this run, or no longer does.
    namespace_changes = models.JSONField(default=list)
    problem = models.TextField(blank=True)
    report = models.BinaryField(default=b"")
    counts = models.JSONField(default=dict)

    objects = ReadableRuns()

    class Meta:
        ordering = ["-id"]
        constraints = [models.UniqueConstraint(fields=["project", "idempotency_key"], name="run_once_a_key")]
        indexes = [models.Index(fields=["project", "state"], name="run_by_project")]


class CacheEpoch(models.Model):
    """How often something changed what the pages of a project say, or those of all."""

    #: The project's slug; empty for all. A project that comes again goes on from where it was.
    scope = identifier(100, unique=True, blank=True, default="")
    number = models.BigIntegerField(default=0)


class ProjectStart(models.Model):
    """A row to lock while a run of a project is started; the project itself may not be there yet."""

    project = identifier(100, unique=True)


class ScheduledChore(models.Model):
    """When a chore is due next. started_at: since when worker, who had its last turn, is at it; none when done."""

    name = models.CharField(max_length=60, unique=True)
    due_at = models.DateTimeField()
    started_at = models.DateTimeField(null=True)
    worker = models.CharField(max_length=40, blank=True, db_collation="ascii_bin")


class LogLine(models.Model):
    """Something that a run told while it went."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="lines")
    at = models.DateTimeField(auto_now_add=True)
    level = models.CharField(max_length=10, default="info")
    text = models.TextField()

    objects = readable_by("run__project", is_slug=True)

    class Meta:
        ordering = ["id"]
