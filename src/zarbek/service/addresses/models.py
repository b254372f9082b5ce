"""Addresses of the web and what came of asking them."""

from __future__ import annotations

from django.db import models

from zarbek.service.catalog.models import Project
from zarbek.service.common.fields import digest


class UrlCheck(models.Model):
    """What an address of the web answered when it was last asked."""

    digest = digest(unique=True)
    url = models.TextField()
    #: HTTP status of the last answer; 0 for none.
    status = models.PositiveIntegerField(default=0)
    #: Why it is wrong; empty while it is not.
    fault = models.CharField(max_length=300, blank=True)
    #: Where it has moved for good.
    moved_to = models.TextField(blank=True)
    etag = models.CharField(max_length=300, blank=True)
    last_modified = models.CharField(max_length=100, blank=True)
    #: On how many days it failed while others answered, and the last of them.
    failed_days = models.PositiveIntegerField(default=0)
    failed_on = models.DateField(null=True)
    #: Why nothing can be told of it, and since when; empty while something can.
    unreachable = models.CharField(max_length=300, blank=True)
    unreachable_since = models.DateTimeField(null=True)
    checked_at = models.DateTimeField(null=True)


class QuietHost(models.Model):
    """A host that nobody asks, for any project. host: a name, ``*`` for any text."""

    host = models.CharField(max_length=253, unique=True, db_collation="ascii_bin")


class ProjectAddresses(models.Model):
    """What a project wants asked, and what of its newest release could not be reached.

    quiet: hosts that are left alone for it. unreachable: addresses with ``url``, ``why`` and ``since``.
    """

    project = models.OneToOneField(Project, on_delete=models.CASCADE, related_name="addresses")
    asks = models.BooleanField(default=True)
    quiet = models.JSONField(default=list)
    known = models.PositiveIntegerField(default=0)
    unreachable = models.JSONField(default=list)
    checked_at = models.DateTimeField(null=True)
