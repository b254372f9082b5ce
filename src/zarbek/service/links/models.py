from __future__ import annotations

from django.db import models

from zarbek.service.catalog.models import Project
from zarbek.service.common.fields import digest, identifier
from zarbek.service.reference.models import PageContent, SymbolContent


class LinkDocument(models.Model):
    """The links of one module or page, stored once for all releases in which they are equal."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    digest = digest()
    document = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "digest"], name="link_document_once")]


class Referrer(models.Model):
    """Content that refers to a symbol or page of some project, in whatever release has it.

    A dangling mention has a row too, with the name it waits for.
    """

    symbol = models.ForeignKey(SymbolContent, null=True, on_delete=models.CASCADE, related_name="+")
    page = models.ForeignKey(PageContent, null=True, on_delete=models.CASCADE, related_name="+")
    source = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="+")
    #: Slug of the target's project; for a name that nobody owns yet, its namespace after ``?``.
    project = identifier(110)
    path = identifier(600)

    class Meta:
        indexes = [models.Index(fields=["project", "path"], name="referrer_by_target")]
