"""Teams, tokens, sign-ins, who did what, and how often somebody failed to sign in."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from zarbek.service.common.fields import identifier


class Team(models.Model):
    """People together. is_from_provider: a group of the provider of identities, which says who is in it."""

    name = identifier(150, unique=True)
    is_from_provider = models.BooleanField(default=False)
    users = models.ManyToManyField(settings.AUTH_USER_MODEL, related_name="teams")
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name"]


class Identity(models.Model):
    """Who an account is at the provider of identities. seen_at: when that last said so."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="identity")
    #: The provider's own name for a person, which never changes (OpenID Connect Core 1.0, section 2).
    subject = identifier(255, unique=True)
    seen_at = models.DateTimeField()


class SignIn(models.Model):
    """A session of somebody who signed in. It ends with the session."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="sign_ins")
    session_key = models.CharField(max_length=40, unique=True, db_collation="ascii_bin")
    created_at = models.DateTimeField(auto_now_add=True)
    seen_at = models.DateTimeField(auto_now_add=True)
    address = models.CharField(max_length=60, blank=True)
    #: What the browser says that it is.
    agent = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["-seen_at"]


class AuditEntry(models.Model):
    """Somebody did something. Entries are added and nothing else."""

    at = models.DateTimeField(auto_now_add=True)
    #: Name of an account, ``portal`` for what happens by itself, empty for nobody; and the token, if one was used.
    actor = models.CharField(max_length=150, blank=True)
    token = models.CharField(max_length=100, blank=True)
    address = models.CharField(max_length=60, blank=True)
    #: ``release.published``: what it was done to, and what was done.
    action = models.CharField(max_length=60, db_collation="ascii_bin")
    #: Slug; empty for the portal.
    project = identifier(100, blank=True)
    subject = models.CharField(max_length=300, blank=True)
    before = models.JSONField(null=True)
    after = models.JSONField(null=True)

    class Meta:
        ordering = ["-id"]
        indexes = [models.Index(fields=["project", "id"], name="audit_by_project")]


class Token(models.Model):
    """A secret for programs. Only its SHA-256 is kept; the text is shown once."""

    name = models.CharField(max_length=100)
    digest = models.CharField(max_length=64, unique=True, db_collation="ascii_bin")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="tokens")
    #: The only project that this token is for; empty for every project that its user may.
    project = identifier(100, blank=True, default="")
    #: read, publish or manage: never more than its user may.
    scope = models.CharField(max_length=10, default="publish", db_collation="ascii_bin")
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
