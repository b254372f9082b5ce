"""Client library of the HTTP API."""

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
