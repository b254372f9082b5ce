"""Which machines have an index."""

from __future__ import annotations

from django.db import models


class SearchNode(models.Model):
    """A machine with an index of its own, and the last change that it has followed."""

    name = models.CharField(max_length=200, unique=True, db_collation="ascii_bin")
    position = models.BigIntegerField(default=0)
    seen_at = models.DateTimeField()

    class Meta:
        ordering = ["name"]
