"""Harmonic prediction of heights."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime

SPEEDS: dict[str, float] = {"M2": 28.984, "S2": 30.0, "N2": 28.44, "K1": 15.041, "O1": 13.943}
"""Speed of each constituent in degrees an hour."""


@dataclass(frozen=True)
class Constituent:
    """One wave of the tide.

    :param name: as in :data:`SPEEDS`.
    :param amplitude: in metres.
    :param phase: in degrees.
    """

    name: str
    amplitude: float
    phase: float

    @property
    def speed(self) -> float:
        """Degrees an hour, from :data:`SPEEDS`."""
        return SPEEDS[self.name]

    def height(self, hours: float) -> float:
        """Height of this wave alone.

        :param hours: since the epoch; see :data:`EPOCH`.
        """
        return self.amplitude * math.cos(math.radians(self.speed * hours - self.phase))


EPOCH = datetime(2020, 1, 1)
"""Where hours are counted from."""


def hours_since_epoch(moment: datetime) -> float:
    """Hours between :data:`EPOCH` and a moment.

    :param moment: in UTC.
    """
    return (moment - EPOCH).total_seconds() / 3600


def predict(constituents: list[Constituent], moment: datetime) -> float:
    """Height of the tide as the sum of its waves.

    :param constituents: the waves; their order does not matter.
    :param moment: in UTC.
    :returns: metres above mean sea level.

    .. seealso:: :func:`tidebook.tables.load_table`, which is quicker for whole days.
    """
    hours = hours_since_epoch(moment)
    return sum(wave.height(hours) for wave in constituents)
