"""Client library of the HTTP API. What it offers is loaded when it is asked for: a program that only asks for help
loads no HTTP."""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from zarbek.client.errors import PortalError, PortalProblem, PortalUnreachable, TokenUnreadable
    from zarbek.client.portal import Portal
    from zarbek.client.values.changes import Change, Comparison, Detail, Impact, Place, Referring
    from zarbek.client.values.dashboard import (
        Dashboard,
        Day,
        Going,
        HealthPoint,
        MapEdge,
        OwnerFindings,
        Published,
        TrendPoint,
    )
    from zarbek.client.values.findings import (
        Addresses,
        Counted,
        Edit,
        Edits,
        Elsewhere,
        Examined,
        Finding,
        FindingGroup,
        Patch,
        Report,
        Rule,
        StandingFinding,
        Unreachable,
        Waived,
        WaivedBy,
        Waiver,
    )
    from zarbek.client.values.interfaces import (
        Answer,
        Body,
        Example,
        Followup,
        Interface,
        ListedOperation,
        Media,
        Need,
        Operation,
        OperationGroup,
        OperationLink,
        Particle,
        Row,
        Service,
        Slot,
        Snippet,
    )
    from zarbek.client.values.pages import (
        ChangeNote,
        Crumb,
        Deprecation,
        Field,
        GuidePage,
        Heading,
        ListedSymbol,
        Member,
        MemberDetail,
        MemberDetails,
        Navigation,
        Parameter,
        ReferrerCount,
        Section,
        Signature,
        SymbolPage,
    )
    from zarbek.client.values.pieces import Piece
    from zarbek.client.values.projects import (
        Claim,
        Dependency,
        Hit,
        Hold,
        LogLine,
        Manifest,
        Policy,
        Project,
        Referrer,
        Release,
        Run,
        Support,
        Token,
    )
    from zarbek.client.values.sources import Ahead, CallResult, Delivery, GivenAnswer, RunningService, Source, Webhook

#: What each module offers.
_OFFERED = {
    "errors": "PortalError PortalProblem PortalUnreachable TokenUnreadable",
    "portal": "Portal",
    "values.changes": "Change Comparison Detail Impact Place Referring",
    "values.dashboard": "Day Going HealthPoint MapEdge Published Dashboard TrendPoint OwnerFindings",
    "values.findings": (
        "Addresses Counted Edit Edits Elsewhere Examined Finding FindingGroup Patch Report Rule "
        "StandingFinding Unreachable Waived WaivedBy Waiver"
    ),
    "values.interfaces": (
        "Answer Body Example Followup Interface ListedOperation Media Need Operation OperationGroup "
        "OperationLink Particle Row Service Slot Snippet"
    ),
    "values.pages": (
        "ChangeNote Crumb Deprecation Field GuidePage Heading ListedSymbol Member MemberDetail MemberDetails "
        "Parameter Navigation ReferrerCount Section Signature SymbolPage"
    ),
    "values.pieces": "Piece",
    "values.projects": ("Claim Dependency Hit Hold LogLine Manifest Policy Project Referrer Release Run Support Token"),
    "values.sources": "Ahead CallResult Delivery GivenAnswer RunningService Source Webhook",
}
_PLACES = {name: place for place, names in _OFFERED.items() for name in names.split()}
__all__ = [
    "Addresses",
    "Ahead",
    "Answer",
    "Body",
    "CallResult",
    "Change",
    "ChangeNote",
    "Claim",
    "Comparison",
    "Counted",
    "Crumb",
    "Dashboard",
    "Day",
    "Delivery",
    "Dependency",
    "Deprecation",
    "Detail",
    "Edit",
    "Edits",
    "Elsewhere",
    "Examined",
    "Example",
    "Field",
    "Finding",
    "FindingGroup",
    "Followup",
    "GivenAnswer",
    "Going",
    "GuidePage",
    "Heading",
    "HealthPoint",
    "Hit",
    "Hold",
    "Impact",
    "Interface",
    "ListedOperation",
    "ListedSymbol",
    "LogLine",
    "Manifest",
    "MapEdge",
    "Media",
    "Member",
    "MemberDetail",
    "MemberDetails",
    "Navigation",
    "Need",
    "Operation",
    "OperationGroup",
    "OperationLink",
    "OwnerFindings",
    "Parameter",
    "Particle",
    "Patch",
    "Piece",
    "Place",
    "Policy",
    "Portal",
    "PortalError",
    "PortalProblem",
    "PortalUnreachable",
    "Project",
    "Published",
    "Referrer",
    "ReferrerCount",
    "Referring",
    "Release",
    "Report",
    "Row",
    "Rule",
    "Run",
    "RunningService",
    "Section",
    "Service",
    "Signature",
    "Slot",
    "Snippet",
    "Source",
    "StandingFinding",
    "Support",
    "SymbolPage",
    "Token",
    "TokenUnreadable",
    "TrendPoint",
    "Unreachable",
    "Waived",
    "WaivedBy",
    "Waiver",
    "Webhook",
]  # fmt: skip


def __getattr__(name: str) -> object:
    if name not in _PLACES:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    return getattr(import_module(f"{__name__}.{_PLACES[name]}"), name)
