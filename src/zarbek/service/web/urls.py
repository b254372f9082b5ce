"""Every address of the service."""

from __future__ import annotations

from django.conf import settings
from django.urls import path

from zarbek.service.accounts.api.people import People, PersonDetail, PersonSessions, TeamDetail, Teams
from zarbek.service.accounts.api.provider import FromProvider, LogoutFromProvider, ToProvider
from zarbek.service.accounts.api.session import Password, Session, SignInDetail, SignIns
from zarbek.service.addresses.api.addresses import Addresses, QuietHosts
from zarbek.service.catalog.api.audit import Audit, AuditLines
from zarbek.service.catalog.api.members import Members as ProjectMembers
from zarbek.service.catalog.api.members import PortalMembers, Visibility
from zarbek.service.catalog.api.projects import ProjectDetail, Projects, ReleaseDetail, ReleaseRemoval, Releases
from zarbek.service.catalog.api.release_policy import Outside, Policy, ReleaseHold, ReleaseSupport
from zarbek.service.catalog.api.tokens import TokenDetail, TokenRotation, Tokens
from zarbek.service.findings.api.findings import (
    FindingGroups,
    Findings,
    Health,
    LatestReport,
    Map,
    Rules,
    RunReport,
    Trend,
)
from zarbek.service.findings.api.names import Names
from zarbek.service.findings.api.patches import EditList, PatchView
from zarbek.service.findings.api.waivers import WaiverDetail, Waivers
from zarbek.service.links.api.changes import Compare, ComparePage, ImpactView
from zarbek.service.links.api.lineage import LineageView
from zarbek.service.links.api.links import Links, Referrers
from zarbek.service.notices import feeds
from zarbek.service.notices.api.mail import Mail, MailSubscription, MailUnsubscription
from zarbek.service.notices.api.notices import Deliveries, Digests, Redelivery, WebhookDetail, Webhooks
from zarbek.service.publishing.api.runs import RunCancel, RunDetail, RunEvents, RunLog, RunRetry, Runs
from zarbek.service.reference.api.files import FileDetail, Files
from zarbek.service.reference.api.link_indexes import ElementsView, LinkIndexes
from zarbek.service.reference.api.operations import Operations
from zarbek.service.reference.api.originals import OriginalByKey, OriginalDetail
from zarbek.service.reference.api.pages import (
    AssetDetail,
    Contents,
    ContentsOfAll,
    GuideDetail,
    Members,
    PortalDashboard,
    SymbolDetail,
    Symbols,
)
from zarbek.service.reference.api.tables import TableMarkdown, Tables
from zarbek.service.reference.api.tested import TestedElements, TestedTable
from zarbek.service.search.api.search import Search
from zarbek.service.sources.api.databases import DatabasePoll, ProjectDatabase
from zarbek.service.sources.api.hooks import AheadList, Hook, Poll
from zarbek.service.sources.api.repositories import Fetches, SourceDetail, Sources
from zarbek.service.sources.api.running_services import ServicePoll, Services
from zarbek.service.supplements.api.supplements import SupplementPatch, WrittenSupplement, WrittenSupplements
from zarbek.service.tryit.api.calls import Calls
from zarbek.service.web import health
from zarbek.service.web.console_page import page
from zarbek.service.web.openapi import openapi_view

