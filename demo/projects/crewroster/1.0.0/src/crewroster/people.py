"""People and what they may do."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from enum import IntEnum


class Rank(IntEnum):
    """Ranks aboard, in order of command."""

    DECKHAND = 1
    """Works the lines and the car deck."""

    MATE = 2
    """Stands a watch."""

    MASTER = 3
    """Commands the ship."""


@dataclass
class Certificate:
    """A paper that qualifies for a rank.

    Args:
        rank: The highest :class:`Rank` that it covers.
        until: Its last day.
    """

    rank: Rank
    until: date

    def covers(self, rank: Rank, day: date) -> bool:
        """Whether it qualifies for a rank on a day.

        Args:
            rank: The rank asked for.
            day: The day asked for.

        Returns:
            True if the rank is not above its own and the day not after its last.
        """
        return rank <= self.rank and day <= self.until


@dataclass
class Person:
    """Someone who sails.

    Args:
        name: As on the crew list.
        rank: The highest rank that the person sails in.
        certificates: Every paper, expired ones too.
    """

    name: str
    rank: Rank = Rank.DECKHAND
    certificates: list[Certificate] = field(default_factory=list)

    def is_qualified(self, rank: Rank, day: date) -> bool:
        """Whether a valid :class:`Certificate` covers a rank.

        Args:
            rank: The rank asked for.
            day: The day asked for.
        """
        return any(c.covers(rank, day) for c in self.certificates)

    def expiring(self, before: date) -> list[Certificate]:
        """Certificates that end before a day.

        Args:
            before: The day.

        Returns:
            Those that end first, first.
        """
        return sorted((c for c in self.certificates if c.until < before), key=lambda c: c.until)
