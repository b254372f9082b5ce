"""Repositories, running services and databases that the portal gathers by itself."""

from __future__ import annotations

from django.db import models

from zarbek.service.catalog.models import Project
from zarbek.service.catalog.visibility import ReadableManager
from zarbek.service.common.fields import identifier


class Source(models.Model):
    """A git repository that the portal gathers by itself."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="sources")
    address = models.CharField(max_length=500)
    folder = models.CharField(max_length=300, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    #: How often the portal looks for new tags; 0 for never.
    poll_minutes = models.PositiveIntegerField(default=0)
    tags = models.CharField(max_length=100, default="v*")
    branch = models.CharField(max_length=200, blank=True)
    #: Whoever sends this secret's signature may ask for a fetch.
    hook_secret = models.CharField(max_length=64, blank=True)
    polled_at = models.DateTimeField(null=True)
    #: When it is looked at next; none for never.
    due_at = models.DateTimeField(null=True, db_index=True)
    problem = models.TextField(blank=True)
    #: What it has that the portal has not published: ``{"tags": […], "commits": n, "head": …}``.
    ahead = models.JSONField(default=dict)

    objects = ReadableManager()


class RunningService(models.Model):
    """A service that describes itself, fetched from where it runs; several may lie behind one gateway."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="services")
    name = identifier(100)
    address = models.CharField(max_length=500)
    #: The address under which callers reach it, and the beginning of its own paths that the gateway adds.
    server = models.CharField(max_length=500, blank=True)
    strip = models.CharField(max_length=200, blank=True)
    #: Sent with each request; secrets, which no answer of the portal holds.
    headers = models.JSONField(default=dict)
    poll_minutes = models.PositiveIntegerField(default=0)
    entity_tag = models.CharField(max_length=200, blank=True)
    #: Of all that was fetched, and the file that holds it.
    digest = models.CharField(max_length=64, blank=True, db_collation="ascii_bin")
    material = models.CharField(max_length=200, blank=True)
    fetched_at = models.DateTimeField(null=True)
    asked_at = models.DateTimeField(null=True)
    #: When it is asked next; none for never.
    due_at = models.DateTimeField(null=True, db_index=True)
    changed_at = models.DateTimeField(null=True)
    problem = models.TextField(blank=True)

    objects = ReadableManager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "name"], name="service_once")]
        ordering = ["name"]


class Database(models.Model):
    """The database of a project's data model, asked for its catalogue."""

    project = models.OneToOneField(Project, on_delete=models.CASCADE, related_name="database")
    #: Without a password, which the variable of the environment has that password_from names.
    address = models.CharField(max_length=500)
    password_from = models.CharField(max_length=100, blank=True)
    #: The schemas to look at, each with the database and schema in which its tables lie in the model.
    schemas = models.JSONField(default=dict)
    poll_minutes = models.PositiveIntegerField(default=0)
    #: Of what it said last, but for the time, and the file that holds it.
    digest = models.CharField(max_length=64, blank=True, db_collation="ascii_bin")
    material = models.CharField(max_length=200, blank=True)
    fetched_at = models.DateTimeField(null=True)
    asked_at = models.DateTimeField(null=True)
    #: When it is asked next; none for never.
    due_at = models.DateTimeField(null=True, db_index=True)
    changed_at = models.DateTimeField(null=True)
    problem = models.TextField(blank=True)

    objects = ReadableManager()
