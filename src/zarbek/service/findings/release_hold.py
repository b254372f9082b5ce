"""What a release must be free of to become ``latest``."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable

from django.utils import timezone

from zarbek.core.findings.gates import stopped_by
from zarbek.core.findings.report import Compared
from zarbek.core.findings.waivers import waiver_of
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.actions.release_policy import read_policy
from zarbek.service.catalog.models import Project
from zarbek.service.findings.queries import list_waivers


def held_for(project: Project, compared: Compared) -> str:
    """Why the policy keeps a release with these findings from ``latest``; empty if it does not."""
    gate = read_policy(project.policy)
    if gate is None:
        return ""
    waivers, today = list_waivers(project), timezone.now().date()

    def unwaived(findings: Iterable[Finding]) -> list[Finding]:
        return [f for f in findings if waiver_of(f, project.slug, waivers, today) is None]

    found = stopped_by(gate, unwaived(compared.new), unwaived(compared.open))
    if not found:
        return ""
    counted = Counter(f.rule for f in found)
    told = ", ".join(f"{count} {rule}" for rule, count in counted.most_common())
    return f"The project's policy lets {gate.more_than or 'none'} of these pass: {told}."
