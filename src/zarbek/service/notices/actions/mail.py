"""Mail of what is new: to teams, and to people who follow something."""

from __future__ import annotations

import smtplib
from collections.abc import Iterable
from datetime import datetime
from typing import Any
from urllib.parse import quote

from django.conf import settings
from django.contrib.auth.models import User
from django.core.mail import EmailMultiAlternatives
from django.db.models import Q, QuerySet
from django.db.transaction import atomic
from django.template.loader import render_to_string
from django.utils import timezone

from zarbek.core.findings.formats.wording import count
from zarbek.service.accounts.actions.audit import note
from zarbek.service.accounts.models import Team
from zarbek.service.catalog.queries import get_project
from zarbek.service.common.asker import Asker, asking
from zarbek.service.common.problems import NotFound, Problem
from zarbek.service.findings.html_report import Group, items_of
from zarbek.service.findings.models import ALIVE, FindingRecord
from zarbek.service.findings.queries import standing
from zarbek.service.notices.models import Digest, MailChoice, Subscription


def set_digest(owner: str, address: str) -> None:
    """Tell a team by mail from now on what is new for it; an empty address ends that."""
    note("digest.set", subject=owner, after=address)
    if not address:
        Digest.objects.filter(owner=owner).delete()
        return
    Digest.objects.update_or_create(owner=owner, defaults={"address": address, "is_paused": False}, create_defaults={
        "address": address, "told_until": timezone.now()})  # fmt: skip


def follow(user: User, *, project: str = "", owner: str = "") -> Subscription:
    """Tell somebody by mail from now on what is new in a project, or what is a team's turn. Raises Problem unless it is
    one of both, or where there is no address to write to, and NotFound for no project."""
    if bool(project) == bool(owner):
        raise Problem("Name either a project or a team.")
    if not user.email:
        raise Problem("Your account has no address for mail. An administrator can give it one.")
    found = get_project(project) if project else None
    MailChoice.objects.get_or_create(user=user, defaults={"told_until": timezone.now()})
    return Subscription.objects.get_or_create(user=user, project=found, owner=owner)[0]


def unfollow(user: User, subscription_id: int) -> None:
    """Raises NotFound for what is not theirs."""
    if not Subscription.objects.filter(user=user, pk=subscription_id).delete()[0]:
        raise NotFound("You do not follow that.")


def pause_mail(user: User, *, is_paused: bool) -> None:
    """No mail until it is wanted again; what is new meanwhile is not told later."""
    facts = {"is_paused": is_paused} if is_paused else {"is_paused": False, "told_until": timezone.now()}
    MailChoice.objects.update_or_create(user=user, defaults=facts, create_defaults={
        "told_until": timezone.now(), "is_paused": is_paused})  # fmt: skip


def pause_by_key(key: str) -> None:
    """The same for whoever has the mail, a person's or a team's (RFC 8058, section 3.1). Raises NotFound."""
    if not (
        MailChoice.objects.filter(key=key).update(is_paused=True)
        or Digest.objects.filter(key=key).update(is_paused=True)
    ):
        raise NotFound("There is no such mail any more.")


def send_digests() -> int:
    """A mail to each team, and to each person who follows something, of what is new since the last; how many were sent.
    Without a mail server nothing is sent, and nothing is forgotten. Each is written by one worker only."""
    if not settings.EMAIL_HOST:
        return 0
    sent = 0
    for model, write in ((Digest, _write_team), (MailChoice, _write_person)):
        for pk in list(model.objects.filter(is_paused=False).values_list("pk", flat=True)):
            with atomic():
                row = model.objects.select_for_update(skip_locked=True).filter(pk=pk, is_paused=False).first()
                sent += row is not None and _tell(row, write(row, until := timezone.now()), until)
    return sent


def _tell(row: Digest | MailChoice, mail: EmailMultiAlternatives | None, until: datetime) -> bool:
    if mail is not None:
        try:
            mail.send()
        except (OSError, smtplib.SMTPException) as error:
            row.problem = str(error)[:300]
            row.save(update_fields=["problem"])
            return False
    row.told_until, row.problem = until, ""
    row.save(update_fields=["told_until", "problem"])
    return mail is not None


def _write_team(digest: Digest, until: datetime) -> EmailMultiAlternatives | None:
    """What is a team's turn, as its members see it; as everybody does, where nobody is in a team of that name."""
    team = Team.objects.filter(name=digest.owner).first()
    with asking(Asker(team=team.pk if team else None)):
        rows = list(_new(digest.told_until, until).filter(owner=digest.owner))
    subject = f"{count(len(rows), 'new finding')} for {digest.owner}"
    why = f"This mail goes to {digest.address} because findings are the turn of {digest.owner}."
    return _mail(subject, digest.address, rows, [(why, f"?owner={quote(digest.owner)}")], digest.key)


def _write_person(choice: MailChoice, until: datetime) -> EmailMultiAlternatives | None:
    """What is new in what somebody follows, each finding once."""
    user = choice.user
    if not user.is_active or not user.email:
        return None
    with asking(Asker(user.pk, user.username, user.is_staff)):
        followed = list(Subscription.objects.filter(user=user).select_related("project"))
        wanted = Q(project__in=[f.project_id for f in followed if f.project_id])
        wanted |= Q(owner__in=[f.owner for f in followed if f.owner])
        rows = list(_new(choice.told_until, until).filter(wanted)) if followed else []
    told = [
        (f"You get this because you follow {f.project.slug}.", f"?project={quote(f.project.slug)}") if f.project
        else (f"You get this because you follow what is the turn of {f.owner}.", f"?owner={quote(f.owner)}")
        for f in followed
        if any(r.project_id == f.project_id or (f.owner and r.owner == f.owner) for r in rows)
    ]  # fmt: skip
    return _mail(f"{count(len(rows), 'new finding')} in what you follow", user.email, rows, told, choice.key)


def _new(since: datetime, until: datetime) -> QuerySet[FindingRecord]:
    """Findings that began to stand in a span of time and still do, whatever later runs have called them."""
    rows = FindingRecord.objects.filter(state__in=ALIVE, waiver=None, since_at__gt=since, since_at__lte=until)
    return rows.exclude(severity="note").select_related("project").order_by("project__slug", "rule", "pk")


def _mail(
    subject: str, address: str, rows: Iterable[FindingRecord], why: list[tuple[str, str]], key: str
) -> EmailMultiAlternatives | None:  # fmt: skip
    by_project: dict[str, list[Any]] = {}
    for row in rows:
        by_project.setdefault(row.project.slug, []).extend(standing([row]))
    if not by_project:
        return None
    subject = " ".join(subject.split())  # One line.
    base = settings.PUBLIC_URL
    facts = {
        "heading": subject, "groups": [Group(slug, items_of(found)) for slug, found in by_project.items()],
        "why": [{"words": words, "address": f"{base}/findings{asked}"} for words, asked in why],
        "stop": f"{base}/unsubscribe/{key}",
    }  # fmt: skip
    mail = EmailMultiAlternatives(
        subject, render_to_string("notices/digest.txt", facts), to=[address],
        headers={
            "List-Unsubscribe": f"<{base}/api/v1/mail/unsubscribe/{key}>",
            "List-Unsubscribe-Post": "List-Unsubscribe=One-Click",
        },
    )  # fmt: skip
    mail.attach_alternative(render_to_string("notices/digest.html", facts), "text/html")
    return mail
