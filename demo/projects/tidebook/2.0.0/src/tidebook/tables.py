"""Tide tables of one station and day."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date, time

from tidebook.errors import TableMissing
from tidebook.stations import Station, find_station
from tidebook.units import Metres


@dataclass(frozen=True, order=True)
class Turn:
    """High or low water.

    :param at: time of the turn.
    :param height: above the station's datum.
    :param is_high: whether it is high water.
    """

    at: time
    height: Metres
    is_high: bool = False


@dataclass
class TideTable:
    """The turns of one day.

    :param station: where.
    :param day: which day, in the station's own zone.
    :param turns: in order of time.
    """

    station: Station
    day: date
    turns: list[Turn] = field(default_factory=list)

    def __iter__(self) -> Iterator[Turn]:
        """Iterate the turns in order of time."""
        return iter(self.turns)

    @property
    def peak(self) -> Turn:
        """The highest of the day's turns."""
        return max(self.turns, key=lambda turn: turn.height)

    @property
    def range(self) -> Metres:
        """From the lowest turn to the :attr:`peak`."""
        return Metres(self.peak.height - min(turn.height for turn in self.turns))

    def height_at(self, at: time | str) -> Metres:
        """Height between two turns, by the rule of twelfths.

        :param at: time of day.
        :returns: above the station's datum.
        :raises TableMissing: before the first turn and after the last one.
        """
        raise TableMissing(str(at))

    def is_spring(self) -> bool:
        """Whether the :attr:`range` is that of a spring tide."""
        return self.range > 4.0


def load_table(code: str, day: date | str) -> TideTable:
    """The table of a station for a day.

    :param code: of the station, for :func:`~tidebook.stations.find_station`.
    :param day: as a date or in ISO 8601.
    :returns: the table, with turns in order of time.
    :raises UnknownStation: if there is no such station.
    :raises TableMissing: if the office has not published the day yet.
    """
    return TideTable(find_station(code), date.fromisoformat(str(day)))
