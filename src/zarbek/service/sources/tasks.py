"""Jobs of the queue that look at repositories, running services and databases."""

from __future__ import annotations

from django_tasks import task

from zarbek.service.sources.polling import poll_database, poll_services, poll_source


@task(queue_name="outside")
def poll(source_id: int) -> None:
    """Ask a repository what it has."""
    poll_source(source_id)


@task(queue_name="outside")
def poll_running(project_id: int) -> None:
    """Ask a project's running services for their descriptions."""
    poll_services(project_id)


@task(queue_name="outside")
def poll_catalog(database_id: int) -> None:
    """Ask a database what it has."""
    poll_database(database_id)
