"""Who may read a project, and who has which part in it."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.accounts.permissions import require_administrator
from zarbek.service.accounts.queries import get_person, get_team
from zarbek.service.catalog.actions.members import remove_member, set_member, set_visibility
from zarbek.service.catalog.models import Membership, Project
from zarbek.service.catalog.permissions import require_owner
from zarbek.service.catalog.queries import get_project, list_members
from zarbek.service.common.api import ApiView, Parameter, describe, read_body
from zarbek.service.common.conditional import json_response
from zarbek.service.common.problems import Problem

Name = Annotated[str, msgspec.Meta(max_length=150)]


class VisibilityView(msgspec.Struct):
    """public: for all who reach the portal; inside: for who is signed in; teams: for members."""

    visibility: str


class NewVisibility(msgspec.Struct, forbid_unknown_fields=True):
    """The same, to be set."""

    visibility: Literal["public", "inside", "teams"]


class ProjectMemberView(msgspec.Struct):
    """A person, or a team, with its part: reader, maintainer or owner. is_everywhere: in all projects."""

    user: str
    team: str
    role: str
    since: datetime
    is_everywhere: bool


class NewMember(msgspec.Struct, forbid_unknown_fields=True):
    """Somebody by the name of the account, or a team."""

    role: Literal["reader", "maintainer", "owner"]
    user: Name = ""
    team: Name = ""


_WHO = (Parameter("user", "The name of an account."), Parameter("team", "The name of a team."))


class Visibility(ApiView):
    """Who may read a project."""

    @describe(id="getVisibility", answer=VisibilityView)
    def get(self, request: Request, slug: str) -> HttpResponse:
        """Who may read a project."""
        return json_response(request, VisibilityView(get_project(slug).visibility))

    @describe(id="setVisibility", answer=VisibilityView, body=NewVisibility)
    def put(self, request: Request, slug: str) -> HttpResponse:
        """Say who may read a project."""
        require_owner(slug)
        project = get_project(slug)
        set_visibility(project, read_body(request, NewVisibility).visibility)
        return json_response(request, VisibilityView(project.visibility))


class Members(ApiView):
    """Who has a part in a project."""

    @describe(id="listProjectMembers", answer=list[ProjectMemberView])
    def get(self, request: Request, slug: str) -> HttpResponse:
        """The members of a project."""
        require_owner(slug)
        return json_response(request, _views(get_project(slug)))

    @describe(id="setProjectMember", answer=list[ProjectMemberView], body=NewMember)
    def put(self, request: Request, slug: str) -> HttpResponse:
        """Give a person or a team a part in a project."""
        require_owner(slug)
        return _put(request, get_project(slug))

    @describe(id="removeProjectMember", status=204, parameters=_WHO)
    def delete(self, request: Request, slug: str) -> HttpResponse:
        """Take a part in a project away."""
        require_owner(slug)
        return _delete(request, get_project(slug))


class PortalMembers(ApiView):
    """Who has a part in all projects."""

    @describe(id="listPortalMembers", answer=list[ProjectMemberView])
    def get(self, request: Request) -> HttpResponse:
        """Those who have a part in all projects; administrators besides."""
        require_administrator()
        return json_response(request, _views(None))

    @describe(id="setPortalMember", answer=list[ProjectMemberView], body=NewMember)
    def put(self, request: Request) -> HttpResponse:
        """Give a person or a team a part in all projects."""
        require_administrator()
        return _put(request, None)

    @describe(id="removePortalMember", status=204, parameters=_WHO)
    def delete(self, request: Request) -> HttpResponse:
        """Take a part in all projects away."""
        require_administrator()
        return _delete(request, None)


def _put(request: Request, project: Project | None) -> HttpResponse:
    body = read_body(request, NewMember)
    set_member(project, **_who(body.user, body.team), role=body.role)
    return json_response(request, _views(project))


def _delete(request: Request, project: Project | None) -> HttpResponse:
    remove_member(project, **_who(request.query_params.get("user", ""), request.query_params.get("team", "")))
    return HttpResponse(status=204)


def _who(user: str, team: str) -> dict[str, Any]:
    if bool(user) == bool(team):
        raise Problem("Name either a user or a team.")
    return {"user": get_person(user)} if user else {"team": get_team(team)}


def _views(project: Project | None) -> list[ProjectMemberView]:
    return [_view(member) for member in list_members(project)]


def _view(member: Membership) -> ProjectMemberView:
    return ProjectMemberView(
        member.user.username if member.user else "", member.team.name if member.team else "", member.role,
        member.since, member.project_id is None,
    )  # fmt: skip
