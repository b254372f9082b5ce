"""Publish the real projects again and say how often each rule is right."""

from __future__ import annotations

import json
from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping
from typing import Any

from bench.corpora import HOME
from bench.measures import Row
from bench.portal import Service
from bench.precision.fetching import Project, list_projects
from bench.precision.labels import Label, place_of, read_labels, sample_of
from bench.precision.publishing import publish_all, standing

#: Findings of the last publish, and those of the sample that nobody has read.
STANDING, UNREAD = HOME / "precision" / "standing.json", HOME / "precision" / "unread.json"


def measure_precision() -> list[Row]:
    """How many findings of each rule are right, by the labels."""
    projects = list_projects()
    with Service() as service:
        publish_all(service, projects)
        findings = standing(service)
    STANDING.parent.mkdir(parents=True, exist_ok=True)
    STANDING.write_text(json.dumps(findings, indent=1))
    return rows_of(findings, projects, read_labels())


def rows_of(
    findings: list[dict[str, Any]], projects: list[Project], labels: Mapping[tuple[str, str], Label]
) -> list[Row]:
    """By rule, then by language: what stands, what of it was read, and how much of that is true."""
    languages = {p.slug: p.language for p in projects}
    sample = sample_of(findings)
    unread = [f for f in sample if _key(f) not in labels]
    UNREAD.write_text(json.dumps(unread, indent=1))
    counted = [f for f in findings if f["severity"] != "note"]
    rows = [
        (
            f"{len(projects)} projects, findings that count",
            f"{len(counted):,}",
            f"{len(findings) - len(counted):,} notes",
        )
    ]
    rows += _table(findings, labels, lambda f: f"{f['rule']} ({f['severity']})")
    rows += _table(counted, labels, lambda f: f"{languages[f['project']]}, all rules that count")
    rows.append(("of the sample without a label", str(len(unread)), ", ".join(sorted({f["rule"] for f in unread}))))
    return rows


def _table(findings: Iterable[dict[str, Any]], labels: Mapping[tuple[str, str], Label], name: Any) -> list[Row]:
    found: Counter[str] = Counter()
    verdicts: dict[str, Counter[str]] = defaultdict(Counter)
    for finding in findings:
        found[name(finding)] += 1
        label = labels.get(_key(finding))
        if label is not None:
            verdicts[name(finding)][label.verdict] += 1
    return [(what, _share(verdicts[what]), _told(found[what], verdicts[what])) for what in sorted(found)]


def _share(verdicts: Counter[str]) -> str:
    return f"{100 * verdicts['true'] / verdicts.total():.0f} % true" if verdicts else "not read"


def _told(found: int, verdicts: Counter[str]) -> str:
    words = [f"{found} found", f"{verdicts.total()} read"]
    return ", ".join(words + [f"{verdicts[v]} {v}" for v in ("false", "useless") if verdicts[v]])


def _key(finding: dict[str, Any]) -> tuple[str, str]:
    return finding["project"], finding["fingerprint"]


def describe(finding: dict[str, Any]) -> str:
    """One finding with what it says, for whoever reads it."""
    line = f"{finding.get('before', '')}«{finding.get('text', '')}»{finding.get('after', '')}"
    return f"{finding['project']} {finding['version']} {place_of(finding)}\n  {line}\n  {finding['message']}"
