"""The job of the queue that asks for addresses."""

from __future__ import annotations

from django_tasks import task

from zarbek.service.addresses.actions import check_release_urls


@task(queue_name="outside")
def check_urls_of(release_id: int) -> None:
    """Ask addresses of a release for a while, and go on later with what is left."""
    if not check_release_urls(release_id):
        check_urls_of.enqueue(release_id)
