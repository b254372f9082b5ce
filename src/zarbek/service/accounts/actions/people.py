"""Accounts, teams, and who is in them."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import timedelta

from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils import timezone

from zarbek.service.accounts.actions.audit import note
from zarbek.service.accounts.models import Identity, SignIn, Team
from zarbek.service.common.asker import Asker, asking
from zarbek.service.common.problems import Conflict, NotFound, Problem

MOST_CHARS = 150
_SEEN_GRAIN = timedelta(minutes=5)


@transaction.atomic
def add_person(name: str, password: str, *, email: str = "", is_administrator: bool = False) -> User:
    """A new account that signs in by password. Raises Problem for a name or password that does not do, Conflict for a
    name that somebody has."""
    _check_name(name)
    if User.objects.filter(username=name).exists():
        raise Conflict(f"There is an account {name} already.")
    person = User(username=name, email=email, is_staff=is_administrator)
    _check_password(password, person)
    person.set_password(password)
    person.save()
    note("person.added", subject=name, after={"is_administrator": is_administrator})
    return person


@transaction.atomic
def change_person(
    person: User, *, is_active: bool | None = None, is_administrator: bool | None = None, email: str | None = None
) -> User:
    """What is None stays. Whoever is no longer active is signed out at once, and their tokens end to be of use. Raises
    Conflict for what would leave nobody to administer the portal."""
    before = _facts(person)
    person.is_active = person.is_active if is_active is None else is_active
    person.is_staff = person.is_staff if is_administrator is None else is_administrator
    person.email = person.email if email is None else email
    person.save()
    if not User.objects.filter(is_staff=True, is_active=True).exists():
        raise Conflict("Somebody must stay to administer the portal.")
    if not person.is_active:
        end_sign_ins(person)
    note("person.changed", subject=person.username, before=before, after=_facts(person))
    return person


@transaction.atomic
def set_password(person: User, password: str) -> None:
    """Everybody who is signed in under the account is signed out. Raises Problem for a password that does not do."""
    _check_password(password, person)
    person.set_password(password)
    person.save(update_fields=["password"])
    end_sign_ins(person)
    note("person.password", subject=person.username)


def _check_name(name: str) -> None:
    if not name or len(name) > MOST_CHARS or not name.isprintable() or name != name.strip():
        raise Problem(f"{name[:40]!r} is no name for an account: 1 to {MOST_CHARS} characters, none at the ends blank.")


def _check_password(password: str, person: User) -> None:
    try:
        validate_password(password, person)
    except ValidationError as error:
        raise Problem(" ".join(error.messages)) from error


def _facts(person: User) -> dict[str, bool]:
    return {"is_active": person.is_active, "is_administrator": person.is_staff}


# Teams ------------------------------------------------------------------------------------


@transaction.atomic
def set_team(name: str, people: Iterable[str]) -> Team:
    """A team of exactly these accounts, made where there is none. Raises Problem for a name that is none, NotFound for
    who has no account, Conflict for a team whose members the provider of identities names."""
    _check_name(name)
    wanted = set(people)
    users = list(User.objects.filter(username__in=wanted))
    if missing := wanted - {user.username for user in users}:
        raise NotFound(f"There is no account {', '.join(sorted(missing))}.")
    team, _ = Team.objects.get_or_create(name=name)
    if team.is_from_provider:
        raise Conflict(f"{name} is a group of the provider of identities, which says who is in it.")
    before = sorted(team.users.values_list("username", flat=True))
    team.users.set(users)
    note("team.set", subject=name, before=before, after=sorted(wanted))
    return team


@transaction.atomic
def remove_team(team: Team) -> None:
    """What its members had a part in by it, they have no longer."""
    note("team.removed", subject=team.name, before=sorted(team.users.values_list("username", flat=True)))
    team.delete()


@transaction.atomic
def add_from_provider(name: str, *, email: str) -> User:
    """A new account for somebody whom the provider of identities knows; a number follows its name where somebody is
    called so already: nobody comes into another's account by a name."""
    called, number = name, 1
    while User.objects.filter(username=called).exists():
        number += 1
        called = f"{name}-{number}"
    person = User(username=called, email=email[:254])
    person.set_unusable_password()
    person.save()
    note("person.added", subject=called, after={"is_from_provider": True})
    return person


@transaction.atomic
def join_groups(person: User, groups: Iterable[str], *, subject: str, administrators: str = "") -> None:
    """Somebody is in exactly these groups of the provider of identities, who told it just now; teams of the portal's
    own stay. subject: the provider's name for the person. administrators: the group of those who administer the portal,
    empty where the provider does not say who does."""
    groups = set(groups)
    if administrators and person.is_staff != (administrators in groups):
        person.is_staff = administrators in groups
        person.save(update_fields=["is_staff"])
        note("person.changed", subject=person.username, after=_facts(person))
    Identity.objects.update_or_create(user=person, defaults={"subject": subject, "seen_at": timezone.now()})
    wanted = {group for group in groups if group and len(group) <= MOST_CHARS}
    known = set(person.teams.filter(is_from_provider=True).values_list("name", flat=True))
    if wanted == known:
        return
    for name in sorted(wanted - known):
        team, _ = Team.objects.get_or_create(name=name, defaults={"is_from_provider": True})
        if team.is_from_provider:  # A team of the portal's own is joined by its members' choice only.
            team.users.add(person)
    for team in person.teams.filter(is_from_provider=True).exclude(name__in=wanted):
        team.users.remove(person)
    note("person.groups", subject=person.username, before=sorted(known), after=sorted(wanted))


# Sessions ---------------------------------------------------------------------------------


def note_sign_in(person: User, session_key: str, *, address: str, agent: str) -> None:
    """Somebody has signed in."""
    with asking(Asker(person.pk, person.username, person.is_staff, address=address)):
        note("person.signed-in", subject=person.username)
    SignIn.objects.update_or_create(
        session_key=session_key, defaults={"user": person, "address": address, "agent": agent[:200]}
    )


def note_seen(session_key: str) -> None:
    """A session is used, to five minutes."""
    now = timezone.now()
    SignIn.objects.filter(session_key=session_key, seen_at__lt=now - _SEEN_GRAIN).update(seen_at=now)


def end_sign_ins(person: User, sign_in_id: int | None = None) -> int:
    """End the sessions of somebody, or one of them, at once; how many."""
    rows = person.sign_ins.all() if sign_in_id is None else person.sign_ins.filter(pk=sign_in_id)
    keys = list(rows.values_list("session_key", flat=True))
    Session.objects.filter(session_key__in=keys).delete()
    SignIn.objects.filter(session_key__in=keys).delete()
    return len(keys)


def forget_sessions() -> None:
    """Sessions that have run out."""
    Session.objects.filter(expire_date__lt=timezone.now()).delete()
    SignIn.objects.exclude(session_key__in=Session.objects.values("session_key")).delete()
