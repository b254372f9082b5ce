"""Findings through their lives, waivers, and health over time."""

from __future__ import annotations

from typing import Any

from django.db import models

from zarbek.service.catalog.models import Project
from zarbek.service.catalog.visibility import ReadableManager, hidden_projects
from zarbek.service.common.fields import identifier

#: States of a finding that stands.
ALIVE = ("new", "open", "back")


class ReadableFindings(ReadableManager):
    """Findings without those of, and about, projects that are kept from the asker."""

    def get_queryset(self) -> models.QuerySet[Any]:
        """Without what is kept from the asker."""
        rows, hidden = super().get_queryset(), hidden_projects().slugs
        return rows.exclude(about__in=hidden) if hidden else rows


class ReadableWaivers(ReadableManager):
    """Waivers without those of, and about, projects that are kept from the asker."""

    def get_queryset(self) -> models.QuerySet[Any]:
        """Without what is kept from the asker."""
        rows = super().get_queryset()
        for slug in hidden_projects().slugs:
            rows = rows.exclude(target__startswith=f"{slug}/")
        return rows


class Waiver(models.Model):
    """Someone's decision to live with findings, until a day.

    Each of project, rule, target and fingerprint narrows what it covers; ``*`` stands for any text.
    """

    project = models.ForeignKey(Project, null=True, on_delete=models.CASCADE, related_name="waivers")
    rule = models.CharField(max_length=60, blank=True, db_collation="ascii_bin")
    target = identifier(700, blank=True)
    file = identifier(500, blank=True)
    fingerprint = models.CharField(max_length=16, blank=True, db_collation="ascii_bin")
    reason = models.TextField()
    person = models.CharField(max_length=150)
    until = models.DateField()
    created_at = models.DateTimeField(auto_now_add=True)
    #: When its end was noticed and told.
    ended_at = models.DateTimeField(null=True)

    objects = ReadableWaivers()

    class Meta:
        ordering = ["-id"]


class FindingRecord(models.Model):
    """One finding of a project through its life."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="findings")
    #: What it is known by from its first day, and what its rule computes now.
    fingerprint = models.CharField(max_length=16, db_collation="ascii_bin")
    computed = models.CharField(max_length=16, db_collation="ascii_bin", default="")
    #: Empty for the newest line of releases, else the line: ``1.x``.
    branch = identifier(100, blank=True, default="")
    rule = models.CharField(max_length=60, db_collation="ascii_bin")
    #: The project that the finding is about, and where it stands.
    about = identifier(100, blank=True, default="")
    #: ``PROJECT/NAME`` that it is about, as its document has it.
    target = identifier(700, blank=True, default="", db_index=True)
    subject = identifier(700, blank=True, default="")
    waiver = models.ForeignKey(Waiver, null=True, on_delete=models.SET_NULL, related_name="findings")
    severity = models.CharField(max_length=10)
    #: new, open, back, fixed, or retired with its line of releases.
    state = models.CharField(max_length=10)
    version = identifier(100)
    #: The release whose publish brought the finding about: ``SLUG VERSION``.
    cause = identifier(210)
    owner = models.CharField(max_length=200, blank=True)
    #: The finding's facts, as in reports.
    document = models.JSONField()
    first_run = models.BigIntegerField()
    last_run = models.BigIntegerField()
    #: The runs in which it began to stand, this time, and in which it was mended.
    since_run = models.BigIntegerField(default=0)
    since_at = models.DateTimeField(null=True, db_index=True)
    fixed_run = models.BigIntegerField(default=0)
    first_seen_at = models.DateTimeField()
    last_seen_at = models.DateTimeField(null=True)
    fixed_at = models.DateTimeField(null=True)
    #: The version in which it was mended.
    fixed_in = identifier(100, blank=True, default="")
    #: How often its text has it.
    places = models.PositiveIntegerField(default=1)

    objects = ReadableFindings()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "branch", "fingerprint"], name="finding_once")]
        indexes = [
            models.Index(fields=["state", "rule"], name="finding_by_state"),
            models.Index(fields=["project", "about", "state"], name="finding_by_target"),
            models.Index(fields=["owner", "state"], name="finding_by_owner"),
            models.Index(fields=["project", "subject"], name="finding_by_subject"),
            models.Index(fields=["project", "computed"], name="finding_by_print"),
        ]


class HealthPoint(models.Model):
    """References of a project after a run: the points of the trend."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="health")
    #: None for what no run brought about, each time by itself.
    run = models.BigIntegerField(null=True)
    at = models.DateTimeField()
    total = models.PositiveIntegerField()
    dangling = models.PositiveIntegerField()
    stale = models.PositiveIntegerField()
    #: Findings but notes that stand, and what this run brought and mended.
    open = models.PositiveIntegerField(default=0)
    new = models.PositiveIntegerField(default=0)
    fixed = models.PositiveIntegerField(default=0)

    objects = ReadableManager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "run"], name="health_point_once")]
        indexes = [models.Index(fields=["project", "at"], name="health_point_by_time")]


class HealthDay(models.Model):
    """The points of a project's day in one: references and findings at its end, what its runs brought and mended."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="health_days")
    day = models.DateField(db_index=True)
    total = models.PositiveIntegerField()
    dangling = models.PositiveIntegerField()
    stale = models.PositiveIntegerField()
    open = models.PositiveIntegerField()
    new = models.PositiveIntegerField()
    fixed = models.PositiveIntegerField()

    objects = ReadableManager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "day"], name="health_day_once")]


class PatchRecord(models.Model):
    """A patch that somebody has asked for; a job makes it, and it is kept while what it mends stands as it does.

    digest: of all that it is made from. findings: fingerprints of what it is to mend. is_accepted: whether somebody
    has chosen them, so that their suggestions need not be beyond doubt. document: the patch, once there is one.
    problem: why there is none.
    """

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="patches")
    digest = models.CharField(max_length=64, db_collation="ascii_bin")
    asked_at = models.DateTimeField(db_index=True)
    is_likely = models.BooleanField()
    is_accepted = models.BooleanField()
    findings = models.JSONField(default=list)
    document = models.JSONField(null=True)
    problem = models.TextField(blank=True)

    objects = ReadableManager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "digest"], name="patch_once")]
