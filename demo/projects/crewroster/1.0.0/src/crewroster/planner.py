"""Planning crossings around the tide."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from tidebook import Draught, SailingWindow, Station, find_windows
from tidebook.tables import TideTable, load_week

from crewroster.errors import NoCrossing


@dataclass(frozen=True)
class Crossing:
    """One planned crossing.

    Args:
        day: On which day.
        window: The :class:`_tb.windows.SailingWindow` that it uses.
    """

    day: date
    window: SailingWindow


class CrossingPlanner:
    """Plans the crossings of several days.

    Args:
        station: The :class:`tidebook.stations.Station` whose bar is crossed.
        draught: Of the ship, as a :class:`tidebook.units.Draught`.
    """

    def __init__(self, station: Station, draught: Draught) -> None:
        self.station = station
        self.draught = draught

    def plan(self, first: date, days: int = 7) -> list[Crossing]:
        """Plan a span of days.

        Windows come from :func:`tidebook.windows.find_windows`, tables from
        :func:`tidebook.tables.load_week`.

        Args:
            first: The first day.
            days: How many.

        Returns:
            At most one crossing a day, in order.

        Raises:
            NoCrossing: If a day has no window.
        """
        raise NoCrossing(str(first))

    def highest_water(self, tables: list[TideTable]) -> float:
        """The highest :attr:`peak <tidebook.tables.TideTable.peak>` of several tables.

        Args:
            tables: As from :func:`tidebook.tables.load_week`.
        """
        return max(table.peak.height for table in tables)
