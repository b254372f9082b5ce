"""Projects, their releases, and whose names are whose."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import models

from zarbek.service.accounts.models import Team
from zarbek.service.catalog.visibility import LivingProjects, ReadableManager, readable_by
from zarbek.service.common.fields import identifier


class Project(models.Model):
    """One thing with an API."""

    slug = identifier(100, unique=True)
    title = models.CharField(max_length=200)
    summary = models.TextField(blank=True)
    owner = models.CharField(max_length=200, blank=True)
    purl = identifier(300, blank=True)
    #: Of the names that the newest release provides those that are this project's; see NameClaim.
    namespaces = models.JSONField(default=list)
    #: Path pattern to team, in order; the last that fits owns a finding.
    owners = models.JSONField(default=dict)
    #: Lines of releases, such as ``1.x``, that the newest release says are supported.
    supported = models.JSONField(default=list)
    #: What a release must be free of to become ``latest``; see findings.policy.
    policy = models.JSONField(default=dict)
    #: Who may read it; see visibility.VISIBILITIES.
    visibility = models.CharField(max_length=10, default="public", db_index=True, db_collation="ascii_bin")
    created_at = models.DateTimeField(auto_now_add=True)
    #: Of one that holds what people write in the portal of another: that one. Who may read that may read this.
    beside = models.OneToOneField("self", null=True, on_delete=models.CASCADE, related_name="companion")

    everything = models.Manager["Project"]()
    objects = LivingProjects()

    class Meta:
        ordering = ["slug"]
        default_manager_name = "objects"
        base_manager_name = "everything"

    @property
    def ecosystem(self) -> str:
        """The type of its package URL, by whose rules its versions are ordered; empty for none."""
        return self.purl.removeprefix("pkg:").partition("/")[0]


class Membership(models.Model):
    """The part that somebody, or everybody of a team, has in a project, or in all of them.

    role: reader, maintainer, who publishes, waives and says what is supported, or owner, who decides on members,
    policy, tokens and visibility.
    """

    project = models.ForeignKey(Project, null=True, on_delete=models.CASCADE, related_name="memberships")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.CASCADE, related_name="+")
    team = models.ForeignKey(Team, null=True, on_delete=models.CASCADE, related_name="+")
    role = models.CharField(max_length=10, db_collation="ascii_bin")
    since = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["project", "user"], name="member_once"),
            models.UniqueConstraint(fields=["project", "team"], name="member_team_once"),
            models.CheckConstraint(
                condition=models.Q(user=None, team__isnull=False) | models.Q(user__isnull=False, team=None),
                name="member_is_one",
            ),
        ]
        ordering = ["id"]


class NameClaim(models.Model):
    """A name that a project's newest release says is its own: ``family:namespace`` or a package URL.

    It belongs to who claimed it first, until an administrator decides otherwise.
    """

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="claims")
    name = identifier(400)
    #: The name again where it is this project's alone; the key sees to it that one has it.
    held = identifier(400, null=True, unique=True)
    #: Whether an administrator lets several projects have it together.
    is_shared = models.BooleanField(default=False)
    decided_by = models.CharField(max_length=150, blank=True)
    since = models.DateTimeField(auto_now_add=True)

    objects = ReadableManager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "name"], name="claim_once")]
        indexes = [models.Index(fields=["name"], name="claim_by_name")]
        ordering = ["name", "id"]

    @property
    def is_held(self) -> bool:
        """Whether the project has the name, alone or together with others."""
        return self.is_shared or self.held is not None


#: What a release holds, as packed documents: up to some megabytes each, read by themselves when they are wanted.
HEAVY = ("contents", "links", "manifest", "text_history", "declaration_history", "gathered", "tested")


class LightReleases(ReadableManager):
    """Releases without what is heavy about them; whoever wants it of many says ``defer(None)``."""

    def get_queryset(self) -> models.QuerySet[Any]:
        """Without what is heavy."""
        return super().get_queryset().defer(*HEAVY)


class Release(models.Model):
    """One published version: immutable once live. A preview is replaced at each publish."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="releases")
    #: Of a preview that is being stored with the number of its run, until it goes live.
    version = identifier(130)
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
    #: Project to the version that this release's mentions of it mean now, and meant at first.
    choices = models.JSONField(default=dict)
    first_choices = models.JSONField(null=True)
    #: The last change of the portal that these know of, and how often they were kept.
    linked_at = models.BigIntegerField(default=0)
    link_revision = models.BigIntegerField(default=0)
    #: Texts that are older than this release: path to the version in which they last changed.
    text_history = models.BinaryField(default=b"")
    #: The same of declarations, with the releases that this one follows.
    declaration_history = models.BinaryField(default=b"")
    counts = models.JSONField(default=dict)
    #: What gathering found, for a time when it is judged again.
    gathered = models.BinaryField(default=b"")
    #: What its tests show of it, behind the digest of that on which this rests; empty for one without examples.
    tested = models.BinaryField(default=b"")
    #: How its references came out when they were last judged.
    health = models.JSONField(default=dict)
    #: The same by the other project that they lead to: all, dangling, stale.
    edges = models.JSONField(default=dict)
    #: Whether its references are judged: previews, and releases that somebody still cares for.
    is_judged = models.BooleanField(default=False)
    #: Whether search finds it: it is on its way to readers, a preview, the latest, or judged.
    is_findable = models.BooleanField(default=False, db_index=True)
    #: Whether not everybody reads all of it.
    has_editions = models.BooleanField(default=False, db_index=True)
    #: What a person decided: ``supported``, ``retired``, or empty for the rule.
    support = models.CharField(max_length=10, blank=True)
    #: Why the project's policy keeps it from ``latest``; empty when nothing does.
    held_for = models.TextField(blank=True)
    #: Who let it become ``latest`` all the same, and why.
    released_by = models.CharField(max_length=150, blank=True)
    released_why = models.TextField(blank=True)
    published_at = models.DateTimeField(null=True)

    objects = LightReleases()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "version"], name="release_once")]

    @property
    def hold(self) -> str:
        """Why it may not become ``latest``; empty when nothing holds it, or someone let it through."""
        return "" if self.released_by else self.held_for


