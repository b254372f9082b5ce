"""Planning crossings around the tide."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from tidebook import Draught, SailingWindow, Station, find_windows
from tidebook.tables import TideTable
from tidebook.weeks import load_week

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


class PassagePlan:
    """Crossings of several days, planned together.

    .. versionadded:: 3.1

    Args:
        station: The :class:`tidebook.stations.Station` whose bar is crossed.
        draught: Of the ship, as a :class:`tidebook.units.Draught`.
        margin: Water to keep under the keel, in :class:`tidebook.units.Metres`.
    """

    def __init__(self, station: Station, draught: Draught, margin: float = 0.4) -> None:
        self.station = station
        self.draught = draught
        self.margin = margin

    def crossings(self, first: date, days: int = 7) -> list[Crossing]:
        """Plan a span of days.

        Each crossing lies in a window of :func:`tidebook.windows.find_windows`.

        Args:
            first: The first day.
            days: How many.

        Returns:
            At most one crossing a day, in order.

        Raises:
            NoCrossing: If a day has no window.
        """
        raise NoCrossing(str(first))


class CrossingPlanner:
    """Plans the crossings of several days.

    .. deprecated:: 3.1
       Use :class:`PassagePlan`, which knows the margin.

    Args:
        station: The :class:`tidebook.stations.Station` whose bar is crossed.
        draught: Of the ship, as a :class:`tidebook.units.Draught`.
    """

    def __init__(self, station: Station, draught: Draught) -> None:
        self.station = station
        self.draught = draught

    def plan(self, first: date, days: int = 7) -> list[Crossing]:
        """Plan a span of days.

        Windows come from :func:`tidebook.windows.find_windows`, joined by
        :func:`tidebook.windows.merge_windows`, tables from
        :func:`tidebook.weeks.load_week`.

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
