"""What people said of findings on reading them in the sources."""

from __future__ import annotations

import csv
from collections.abc import Iterable
from dataclasses import dataclass
from hashlib import sha256
from pathlib import Path
from typing import Any

FILE = Path(__file__).with_name("labels.csv")
COLUMNS = ("verdict", "rule", "project", "fingerprint", "place", "text", "reason")
VERDICTS = ("true", "false", "useless")
#: So many findings of a rule are read; a rule that has fewer is read whole.
SAMPLE = 40


@dataclass(frozen=True, slots=True)
class Label:
    """verdict: ``true`` where a maintainer would mend it, ``useless`` where it is right and nobody would,
    ``false`` where it is wrong."""

    verdict: str
    rule: str
    project: str
    fingerprint: str
    place: str
    text: str
    reason: str

    @property
    def key(self) -> tuple[str, str]:
        """What tells one label from all others."""
        return self.project, self.fingerprint


def read_labels(file: Path = FILE) -> dict[tuple[str, str], Label]:
    """By project and fingerprint. Raises ValueError for a verdict that there is not."""
    if not file.exists():
        return {}
    with file.open(newline="") as opened:
        labels = [Label(**row) for row in csv.DictReader(opened)]
    if unknown := {x.verdict for x in labels} - set(VERDICTS):
        raise ValueError(f"no verdict: {', '.join(sorted(unknown))}")
    return {x.key: x for x in labels}


def write_labels(labels: Iterable[Label], file: Path = FILE) -> None:
    """Keep labels as CSV, in an order that shows well what changed."""
    rows = sorted(labels, key=lambda x: (x.rule, x.project, x.place, x.fingerprint))
    with file.open("w", newline="") as opened:
        writer = csv.DictWriter(opened, COLUMNS, lineterminator="\n")
        writer.writeheader()
        writer.writerows({name: getattr(x, name) for name in COLUMNS} for x in rows)


def place_of(finding: dict[str, Any]) -> str:
    """FILE:LINE of a finding, or its subject where it has no file."""
    return f"{finding['file']}:{finding.get('line', 0)}" if finding.get("file") else finding.get("subject", "")


def sample_of(findings: Iterable[dict[str, Any]]) -> list[dict[str, Any]]:
    """Of each rule all, or as many as are read, chosen by chance that is the same every time."""
    by_rule: dict[str, list[dict[str, Any]]] = {}
    for finding in findings:
        by_rule.setdefault(finding["rule"], []).append(finding)
    chosen = []
    for rule in sorted(by_rule):
        chosen += sorted(by_rule[rule], key=_chance)[:SAMPLE]
    return chosen


def _chance(finding: dict[str, Any]) -> str:
    return sha256(f"{finding['project']} {finding['fingerprint']}".encode()).hexdigest()
