"""What the portal answers with: structs as the API's description has them. Each module is loaded when one of its
structs is asked for: a program that searches loads no pages."""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from zarbek.client.values.changes import (
        Change,
        Comparison,
        Detail,
        Impact,
        PageChange,
        PageWords,
        Passage,
        Place,
        Referring,
        SectionChange,
    )
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
    from zarbek.client.values.examples import (
        ElementTested,
        ElementUntested,
        ExercisedElement,
        ModuleTested,
        ShownBy,
        Tested,
        TestExample,
        TestExamplePart,
        TestVerdict,
    )
    from zarbek.client.values.files import FilePage, FilePart, FileRow, ListedFile
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
    from zarbek.client.values.lineage import Lineage, LineageEdge, LineageNode
    from zarbek.client.values.pages import (
        ChangeNote,
        Crumb,
        Deprecation,
        DocumentedElement,
        Field,
        GuidePage,
        Heading,
        ListedSymbol,
        Member,
        MemberDetail,
        MemberDetails,
        Navigation,
        PagePlace,
        Parameter,
        ReferrerCount,
        Section,
        Signature,
        SymbolPage,
    )
    from zarbek.client.values.people import (
        AuditEntry,
        MailSettings,
        Person,
        ProjectMember,
        SignIn,
        Subscription,
        Team,
        Token,
        Visibility,
    )
    from zarbek.client.values.pieces import Piece
    from zarbek.client.values.projects import (
        Claim,
        Dependency,
        Edition,
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
        TreeFacts,
    )
    from zarbek.client.values.sources import (
        Ahead,
        CallResult,
        Database,
        Delivery,
        GivenAnswer,
        RunningService,
        Source,
        Webhook,
    )
    from zarbek.client.values.supplements import Revision, Supplement, Words, Written
    from zarbek.client.values.tables import (
        Check,
        ColumnFacts,
        Data,
        DataWay,
        ListedKey,
        ListedTable,
        TableColumn,
        TableFacts,
        TableFeed,
        TableKey,
        TableList,
        TableQuery,
        TableText,
    )

#: What each module offers.
_OFFERED = {
    "changes": "Change Comparison Detail Impact PageChange PageWords Passage Place Referring SectionChange",
    "dashboard": "Day Going HealthPoint MapEdge Published Dashboard TrendPoint OwnerFindings",
    "examples": (
        "ElementTested ElementUntested ExercisedElement ModuleTested ShownBy TestExample "
        "TestExamplePart TestVerdict Tested"
    ),
    "files": "FilePage FilePart FileRow ListedFile",
    "findings": (
        "Addresses Counted Edit Edits Elsewhere Examined Finding FindingGroup Patch Report Rule "
        "StandingFinding Unreachable Waived WaivedBy Waiver"
    ),
    "interfaces": (
        "Answer Body Example Followup Interface ListedOperation Media Need Operation OperationGroup "
        "OperationLink Particle Row Service Slot Snippet"
    ),
    "lineage": "Lineage LineageEdge LineageNode",
    "pages": (
        "ChangeNote Crumb Deprecation DocumentedElement EditionChoice Field GuidePage Heading ListedSymbol Member "
        "MemberDetail MemberDetails PagePlace Parameter Navigation ReferrerCount Section Signature SymbolPage"
    ),
    "people": "AuditEntry MailSettings Person ProjectMember SignIn Subscription Team Token Visibility",
    "pieces": "Piece",
    "projects": (
        "Claim Dependency Edition Hit Hold LogLine Manifest Policy Project Referrer Release Run Support TreeFacts"
    ),
    "sources": "Ahead CallResult Database Delivery GivenAnswer RunningService Source Webhook",
    "supplements": "Revision Supplement Words Written",
    "tables": "Check ColumnFacts Data DataWay ListedKey ListedTable TableColumn TableFacts TableFeed "
    "TableKey TableList TableQuery TableText",
}
_PLACES = {name: place for place, names in _OFFERED.items() for name in names.split()}
__all__ = [
    "Addresses", "Ahead", "Answer", "AuditEntry", "Body", "CallResult", "Change", "ChangeNote", "Check", "Claim",
    "ColumnFacts", "Comparison", "Counted", "Crumb", "Dashboard", "Data", "DataWay", "Database", "Day", "Delivery",
    "Dependency", "Deprecation", "Detail", "DocumentedElement", "Edit", "Edition", "EditionChoice", "Edits",
    "ElementTested", "ElementUntested", "Elsewhere", "Examined", "Example", "ExercisedElement", "Field", "FilePage",
    "FilePart", "FileRow", "Finding", "FindingGroup", "Followup", "GivenAnswer", "Going", "GuidePage", "Heading",
    "HealthPoint", "Hit", "Hold", "Impact", "Interface", "Lineage", "LineageEdge", "LineageNode", "ListedFile",
    "ListedKey", "ListedOperation", "ListedSymbol", "ListedTable", "LogLine", "MailSettings", "Manifest", "MapEdge",
    "Media", "Member", "MemberDetail", "MemberDetails", "ModuleTested", "Navigation", "Need", "Operation",
    "OperationGroup", "OperationLink", "OwnerFindings", "PageChange", "PagePlace", "PageWords", "Parameter",
    "Particle", "Passage", "Patch", "Person", "Piece", "Place", "Policy", "Project", "ProjectMember", "Published",
    "Referrer", "ReferrerCount", "Referring", "Release", "Report", "Revision", "Row", "Rule", "Run", "RunningService",
    "Section", "SectionChange", "Service", "ShownBy", "SignIn", "Signature", "Slot", "Snippet", "Source",
    "StandingFinding", "Subscription", "Supplement", "Support", "SymbolPage", "TableColumn", "TableFacts",
    "TableFeed", "TableKey", "TableList", "TableQuery", "TableText", "Team", "TestExample", "TestExamplePart",
    "TestVerdict", "Tested", "Token", "TreeFacts", "TrendPoint", "Unreachable", "Visibility", "Waived", "WaivedBy",
    "Waiver", "Webhook", "Words", "Written",
]  # fmt: skip


def __getattr__(name: str) -> object:
    if name not in _PLACES:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    return getattr(import_module(f"{__name__}.{_PLACES[name]}"), name)
