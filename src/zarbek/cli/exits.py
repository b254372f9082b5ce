"""Exit codes."""

from enum import IntEnum


class Exit(IntEnum):
    """How a command ended. FINDINGS: a gate said so. USAGE: it was called wrongly. COULD_NOT: an error on the way."""

    FINE = 0
    FINDINGS = 1
    USAGE = 2
    COULD_NOT = 3
