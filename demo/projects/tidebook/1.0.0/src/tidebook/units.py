"""Quantities as sailors write them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NewType

Metres = NewType("Metres", float)
"""A length or height in metres."""

Minutes = NewType("Minutes", int)
"""A span of time in whole minutes."""

CABLE: Metres = Metres(185.2)
"""A tenth of a nautical mile."""


@dataclass(frozen=True)
class Draught:
    """How deep a ship lies in the water.

    :param laden: with full load, in metres.
    :param light: without load, in metres.
    """

    laden: float
    light: float = 0.0

    def at(self, share: float) -> Metres:
        """Draught with a share of the full load.

        :param share: from 0 for light to 1 for laden.
        :returns: the draught in between.
        :raises ValueError: if the share is not between 0 and 1.
        """
        if not 0 <= share <= 1:
            raise ValueError(share)
        return Metres(self.light + share * (self.laden - self.light))


def to_cables(length: Metres) -> float:
    """Convert metres to cables.

    :param length: in metres.
    :returns: the same in units of :data:`CABLE`.
    """
    return length / CABLE
