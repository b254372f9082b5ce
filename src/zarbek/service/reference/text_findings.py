"""What is wrong in a text that a page shows."""

from __future__ import annotations

from zarbek.core.model.finding import Finding
from zarbek.service.catalog.models import Release
from zarbek.service.findings.actions.finding_history import branch_of
from zarbek.service.findings.queries import alive, standing


def list_findings(release: Release, subject: str, kind: str) -> list[Finding]:
    """What is wrong in a text, by the releases of this one's line; waived findings are left out."""
    branch = branch_of(release.project, release.version)
    found = standing(alive(release.project, branch).filter(subject=subject, waiver=None))
    return sorted((f for f in found if f.subject_kind == kind), key=Finding.sort_key)
