"""When findings make a command end with exit code 1."""

from __future__ import annotations

import argparse

import msgspec

from zarbek.client.values.findings import Report as Answered
from zarbek.core.findings.gates import FAMILIES, Gate, stopped_by
from zarbek.core.findings.report import Report
from zarbek.core.findings.rules import COUNTED, RULES


def add_gate(parser: argparse.ArgumentParser) -> None:
    """Add the options that decide which findings end a command with FINDINGS."""
    group = parser.add_argument_group("gate")
    group.add_argument(
        "--fail-on", choices=[*COUNTED, "never"], default="never",
        help="end with exit code 1 when a new finding is at least this severe; notes never count",
    )  # fmt: skip
    group.add_argument("--family", action="append", choices=FAMILIES, default=[], help="only findings of this family")
    group.add_argument("--rule", action="append", choices=sorted(r.id for r in RULES), default=[], metavar="RULE",
                       help="only findings of this rule, as in dangling/symbol")  # fmt: skip
    group.add_argument("--more-than", type=int, default=0, metavar="N", help="let so many pass")
    group.add_argument("--count-open", action="store_true", help="count findings that stood before, too")


def exceeds(report: Answered, options: argparse.Namespace) -> bool:
    """Whether a report, as the API answers it, holds more than the options let pass. Waived findings
    do not count."""
    if options.fail_on == "never":
        return False
    read = msgspec.convert(report, Report, from_attributes=True)
    gate = Gate(severity=options.fail_on, families=options.family, rules=options.rule, new_only=not options.count_open,
                more_than=options.more_than)  # fmt: skip
    waived = {w.finding.fingerprint for w in read.waived if not w.ended}
    left = [[f for f in found if f.fingerprint not in waived] for found in (read.new, read.open)]
    return bool(stopped_by(gate, *left))
