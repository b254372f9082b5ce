"""The findings of one line of a project, through their life."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from datetime import date, datetime
from typing import Any, Literal, NamedTuple

import msgspec
from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.findings.formats.wording import without_notes
from zarbek.core.findings.owners import owner_of
from zarbek.core.findings.report import Compared, Counted, compare_findings
from zarbek.core.findings.waivers import waiver_of
from zarbek.core.linking.versions import line_of
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.actions.projects import lock_project
from zarbek.service.catalog.models import Project
from zarbek.service.catalog.queries import LATEST
from zarbek.service.common.batches import batched
from zarbek.service.findings.actions.health_points import add_point, keep_point
from zarbek.service.findings.models import ALIVE, FindingRecord
from zarbek.service.findings.queries import list_waivers
from zarbek.service.links.documents import Text

#: Rules whose findings come with the bundle and do not change with the portal.
_GATHERED = ("text/", "stale/parameter", "stale/example", "stale/verdict")
#: Rules that are looked into after a publish, in their own time.
URLS = ("dangling/url", "stale/redirect")
AHEAD = ("stale/source-ahead", "dangling/service", "stale/database", "stale/database-ahead")
CLAIMS = ("text/contested-name",)
#: What was looked into, and the rules that only that looks into.
_APART = {"urls": URLS, "ahead": AHEAD, "claims": CLAIMS}
#: All that a publish does, links alone, addresses, the repository, or whose names are.
Part = Literal["published", "links", "urls", "ahead", "claims"]


class Kept(NamedTuple):
    """How many findings but notes began to stand and were mended with what was kept just now; what an earlier attempt
    at a run has kept does so no second time."""

    new: int
    fixed: int


class FindingHistory:
    """Compares what stands now with what stood before a run, and keeps it. A run that is done a
    second time finds what stood before its first. run: 0 for what no run brought about."""

    def __init__(self, project: Project, version: str, run: int) -> None:
        self.project, self.version, self.run = project, version, run
        self._find_branch()

    def _find_branch(self) -> None:
        self.branch = branch_of(self.project, self.version)
        self._rows = FindingRecord.objects.filter(project=self.project, branch=self.branch)

    def owned(self, findings: Iterable[Finding]) -> list[Finding]:
        """The findings with the teams whose turn they are."""
        default, owners = self.project.owner, self.project.owners
        return [msgspec.structs.replace(f, owner=owner_of(f.file, owners, default)) for f in findings]

    def compare(
        self, findings: Iterable[Finding], texts: set[Text] | None = None, *, part: Part = "published"
    ) -> Compared:
        """texts: where findings were looked for, None for everywhere."""
        before = [f for f in self._before(texts) if _is_part(f, part)]
        return compare_findings(self.owned(findings), before)

    def _before(self, texts: set[Text] | None) -> Iterable[Finding]:
        stood = (
            Q(state__in=ALIVE)
            if not self.run
            else (Q(state__in=ALIVE) & ~Q(since_run=self.run)) | Q(state="fixed", fixed_run=self.run)
        )
        return _within(self._rows.filter(stood), texts)

    def _withdraw(self, compared: Compared, texts: set[Text] | None, part: Part, now: datetime) -> list[Finding]:
        """End what an earlier attempt at the run began, and this one does not find any more: it was never seen to
        stand before, so that the comparison says nothing of it."""
        if not self.run:
            return []
        found = {f.fingerprint for group in (compared.new, compared.open) for f in group}
        begun = _within(self._rows.filter(state__in=ALIVE, since_run=self.run), texts)
        ended = {f.fingerprint: f for f in begun if f.fingerprint not in found and _is_part(f, part)}
        for batch in batched(sorted(ended)):
            self._rows.filter(computed__in=batch).update(**self._ended(now))
        return list(ended.values())

    def _ended(self, now: datetime) -> dict[str, Any]:
        return {"state": "fixed", "fixed_at": now, "fixed_in": self.version, "fixed_run": self.run,
                "last_run": self.run}  # fmt: skip

    def judge(
        self, findings: Callable[[], Iterable[Finding]], texts: set[Text] | None = None, *, part: Part, cause: str,
        counted: Counted | None = None,
    ) -> Compared:  # fmt: skip
        """Compare and keep, while nobody else does so for the project and none of its releases goes live. findings:
        tells them, as they are then; counted: the references, where those were looked at. A release that another has
        come after is judged no more."""
        with transaction.atomic():
            lock_project(self.project.pk)
            self._find_branch()
            if not self.project.releases.filter(version=self.version, is_live=True, is_judged=True).exists():
                return compare_findings((), ())
            found = self.compare(findings(), texts, part=part)
            kept = self.keep(found, cause, texts, part=part)
            if any(kept):
                self.count(kept, counted)
        return found

    def count(self, kept: Kept, counted: Counted | None) -> None:
        """Note in the project's trend what was kept, where it is of the line that people look at."""
        if self.branch:
            return
        if counted is not None:
            keep_point(self.project, self.run, counted, *kept)
        else:
            add_point(self.project, *kept)

    @transaction.atomic
    def keep(self, compared: Compared, cause: str, texts: set[Text] | None = None, *, part: Part = "published") -> Kept:
        """Write down what became of each finding, and which waivers cover what stands; whoever compared, with the same
        texts and part, has the project locked since before."""
        now = timezone.now()
        new, fixed = list[Finding](), self._withdraw(compared, texts, part, now)
        if compared.is_empty:
            return Kept(0, len(without_notes(fixed)))
        known = self._known(compared)
        for finding in compared.fixed:
            row = known[finding.fingerprint]
            if row.state != "fixed":
                fixed.append(finding)
                for name, value in self._ended(now).items():
                    setattr(row, name, value)
                row.save()
        made = []
        for finding in compared.new:
            row = known.get(finding.fingerprint)
            if row is None:
                new.append(finding)
                made.append(self._new(finding, cause, now))
            elif row.since_run != self.run or row.state not in ALIVE:
                new.append(finding)
                row.state, row.since_run, row.cause, row.fixed_at = "back", self.run, cause, None
                row.since_at = now
                self._fill(row, finding, now)
                row.save()
        FindingRecord.objects.bulk_create(made, batch_size=500)
        new += self._keep_open(compared, known, now)
        self.cover(now.date())
        return Kept(len(without_notes(new)), len(without_notes(fixed)))

    def _keep_open(self, compared: Compared, known: dict[str, FindingRecord], now: datetime) -> list[Finding]:
        """Most findings that stand are as they were: one statement for those. Which an earlier attempt at the run had
        ended."""
        same: list[int] = []
        ended: list[Finding] = []
        for finding in compared.open:
            row = known[compared.carried.get(finding.fingerprint, finding.fingerprint)]
            if row.state == "open" and row.document == msgspec.to_builtins(finding):
                same.append(row.pk)
                continue
            if row.state not in ALIVE:
                ended.append(finding)
            row.state = "open"
            self._fill(row, finding, now)
            row.save()
        for batch in batched(same):
            FindingRecord.objects.filter(pk__in=batch).update(version=self.version, last_run=self.run, last_seen_at=now)
        return ended

    def _known(self, compared: Compared) -> dict[str, FindingRecord]:
        """Computed fingerprint to its row, for all that the comparison speaks of."""
        wanted = {f.fingerprint for group in (compared.new, compared.open, compared.fixed) for f in group}
        wanted |= set(compared.carried.values())
        found: dict[str, FindingRecord] = {}
        for batch in batched(sorted(wanted)):
            found.update({row.computed: row for row in self._rows.filter(computed__in=batch)})
        return found

    def _new(self, finding: Finding, cause: str, now: datetime) -> FindingRecord:
        identity = finding.fingerprint
        if self._rows.filter(fingerprint=identity).exists():  # One that went elsewhere has it.
            identity = fingerprint(finding.rule, f"{finding.subject} {self.run}", finding.text)
        row = FindingRecord(
            project=self.project, branch=self.branch, fingerprint=identity, state="new", cause=cause,
            first_run=self.run, since_run=self.run, since_at=now, first_seen_at=now,
        )  # fmt: skip
        self._fill(row, finding, now)
        return row

    def _fill(self, row: FindingRecord, finding: Finding, now: datetime) -> None:
        row.computed, row.rule, row.severity = finding.fingerprint, finding.rule, finding.severity
        row.about, row.subject, row.owner = finding.about[:100], finding.subject[:700], finding.owner
        row.target = finding.target[:700]
        row.version, row.last_run, row.last_seen_at = self.version, self.run, now
        row.document, row.places = msgspec.to_builtins(finding), finding.places

    def identified(self, findings: Iterable[Finding], carried: dict[str, str]) -> list[Finding]:
        """The findings under the fingerprints that they have had from their first day on."""
        rows = dict(self._rows.exclude(state="retired").values_list("computed", "fingerprint"))
        return [
            msgspec.structs.replace(f, fingerprint=rows.get(carried.get(f.fingerprint, f.fingerprint),
                                                            rows.get(f.fingerprint, f.fingerprint)))
            for f in findings
        ]  # fmt: skip

    def cover(self, day: date) -> None:
        """Give every finding that stands the waiver that covers it today."""
        waivers = list_waivers(self.project)
        changed: dict[int | None, list[int]] = {}
        for row in self._rows.filter(state__in=ALIVE):
            finding = msgspec.convert({**row.document, "fingerprint": row.fingerprint}, Finding)
            found = waiver_of(finding, self.project.slug, waivers, day)
            if (found.id if found else None) != row.waiver_id:
                changed.setdefault(found.id if found else None, []).append(row.pk)
        for waiver, rows in changed.items():
            for batch in batched(rows):
                FindingRecord.objects.filter(pk__in=batch).update(waiver_id=waiver)


