"""What people wrote, as it was each time."""

from __future__ import annotations

from django.db import models

from zarbek.service.catalog.models import Project
from zarbek.service.catalog.visibility import ReadableManager
from zarbek.service.common.fields import identifier


class Revision(models.Model):
    """A supplement of a project as somebody left it; the newest of a name is what it is now."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="revisions")
    #: File below the folder of supplements, with its suffix.
    name = identifier(200)
    #: As a file has it; empty where it was removed.
    text = models.TextField(blank=True)
    author = models.CharField(max_length=150)
    reason = models.CharField(max_length=500)
    written_at = models.DateTimeField(auto_now_add=True)

    objects = ReadableManager()

    class Meta:
        indexes = [models.Index(fields=["project", "name"], name="revision_by_name")]
        ordering = ["id"]