RELEASE = "api/v1/projects/<str:slug>/releases/<str:version>"
api_patterns = [
    path("api/v1/dashboard", PortalDashboard.as_view()),
    path("api/v1/search", Search.as_view()),
    path("api/v1/session", Session.as_view()),
    path("api/v1/session/password", Password.as_view()),
    path("api/v1/sessions", SignIns.as_view()),
    path("api/v1/sessions/<int:sign_in_id>", SignInDetail.as_view()),
    path("api/v1/tokens", Tokens.as_view()),
    path("api/v1/tokens/<int:token_id>", TokenDetail.as_view()),
    path("api/v1/tokens/<int:token_id>/rotation", TokenRotation.as_view()),
    path("api/v1/people", People.as_view()),
    path("api/v1/people/<str:name>", PersonDetail.as_view()),
    path("api/v1/people/<str:name>/sessions", PersonSessions.as_view()),
    path("api/v1/teams", Teams.as_view()),
    path("api/v1/teams/<str:name>", TeamDetail.as_view()),
    path("api/v1/members", PortalMembers.as_view()),
    path("api/v1/audit", Audit.as_view()),
    path("api/v1/audit/lines", AuditLines.as_view()),
    path("api/v1/projects", Projects.as_view()),
    path("api/v1/projects/<str:slug>", ProjectDetail.as_view()),
    path("api/v1/projects/<str:slug>/releases", Releases.as_view()),
    path("api/v1/projects/<str:slug>/report", LatestReport.as_view()),
    path("api/v1/projects/<str:slug>/health", Health.as_view()),
    path("api/v1/projects/<str:slug>/compare", Compare.as_view()),
    path("api/v1/projects/<str:slug>/compare/page", ComparePage.as_view()),
    path("api/v1/projects/<str:slug>/impact", ImpactView.as_view()),
    path("api/v1/projects/<str:slug>/edits", EditList.as_view()),
    path("api/v1/projects/<str:slug>/patch", PatchView.as_view()),
    path("api/v1/projects/<str:slug>/visibility", Visibility.as_view()),
    path("api/v1/projects/<str:slug>/members", ProjectMembers.as_view()),
    path("api/v1/projects/<str:slug>/policy", Policy.as_view()),
    path("api/v1/projects/<str:slug>/addresses", Addresses.as_view()),
    path("api/v1/projects/<str:slug>/sources", Sources.as_view()),
    path("api/v1/projects/<str:slug>/services", Services.as_view()),
    path("api/v1/projects/<str:slug>/services/poll", ServicePoll.as_view()),
    path("api/v1/projects/<str:slug>/database", ProjectDatabase.as_view()),
    path("api/v1/projects/<str:slug>/database/poll", DatabasePoll.as_view()),
    path("api/v1/projects/<str:slug>/fetches", Fetches.as_view()),
    path("api/v1/projects/<str:slug>/referrers/<path:path>", Referrers.as_view()),
    path(RELEASE, ReleaseRemoval.as_view()),
    path(f"{RELEASE}/manifest", ReleaseDetail.as_view()),
    path(f"{RELEASE}/support", ReleaseSupport.as_view()),
    path(f"{RELEASE}/hold", ReleaseHold.as_view()),
    path("api/v1/contents", ContentsOfAll.as_view()),
    path(f"{RELEASE}/contents", Contents.as_view()),
    path(f"{RELEASE}/index", LinkIndexes.as_view()),
    path(f"{RELEASE}/elements", ElementsView.as_view()),
    path(f"{RELEASE}/links", Links.as_view()),
    path(f"{RELEASE}/symbols", Symbols.as_view()),
    path(f"{RELEASE}/symbols/<path:path>", SymbolDetail.as_view()),
    path(f"{RELEASE}/files", Files.as_view()),
    path(f"{RELEASE}/files/<path:path>", FileDetail.as_view()),
    path(f"{RELEASE}/lineage/<path:path>", LineageView.as_view()),
    path(f"{RELEASE}/tables", Tables.as_view()),
    path(f"{RELEASE}/tables/<path:path>", TableMarkdown.as_view()),
    path(f"{RELEASE}/tested", TestedElements.as_view()),
    path(f"{RELEASE}/tested.csv", TestedTable.as_view()),
    path(f"{RELEASE}/members/<path:path>", Members.as_view()),
    path(f"{RELEASE}/operations", Operations.as_view()),
    path(f"{RELEASE}/calls", Calls.as_view()),
    path(f"{RELEASE}/guides/<path:path>", GuideDetail.as_view()),
    path("api/v1/assets/<str:slug>/<str:version>/<path:path>", AssetDetail.as_view()),
    path("api/v1/originals/<str:slug>/<str:version>/~<str:key>/<path:path>", OriginalByKey.as_view()),
    path("api/v1/originals/<str:slug>/<str:version>/<path:path>", OriginalDetail.as_view()),
    path("api/v1/runs", Runs.as_view()),
    path("api/v1/runs/<int:run_id>", RunDetail.as_view()),
    path("api/v1/runs/<int:run_id>/cancel", RunCancel.as_view()),
    path("api/v1/runs/<int:run_id>/retry", RunRetry.as_view()),
    path("api/v1/runs/<int:run_id>/log", RunLog.as_view()),
    path("api/v1/runs/<int:run_id>/report", RunReport.as_view()),
    path("api/v1/runs/<int:run_id>/events", RunEvents.as_view()),
    path("api/v1/findings", Findings.as_view()),
    path("api/v1/findings/groups", FindingGroups.as_view()),
    path("api/v1/projects/<str:slug>/written", WrittenSupplements.as_view()),
    path("api/v1/projects/<str:slug>/written.patch", SupplementPatch.as_view()),
    path("api/v1/projects/<str:slug>/written/<str:name>", WrittenSupplement.as_view()),
    path("api/v1/waivers", Waivers.as_view()),
    path("api/v1/waivers/<int:waiver_id>", WaiverDetail.as_view()),
    path("api/v1/addresses/quiet", QuietHosts.as_view()),
    path("api/v1/outside", Outside.as_view()),
    path("api/v1/trend", Trend.as_view()),
    path("api/v1/map", Map.as_view()),
    path("api/v1/ahead", AheadList.as_view()),
    path("api/v1/names", Names.as_view()),
    path("api/v1/sources/<int:source_id>", SourceDetail.as_view()),
    path("api/v1/sources/<int:source_id>/poll", Poll.as_view()),
    path("api/v1/hooks/<int:source_id>", Hook.as_view()),
    path("api/v1/webhooks", Webhooks.as_view()),
    path("api/v1/webhooks/<int:webhook_id>", WebhookDetail.as_view()),
    path("api/v1/webhooks/<int:webhook_id>/deliveries", Deliveries.as_view()),
    path("api/v1/deliveries/<int:delivery_id>/redelivery", Redelivery.as_view()),
    path("api/v1/digests", Digests.as_view()),
    path("api/v1/mail", Mail.as_view()),
    path("api/v1/mail/subscriptions/<int:subscription_id>", MailSubscription.as_view()),
    path("api/v1/mail/unsubscribe/<str:key>", MailUnsubscription.as_view()),
    path("api/v1/rules", Rules.as_view()),
]
#: Only where people sign in at a provider of identities.
provider_patterns = [
    path("oidc/sign-in", ToProvider.as_view(), name="oidc_authentication_init"),
    path("oidc/callback", FromProvider.as_view(), name="oidc_authentication_callback"),
    path("oidc/sign-out", LogoutFromProvider.as_view()),
] if settings.OIDC_ISSUER else []  # fmt: skip
urlpatterns = [
    *api_patterns,
    path("api/v1/openapi.json", openapi_view(api_patterns)),
    path("health/live", health.live),
    path("health/ready", health.ready),
    path("metrics", health.metrics),
    path("feeds/portal.atom", feeds.PortalFeed.as_view()),
    path("feeds/projects/<str:slug>.atom", feeds.ProjectFeed.as_view()),
    path("feeds/teams/<str:owner>.atom", feeds.TeamFeed.as_view()),
    *provider_patterns,
    path("", page),
    path("<path:address>", page),
]
handler404 = "zarbek.service.web.problems.not_found"
handler500 = "zarbek.service.web.problems.server_error"
