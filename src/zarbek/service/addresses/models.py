"""Addresses of the web and what came of asking them."""

from __future__ import annotations

from django.db import models
from django.utils import timezone

from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.visibility import ReadableManager
from zarbek.service.common.fields import digest, identifier


class AddressHost(models.Model):
    """A host that addresses lead to; empty for what is no address. One worker at a time asks it."""

    name = models.CharField(max_length=260, unique=True, db_collation="ascii_bin")
    claimed_until = models.DateTimeField(null=True)
    #: When it was last asked: others have their turn first.
    asked_at = models.DateTimeField(null=True)


class UrlCheck(models.Model):
    """What an address of the web answered when it was last asked."""

    digest = digest(unique=True)
    url = models.TextField()
    host = models.ForeignKey(AddressHost, null=True, on_delete=models.CASCADE, related_name="addresses")
    #: When it is asked next, while some release has it.
    due_at = models.DateTimeField(default=timezone.now)
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

    class Meta:
        indexes = [models.Index(fields=["host", "due_at"], name="address_by_turn")]


class AddressList(models.Model):
    """Says that the addresses of a release are known: those that its references are judged by."""

    release = models.OneToOneField(Release, on_delete=models.CASCADE, related_name="address_list")
    listed_at = models.DateTimeField(auto_now_add=True)


class AddressUse(models.Model):
    """A text of a listed release that leads to an address. kind: symbol or page."""

    list = models.ForeignKey(AddressList, on_delete=models.CASCADE, related_name="uses")
    address = models.ForeignKey(UrlCheck, on_delete=models.CASCADE, related_name="uses")
    kind = models.CharField(max_length=6, db_collation="ascii_bin")
    path = identifier(700)


class QuietHost(models.Model):
    """A host that nobody asks, for any project. host: a name, ``*`` for any text."""

    host = models.CharField(max_length=253, unique=True, db_collation="ascii_bin")


class ProjectAddresses(models.Model):
    """What a project wants asked. quiet: hosts that are left alone for it."""

    project = models.OneToOneField(Project, on_delete=models.CASCADE, related_name="addresses")
    asks = models.BooleanField(default=True)
    quiet = models.JSONField(default=list)

    objects = ReadableManager()
