"""Duties: who does what and when."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, time
from enum import Enum

from tidebook import SailingWindow
from tidebook.units import Minutes

from crewroster.people import Person, Rank


class DutyKind(Enum):
    """What a duty is for."""

    SAILING = "sailing"
    STANDBY = "standby"
    HARBOUR = "harbour"
    TRAINING = "training"


@dataclass
class Duty:
    """One piece of work of one person.

    Args:
        person: Who does it.
        day: On which day.
        start: When it begins.
        length: How long it lasts.
        kind: What it is for.
    """

    person: Person
    day: date
    start: time
    length: Minutes
    kind: DutyKind = DutyKind.SAILING

    def fits(self, window: SailingWindow) -> bool:
        """Whether the duty lies inside a sailing window.

        A duty may not start inside a window shorter than :data:`tidebook.windows.MIN_SPAN`,
        since the crew could not leave the ship in time.

        Args:
            window: The :class:`tidebook.windows.SailingWindow` of the crossing.

        Returns:
            True if the window :meth:`holds <tidebook.windows.SailingWindow.holds>` the start.
        """
        return window.holds(self.start)

    def is_night(self) -> bool:
        """Whether any of it lies between 23:00 and 05:00."""
        return self.start.hour >= 23 or self.start.hour < 5

    def with_person(self, person: Person) -> Duty:
        """The same duty for someone else.

        Args:
            person: The new :class:`~crewroster.people.Person`.

        Returns:
            A new duty; this one stays as it is.
        """
        return Duty(person, self.day, self.start, self.length, self.kind)


def crew_for(kind: DutyKind) -> dict[Rank, int]:
    """How many people of each rank a duty needs.

    Args:
        kind: What the duty is for.

    Returns:
        Number of people by :class:`~crewroster.people.Rank`.
    """
    return {Rank.MASTER: 1, Rank.MATE: 1, Rank.DECKHAND: 3}
