"""Jobs of the queue that list addresses, ask for them and judge them."""

from __future__ import annotations

from django_tasks import task

from zarbek.service.addresses.actions.asking import ask_due
from zarbek.service.addresses.actions.judging import judge_addresses
from zarbek.service.addresses.actions.listing import list_addresses
from zarbek.service.addresses.queries import judged_releases


@task(queue_name="outside")
def list_addresses_of(release_id: int) -> None:
    """Write down the addresses of a release; what is known of them is told at once, the others are asked."""
    release = judged_releases().filter(pk=release_id).select_related("project").first()
    if release is not None:
        list_addresses(release)
        judge_addresses(release)
        ask.enqueue()


@task(queue_name="outside")
def ask() -> None:
    """Ask addresses that are due for a while, and go on later with what is left."""
    if not ask_due(_judge):
        ask.enqueue()


def _judge(releases: list[int]) -> None:
    for release in judged_releases().filter(pk__in=releases).select_related("project"):
        judge_addresses(release)


@task(queue_name="outside")
def judge_addresses_of(project_id: int) -> None:
    """What a project wishes has changed: what is told of its addresses follows."""
    _judge(list(judged_releases().filter(project=project_id).values_list("pk", flat=True)))
