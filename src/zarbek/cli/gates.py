"""When findings make a command end with exit code 1."""

from __future__ import annotations

import argparse
from collections.abc import Iterable
from typing import Any

from zarbek.core.findings.rules import SEVERITY_ORDER, at_least


def add_gate(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--fail-on", choices=[*SEVERITY_ORDER, "never"], default="never",
        help="end with exit code 1 when a new finding is at least this severe",
    )  # fmt: skip


def exceeds(findings: Iterable[dict[str, Any]], level: str) -> bool:
    return level != "never" and any(at_least(f["severity"], level) for f in findings)
