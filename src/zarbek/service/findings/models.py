from __future__ import annotations

from django.db import models

from zarbek.service.catalog.models import Project
from zarbek.service.common.fields import identifier

#: States of a finding that stands.
ALIVE = ("new", "open", "back")


class FindingRecord(models.Model):
    """One finding of a project through its life."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="findings")
    fingerprint = models.CharField(max_length=16, db_collation="ascii_bin")
    rule = models.CharField(max_length=60, db_collation="ascii_bin")
    severity = models.CharField(max_length=10)
    #: new, open, fixed or back.
    state = models.CharField(max_length=10)
    version = identifier(100)
    #: The release whose publish brought the finding about: ``SLUG VERSION``.
    cause = identifier(210)
    owner = models.CharField(max_length=200, blank=True)
    #: The finding's facts, as in reports.
    document = models.JSONField()
    first_run = models.BigIntegerField()
    last_run = models.BigIntegerField()
    first_seen_at = models.DateTimeField()
    fixed_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "fingerprint"], name="finding_once")]
        indexes = [models.Index(fields=["state", "rule"], name="finding_by_state")]


class HealthPoint(models.Model):
    """References of a project after a run: the points of the trend."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="health")
    run = models.BigIntegerField()
    at = models.DateTimeField()
    total = models.PositiveIntegerField()
    dangling = models.PositiveIntegerField()
    stale = models.PositiveIntegerField()