def _within(rows: QuerySet[FindingRecord], texts: set[Text] | None) -> Iterator[Finding]:
    """The findings of rows about some texts, None for all."""
    subjects = None if texts is None else sorted({path for _, path in texts})
    for batch in [None] if subjects is None else batched(subjects):
        chosen = rows if batch is None else rows.filter(subject__in=batch)
        for document in chosen.values_list("document", flat=True):
            finding = msgspec.convert(document, Finding)
            if texts is None or (finding.subject_kind, finding.subject) in texts:
                yield finding


def is_from_links(finding: Finding) -> bool:
    """Whether a finding is one that linking makes."""
    return _is_part(finding, "links")


def is_gathered(finding: Finding) -> bool:
    """Whether a finding comes with the bundle. What a guide quotes is looked at with its links."""
    is_quoted = finding.rule == "stale/example" and finding.subject_kind == "page"
    return finding.rule.startswith(_GATHERED) and not is_quoted


def _is_part(finding: Finding, part: Part) -> bool:
    if part in _APART:
        return finding.rule in _APART[part]
    is_apart = any(finding.rule in rules for rules in _APART.values())
    return not is_apart and (part == "published" or not is_gathered(finding))


def branch_of(project: Project, version: str) -> str:
    """Empty for the line that ``latest`` is on, else the line."""
    newest = project.aliases.filter(name=LATEST).values_list("release__version", flat=True).first()
    line = line_of(version)
    return "" if newest is None or line_of(newest) == line else line
