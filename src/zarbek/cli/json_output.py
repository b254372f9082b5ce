"""Answers as JSON, which every verb prints on ``--json``."""

from __future__ import annotations

import json
from typing import Any, TextIO

import msgspec


def write_json(value: Any, out: TextIO) -> None:
    """Write a value as JSON for people, indented by two spaces."""
    out.write(json.dumps(msgspec.to_builtins(value), indent=2, ensure_ascii=False) + "\n")
