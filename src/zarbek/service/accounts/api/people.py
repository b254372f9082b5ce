"""Accounts and teams."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

import msgspec
from django.contrib.auth.models import User
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.accounts.actions.people import (
    add_person,
    change_person,
    end_sign_ins,
    remove_team,
    set_password,
    set_team,
)
from zarbek.service.accounts.models import Team
from zarbek.service.accounts.permissions import require_administrator, require_someone
from zarbek.service.accounts.queries import get_person, get_team, list_people, list_teams
from zarbek.service.common.api import PAGING, ApiView, Line, describe, read_body
from zarbek.service.common.conditional import created_response, json_response
from zarbek.service.common.paging import page_of

Password = Annotated[str, msgspec.Meta(max_length=1024)]


class PersonView(msgspec.Struct):
    """An account. is_from_provider: whether it signs in at the provider of identities. last_login: when it last did."""

    name: str
    email: str
    is_active: bool
    is_administrator: bool
    is_from_provider: bool
    teams: list[str]
    last_login: datetime | None


class PersonPage(msgspec.Struct):
    """next: the address of the accounts that follow, or null."""

    items: list[PersonView]
    total: int
    next: str | None


class NewPerson(msgspec.Struct, forbid_unknown_fields=True):
    """An account that signs in by password."""

    name: Annotated[str, msgspec.Meta(min_length=1, max_length=150)]
    password: Password
    email: Annotated[str, msgspec.Meta(max_length=254)] = ""
    is_administrator: bool = False


class PersonChange(msgspec.Struct, forbid_unknown_fields=True):
    """What is left out stays. A new password ends every session of the account."""

    is_active: bool | None = None
    is_administrator: bool | None = None
    email: Annotated[str, msgspec.Meta(max_length=254)] | None = None
    password: Password | None = None


class TeamView(msgspec.Struct):
    """is_from_provider: whether it is a group of the provider of identities, who says who is in it. people: for
    administrators and for who is in it; else empty."""

    name: str
    is_from_provider: bool
    people: list[str]


class TeamMembers(msgspec.Struct, forbid_unknown_fields=True):
    """Exactly those who are in a team."""

    people: Annotated[list[Line], msgspec.Meta(max_length=5000)]


class People(ApiView):
    """The accounts of the portal."""

    @describe(id="listPeople", answer=PersonPage, parameters=PAGING)
    def get(self, request: Request) -> HttpResponse:
        """Accounts by name."""
        require_administrator()
        page = page_of(list_people(), ("username",), request.query_params, request.path)
        return json_response(request, {**page, "items": [_person(p) for p in page["items"]]})

    @describe(id="addPerson", answer=PersonView, status=201, body=NewPerson)
    def post(self, request: Request) -> HttpResponse:
        """Make an account that signs in by password."""
        require_administrator()
        body = read_body(request, NewPerson)
        person = add_person(body.name, body.password, email=body.email, is_administrator=body.is_administrator)
        return created_response(request, _person(person))


class PersonDetail(ApiView):
    """One account."""

    @describe(id="changePerson", answer=PersonView, body=PersonChange)
    def put(self, request: Request, name: str) -> HttpResponse:
        """Change an account: whether it is of use, whether it administers the portal, its password."""
        require_administrator()
        body, person = read_body(request, PersonChange), get_person(name)
        if body.password is not None:
            set_password(person, body.password)
        change_person(person, is_active=body.is_active, is_administrator=body.is_administrator, email=body.email)
        return json_response(request, _person(person))


class PersonSessions(ApiView):
    """Where somebody is signed in."""

    @describe(id="endSessionsOf", status=204)
    def delete(self, request: Request, name: str) -> HttpResponse:
        """End all sessions of an account at once."""
        require_administrator()
        end_sign_ins(get_person(name))
        return HttpResponse(status=204)


class Teams(ApiView):
    """The teams of the portal."""

    @describe(id="listTeams", answer=list[TeamView])
    def get(self, request: Request) -> HttpResponse:
        """Teams by name."""
        require_someone()
        return json_response(request, [_team(team, request.user) for team in list_teams()])


class TeamDetail(ApiView):
    """One team."""

    @describe(id="setTeam", answer=TeamView, body=TeamMembers)
    def put(self, request: Request, name: str) -> HttpResponse:
        """Say who is in a team; it is made where there is none."""
        require_administrator()
        return json_response(request, _team(set_team(name, read_body(request, TeamMembers).people), request.user))

    @describe(id="removeTeam", status=204)
    def delete(self, request: Request, name: str) -> HttpResponse:
        """Remove a team; what its members had a part in by it, they have no longer."""
        require_administrator()
        remove_team(get_team(name))
        return HttpResponse(status=204)


def _person(person: User) -> PersonView:
    return PersonView(
        person.username, person.email, person.is_active, person.is_staff, hasattr(person, "identity"),
        [team.name for team in person.teams.all()], person.last_login,
    )  # fmt: skip


def _team(team: Team, asker: User) -> TeamView:
    people = sorted(user.username for user in team.users.all())
    is_told = asker.is_staff or asker.username in people
    return TeamView(team.name, team.is_from_provider, people if is_told else [])
