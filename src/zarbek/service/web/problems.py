"""Errors to problem details (RFC 9457)."""

from __future__ import annotations

import logging
from typing import Any

import msgspec
from django.db import OperationalError
from django.http import Http404, HttpResponse
from rest_framework.exceptions import APIException

from zarbek.core.errors import ZarbekError
from zarbek.service.common.problems import Problem, Unavailable
from zarbek.service.common.storage import storage_problem

logger = logging.getLogger(__name__)
#: MariaDB: too many connections, lock wait, deadlock, and a server that is not there or went away.
_PASSING = frozenset({(1040,), (1205,), (1213,), (2002,), (2003,), (2006,), (2013,)})

BASE = "/problems/"


def problem_response(status: int, code: str, title: str, detail: str, **facts: object) -> HttpResponse:
    """An error as problem details (RFC 9457)."""
    body = {"type": BASE + code, "title": title, "status": status, "detail": detail, "code": code, **facts}
    response = HttpResponse(msgspec.json.encode(body), status=status, content_type="application/problem+json")
    if status == 401:
        response["WWW-Authenticate"] = "Bearer"
    if status > 500:  # An answer that says why, not a fault that somebody must look for.
        response._has_been_logged = True  # type: ignore[attr-defined]
    if "retry_after" in facts:
        response["Retry-After"] = str(facts["retry_after"])
    return response


def handle_exception(error: Exception, context: dict[str, Any]) -> HttpResponse | None:
    """The answer to an exception of a view; None for one that nobody expects."""
    if isinstance(error, Problem):
        return problem_response(error.status, error.code, error.title, error.detail, **error.facts)
    if isinstance(error, ZarbekError):
        return problem_response(422, error.code, "The content was refused", str(error))
    if isinstance(error, APIException):
        code = str(error.default_code).replace("_", "-")
        return problem_response(error.status_code, code, str(error.default_detail), str(error.detail))
    if isinstance(error, OperationalError) and error.args[:1] in _PASSING:
        logger.warning("the database: %s", error)
        told = "The portal's database does not answer, or is busy. Nothing was changed. Try again in a moment."
        return handle_exception(Unavailable(told, retry_after=2), context)
    if isinstance(error, OSError) and (problem := storage_problem(error)) is not None:
        logger.error("the disk: %s", error)
        return handle_exception(problem, context)
    if isinstance(error, Http404):
        return problem_response(404, "not-found", "There is nothing at this address", str(error))
    return None


def not_found(request: Any, exception: Exception | None = None) -> HttpResponse:
    """The answer where no route leads."""
    return problem_response(
        404, "not-found", "There is nothing at this address", f"{request.path} is no address of this API."
    )


def server_error(request: Any) -> HttpResponse:
    """The answer to an exception that nobody expects."""
    return problem_response(
        500, "fault", "The portal made a mistake", "It has been logged. Try again; if it stays, tell an administrator."
    )
