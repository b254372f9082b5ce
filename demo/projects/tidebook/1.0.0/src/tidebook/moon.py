"""What the moon does to the tide."""

from __future__ import annotations


def days_to_spring(day: str) -> int:
    """How long it is until the next spring tide.

    Args:
        day (str): From when on.

    Returns:
        Full days.
    """
    return 0 if day else 14


def pull(day: str) -> float:
    """How strongly the moon pulls, from 0 at neaps to 1 at springs."""
    return 0.5 if day else 0.0
