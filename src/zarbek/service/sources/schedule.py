"""Which repositories, services and databases are due to be looked at."""

from __future__ import annotations

from zarbek.service.sources.actions import claim_due_databases, claim_due_services, claim_due_sources
from zarbek.service.sources.tasks import poll, poll_catalog, poll_running


def poll_due_sources() -> None:
    """Put sources whose time has come into the queue."""
    for source_id in claim_due_sources():
        poll.enqueue(source_id)


def poll_due_services() -> None:
    """Put projects with a service whose time has come into the queue."""
    for project_id in claim_due_services():
        poll_running.enqueue(project_id)


def poll_due_databases() -> None:
    """Put databases whose time has come into the queue."""
    for database_id in claim_due_databases():
        poll_catalog.enqueue(database_id)
