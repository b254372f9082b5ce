"""What is wrong in a text that a page shows."""

from __future__ import annotations

from collections.abc import Collection

from zarbek.core.model.finding import Finding
from zarbek.service.catalog.models import Release
from zarbek.service.findings.actions.finding_history import branch_of
from zarbek.service.findings.queries import alive, standing


def list_findings(release: Release, subject: str, kind: str) -> list[Finding]:
    """What is wrong in a text."""
    return [finding for finding in list_standing(release, [subject]) if finding.subject_kind == kind]


def list_standing(release: Release, subjects: Collection[str]) -> list[Finding]:
    """What is wrong in texts of some paths, by the releases of this one's line; waived findings are left out."""
    branch = branch_of(release.project, release.version)
    found = standing(alive(release.project, branch).filter(subject__in=subjects, waiver=None))
    return sorted(found, key=Finding.sort_key)
