"""The database of a project's data model, as a setting of the project."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

import msgspec
from django.db import transaction
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.errors import CatalogRefused
from zarbek.core.sources.datamodels.settings import PASSWORD_NAME
from zarbek.service.accounts.permissions import require_administrator
from zarbek.service.catalog.actions.projects import check_slug, ensure_project
from zarbek.service.catalog.permissions import may_maintain, require_maintainer
from zarbek.service.catalog.queries import get_project
from zarbek.service.common.api import Address, ApiView, Line, Slug, describe, read_body
from zarbek.service.common.conditional import json_response
from zarbek.service.common.problems import Refused
from zarbek.service.sources.actions import remove_database, set_database
from zarbek.service.sources.databases import host_of
from zarbek.service.sources.models import Database
from zarbek.service.sources.polling import poll_database
from zarbek.service.sources.queries import get_database


class NewDatabase(msgspec.Struct, forbid_unknown_fields=True):
    """address: ``mariadb://USER@HOST:PORT/DATABASE`` and the like, without a password. password_from: the variable of
    the portal's environment that has it, called ``ZARBEK_CATALOG_…``. schemas: those to look at, each with the database
    and schema in which its tables lie in the model; all, under their own names, if empty."""

    address: Address
    password_from: Annotated[str, msgspec.Meta(max_length=100, pattern=PASSWORD_NAME)] = ""
    schemas: dict[Slug, Line] = {}
    poll_minutes: Annotated[int, msgspec.Meta(ge=0, le=100_000)] = 0


class DatabaseState(msgspec.Struct):
    """address, password_from: empty for who may not manage the project."""

    address: str
    password_from: str
    schemas: dict[str, str]
    poll_minutes: int
    asked_at: datetime | None
    fetched_at: datetime | None
    changed_at: datetime | None
    problem: str


def database_state(database: Database, *, is_told: bool = True) -> DatabaseState:
    """is_told: whether the caller may manage the project, and so know where its database is."""
    told = (database.address, database.password_from, database.schemas) if is_told else ("", "", {})
    problem = database.problem if is_told or not database.problem else "It did not say what it has."
    return DatabaseState(
        *told, database.poll_minutes, database.asked_at, database.fetched_at, database.changed_at, problem
    )


class ProjectDatabase(ApiView):
    """The database that a project has its tables of."""

    @describe(id="getDatabase", answer=DatabaseState)
    def get(self, request: Request, slug: str) -> HttpResponse:
        """The database whose catalogue a project is gathered with."""
        found = get_database(get_project(slug))
        return json_response(request, database_state(found, is_told=may_maintain(slug)))

    @describe(id="setDatabase", answer=DatabaseState, body=NewDatabase)
    def put(self, request: Request, slug: str) -> HttpResponse:
        """Say which database a project is gathered with. Its password stays in the portal's environment."""
        require_administrator()
        body = read_body(request, NewDatabase)
        try:
            host_of(body.address)
        except CatalogRefused as error:
            raise Refused(str(error)) from error
        with transaction.atomic():
            project = ensure_project(check_slug(slug))
            database = set_database(project, **msgspec.structs.asdict(body))
        return json_response(request, database_state(database))

    @describe(id="removeDatabase", status=204)
    def delete(self, request: Request, slug: str) -> HttpResponse:
        """Ask the database no more; what was published of it stays."""
        require_administrator()
        remove_database(get_database(get_project(slug)))
        return HttpResponse(status=204)


class DatabasePoll(ApiView):
    """Asking it for its catalogue."""

    @describe(id="pollDatabase", answer=DatabaseState)
    def post(self, request: Request, slug: str) -> HttpResponse:
        """Ask a project's database what it has, now."""
        require_maintainer(slug)
        project = get_project(slug)
        poll_database(get_database(project).pk)
        return json_response(request, database_state(get_database(project)))
