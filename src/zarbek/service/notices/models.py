"""Webhooks, what is on its way to them, and mail to teams."""

from __future__ import annotations

import secrets

from django.conf import settings
from django.db import models

from zarbek.service.catalog.models import Project
from zarbek.service.catalog.visibility import ReadableManager, readable_by


def new_key() -> str:
    """A secret that nobody guesses."""
    return secrets.token_urlsafe(32)


class Webhook(models.Model):
    """Where events are sent. The secret signs them (Standard Webhooks); it is shown once."""

    url = models.CharField(max_length=500)
    secret = models.CharField(max_length=100)
    #: None for every project.
    project = models.ForeignKey(Project, null=True, on_delete=models.CASCADE, related_name="webhooks")
    person = models.CharField(max_length=150)
    created_at = models.DateTimeField(auto_now_add=True)
    #: Until then a worker sends to it, and no other does: what is for one receiver comes in its order.
    claimed_until = models.DateTimeField(null=True)

    objects = ReadableManager()

    class Meta:
        ordering = ["id"]


class Delivery(models.Model):
    """One event on its way to one webhook."""

    webhook = models.ForeignKey(Webhook, on_delete=models.CASCADE, related_name="deliveries")
    event = models.CharField(max_length=36)
    type = models.CharField(max_length=100)
    #: The CloudEvent as it is sent.
    body = models.TextField()
    #: waiting, delivered or given-up.
    state = models.CharField(max_length=10, default="waiting")
    attempts = models.PositiveIntegerField(default=0)
    #: HTTP status of the last answer, 0 for none, and what was wrong.
    status = models.PositiveIntegerField(default=0)
    problem = models.CharField(max_length=300, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    due_at = models.DateTimeField()
    delivered_at = models.DateTimeField(null=True)

    objects = readable_by("webhook__project_id")

    class Meta:
        ordering = ["-id"]
        constraints = [models.UniqueConstraint(fields=["webhook", "event"], name="delivery_once")]
        indexes = [models.Index(fields=["state", "due_at"], name="delivery_by_due")]


class Digest(models.Model):
    """Where a team's mail goes, and up to when it was told."""

    owner = models.CharField(max_length=200, unique=True)
    address = models.EmailField()
    told_until = models.DateTimeField()
    is_paused = models.BooleanField(default=False)
    #: Whoever has it may pause the mail: it stands in each one (RFC 8058).
    key = models.CharField(max_length=43, unique=True, default=new_key, db_collation="ascii_bin")
    problem = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["owner"]


class MailChoice(models.Model):
    """Whether somebody has mail of what they follow, and up to when they were told."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="mail_choice")
    told_until = models.DateTimeField()
    is_paused = models.BooleanField(default=False)
    #: As of a team's.
    key = models.CharField(max_length=43, unique=True, default=new_key, db_collation="ascii_bin")
    problem = models.CharField(max_length=300, blank=True)


class Subscription(models.Model):
    """Somebody wants mail of what is new in a project, or of what is a team's turn."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="subscriptions")
    project = models.ForeignKey(Project, null=True, on_delete=models.CASCADE, related_name="+")
    owner = models.CharField(max_length=200, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    objects = ReadableManager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "project", "owner"], name="subscription_once")]
        ordering = ["id"]
