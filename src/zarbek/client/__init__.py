"""Client library of the HTTP API. What it offers is loaded when it is asked for: a program that only asks for help
loads no HTTP."""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from zarbek.client.errors import PortalError, PortalProblem, PortalUnreachable
    from zarbek.client.portal import Portal
    from zarbek.client.values import Hit, LogLine, Project, Referrer, Release, Run, Token

__all__ = [
    "Hit",
    "LogLine",
    "Portal",
    "PortalError",
    "PortalProblem",
    "PortalUnreachable",
    "Project",
    "Referrer",
    "Release",
    "Run",
    "Token",
]
_PLACES = {
    "Hit": "values",
    "LogLine": "values",
    "Portal": "portal",
    "PortalError": "errors",
    "PortalProblem": "errors",
    "PortalUnreachable": "errors",
    "Project": "values",
    "Referrer": "values",
    "Release": "values",
    "Run": "values",
    "Token": "values",
}


def __getattr__(name: str) -> object:
    if name not in _PLACES:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    return getattr(import_module(f"{__name__}.{_PLACES[name]}"), name)
