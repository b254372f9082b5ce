"""What mentions link to, who refers to whom, and where symbols went."""

from __future__ import annotations

from django.db import models

from zarbek.core.linking.dependency_trace import NOBODY
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.visibility import ReadableManager, readable_by
from zarbek.service.common.fields import digest, identifier
from zarbek.service.content.models import PageContent, SymbolContent


class LinkDocument(models.Model):
    """The links of one module or page, stored once for all releases in which they are equal."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE)
    digest = digest()
    document = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "digest"], name="link_document_once")]


class Referrer(models.Model):
    """A name of some project on which the links of a content rest, in whatever release has it.

    is_target: the name is where a link leads; otherwise it was asked for on the way, or in vain.
    """

    symbol = models.ForeignKey(SymbolContent, null=True, on_delete=models.CASCADE, related_name="+")
    page = models.ForeignKey(PageContent, null=True, on_delete=models.CASCADE, related_name="+")
    source = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="+")
    project = identifier(100)
    #: A path or key; ``KEY.*`` for all members of a type, ``@`` for which releases there are.
    path = identifier(600)
    is_target = models.BooleanField(default=False)

    objects = readable_by("source_id")

    class Meta:
        indexes = [models.Index(fields=["project", "path"], name="referrer_by_target")]


class Dependence(models.Model):
    """A project that some mention of a release asks for, and the version that is meant."""

    release = models.ForeignKey(Release, on_delete=models.CASCADE, related_name="dependences")
    #: A slug, or ``?`` and the beginning of a name that nobody owns.
    project = identifier(200)
    #: Empty where the project has no release that could be meant.
    version = identifier(100, blank=True)

    objects = readable_by("release__project_id")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["release", "project"], name="dependence_once")]
        indexes = [models.Index(fields=["project"], name="dependence_by_project")]


def waited_for(key: str) -> str:
    """A name that nobody owns, or a package that nobody has, as a dependence has it."""
    return (NOBODY + key)[:200]


class Sweep(models.Model):
    """A look for what nothing of a project holds any more. state: of its releases and runs when it was last found
    clean; there is nothing to look for until that changes."""

    project = models.OneToOneField(Project, on_delete=models.CASCADE, related_name="+")
    state = digest(blank=True)
    swept_at = models.DateTimeField(null=True)


class Relocation(models.Model):
    """Where a symbol that went is now: old addresses lead there for good."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="relocations")
    old = identifier(600)
    new = identifier(600)
    #: The first release that has it in the new place.
    version = identifier(100)
    certain = models.BooleanField(default=True)
    why = models.CharField(max_length=200, blank=True)

    objects = ReadableManager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "old", "version"], name="relocation_once")]
