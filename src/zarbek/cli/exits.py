"""Exit codes."""

from enum import IntEnum


class Exit(IntEnum):
    FINE = 0
    FINDINGS = 1
    USAGE = 2
    COULD_NOT = 3