class TreeAddress(models.Model):
    """Where a tree of HTML of a release is published: ``host/path/``, and the folder of the source that is there."""

    release = models.ForeignKey(Release, on_delete=models.CASCADE, related_name="tree_addresses")
    address = identifier(700)
    folder = models.CharField(max_length=1000, blank=True)

    objects = readable_by("release__project_id")


class Alias(models.Model):
    """A moving name for a release."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="aliases")
    name = identifier(100)
    release = models.ForeignKey(Release, on_delete=models.CASCADE, related_name="aliases")

    objects = ReadableManager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "name"], name="alias_once")]


class PortalState(models.Model):
    """One row, locked by whoever makes names mean something else, or keeps what they mean."""

    #: Of the last change.
    number = models.BigIntegerField(default=0)


class PortalChange(models.Model):
    """Something by which names mean something else from then on: a release that went live, or that is gone."""

    #: Counts the changes in the order in which they were kept.
    number = models.BigIntegerField(unique=True)
    #: Whose names; empty for the namespaces alone.
    project = identifier(100, blank=True)
    #: The release that is live now; none where any name of the project may mean something else.
    release = models.BigIntegerField(null=True)
    #: ``family:namespace``, or a namespace of any family, and package URLs that changed hands.
    namespaces = models.JSONField(default=list)
    #: What it is called where findings come of it: ``SLUG VERSION``, or a reason in words.
    cause = identifier(210)
    #: The run that brought it about, 0 for none.
    run = models.BigIntegerField(default=0)
    made_at = models.DateTimeField(auto_now_add=True)
    #: When everything that it touches had been linked again.
    settled_at = models.DateTimeField(null=True, db_index=True)

    class Meta:
        ordering = ["number"]


class SearchChange(models.Model):
    """A release that search finds since, or no longer. Every machine follows these with an index of its own."""

    release = models.BigIntegerField()
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class OutsideNamespace(models.Model):
    """Where readers are sent for names that no project of the portal owns."""

    name = identifier(200, unique=True)
    #: An address with ``{name}`` for the whole qualified name.
    pattern = models.CharField(max_length=500)

    class Meta:
        ordering = ["name"]
