"""Tokens, and how often somebody failed to sign in."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from zarbek.service.common.fields import identifier


class Token(models.Model):
    """A secret for programs. Only its SHA-256 is kept; the text is shown once."""

    name = models.CharField(max_length=100)
    digest = models.CharField(max_length=64, unique=True, db_collation="ascii_bin")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="tokens")
    #: The only project that this token may publish; empty for every project its user may.
    project = identifier(100, blank=True, default="")
    created_at = models.DateTimeField(auto_now_add=True)
    expires_at = models.DateTimeField(null=True)
    last_used_at = models.DateTimeField(null=True)


class FirstRun(models.Model):
    """One row, once the first administrator has been made. It stays when that account goes."""

    at = models.DateTimeField(auto_now_add=True)


class Tally(models.Model):
    """How often somebody did something in a span of time, for all web processes to count together."""

    #: Of what is counted and who does it.
    key = models.CharField(max_length=64, unique=True, db_collation="ascii_bin")
    count = models.PositiveIntegerField(default=0)
    until = models.DateTimeField(db_index=True)
