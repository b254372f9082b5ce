"""What releases hold, each content stored once a project under its digest."""

from __future__ import annotations

from django.db import models

from zarbek.service.catalog.models import Project
from zarbek.service.common.fields import digest, identifier


class SymbolContent(models.Model):
    """One symbol's content, stored once for all releases that have it unchanged.

    Lines are relative to the symbol's first line, so that an edit above changes nothing here.
    """

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    digest = digest()
    path = identifier(700)
    document = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "digest"], name="symbol_content_once")]


class Block(models.Model):
    """What is read together, stored once: the entries of one module, all aliases, all pages."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    digest = digest()
    document = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "digest"], name="block_once")]


class PageContent(models.Model):
    """A guide's text with its mentions."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    digest = digest()
    path = identifier(500)
    document = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "digest"], name="page_content_once")]


class Asset(models.Model):
    """A picture of a release's guides; the file lies under its digest. What it is, its name says."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    digest = models.CharField(max_length=64, db_collation="ascii_bin")
    file = models.FileField(upload_to="assets")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "digest"], name="asset_once")]
