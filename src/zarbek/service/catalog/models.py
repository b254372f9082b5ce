from __future__ import annotations

from django.db import models

from zarbek.service.common.fields import identifier


class Project(models.Model):
    """One thing with an API."""

    slug = identifier(100, unique=True)
    title = models.CharField(max_length=200)
    summary = models.TextField(blank=True)
    owner = models.CharField(max_length=200, blank=True)
    purl = identifier(300, blank=True)
    #: Top-level names that the newest release provides.
    namespaces = models.JSONField(default=list)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["slug"]


class Release(models.Model):
    """One published version: immutable once live. A preview is replaced at each publish."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="releases")
    version = identifier(100)
    is_preview = models.BooleanField(default=False)
    is_live = models.BooleanField(default=False)
    bundle_digest = models.CharField(max_length=64, db_collation="ascii_bin")
    commit = models.CharField(max_length=64, blank=True)
    #: The bundle's manifest, as JSON.
    manifest = models.BinaryField()
    #: Module to block id, and the ids of the alias and page documents.
    contents = models.BinaryField(default=b"")
    #: Module or page to link document id.
    links = models.BinaryField(default=b"")
    #: Project to the version that this release's mentions of it mean.
    choices = models.JSONField(default=dict)
    counts = models.JSONField(default=dict)
    published_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "version"], name="release_once")]


class Alias(models.Model):
    """A moving name for a release."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="aliases")
    name = identifier(100)
    release = models.ForeignKey(Release, on_delete=models.CASCADE, related_name="aliases")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "name"], name="alias_once")]


class Source(models.Model):
    """A git repository that the portal gathers by itself."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="sources")
    address = models.CharField(max_length=500)
    folder = models.CharField(max_length=300, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
