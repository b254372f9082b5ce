"""Which findings stop a build, or hold a release back."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

import msgspec

from zarbek.core.findings.rules import RULES, at_least
from zarbek.core.model.finding import Finding

FAMILIES = sorted({rule.id.partition("/")[0] for rule in RULES})


class Gate(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """severity: the least that counts; notes never do. families, rules: only these, if any are named.
    new_only: whether findings that stood before do not count. more_than: how many may pass."""

    severity: Literal["warning", "error"] = "error"
    families: list[str] = []
    rules: list[str] = []
    new_only: bool = True
    more_than: int = 0

    def counts(self, finding: Finding) -> bool:
        """Whether a finding is one that the gate is for."""
        return (
            at_least(finding.severity, self.severity)
            and (not self.families or finding.family in self.families)
            and (not self.rules or finding.rule in self.rules)
        )


def stopped_by(gate: Gate, new: Iterable[Finding], still: Iterable[Finding]) -> list[Finding]:
    """The findings that stop, all of them; none where they are no more than the gate lets pass.

    Waived findings are for the caller to leave out.
    """
    found = [f for f in (*new, *(() if gate.new_only else still)) if gate.counts(f)]
    return found if len(found) > gate.more_than else []


def unknown_names(gate: Gate) -> list[str]:
    """Families and rules of a gate that do not exist."""
    known = {rule.id for rule in RULES}
    return [f for f in gate.families if f not in FAMILIES] + [r for r in gate.rules if r not in known]
