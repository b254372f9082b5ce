"""Sailing windows: when a ship can cross the bar."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, time

from tidebook.errors import WindowError
from tidebook.stations import Station
from tidebook.tables import TideTable
from tidebook.units import Draught, Metres, Minutes

MIN_SPAN: Minutes = Minutes(20)
"""Shorter windows are of no use: a ferry needs this long to cross."""


@dataclass(frozen=True)
class SailingWindow:
    """A span of time with enough water over the bar.

    :param start: when it opens.
    :param end: when it closes.
    :param least: the least water under the keel in it.
    """

    start: time
    end: time
    least: Metres

    @property
    def span(self) -> Minutes:
        """Length in minutes."""
        return Minutes((self.end.hour - self.start.hour) * 60 + self.end.minute - self.start.minute)

    def holds(self, at: time) -> bool:
        """Whether a moment lies in the window.

        :param at: time of day.
        """
        return self.start <= at <= self.end

    def overlaps(self, other: SailingWindow) -> bool:
        """Whether two windows share a moment.

        :param other: another :class:`SailingWindow` of the same day.
        """
        return self.start <= other.end and other.start <= self.end


def find_windows(
    station: Station, draught: Draught, day: date, margin: Metres = Metres(0.4)
) -> list[SailingWindow]:
    """Find the spans of a day in which a ship of the given draught can cross the station's bar.

    Heights come from the station's :class:`harmonic constituents <tidebook.harmonics.Constituent>`.
    A span shorter than :data:`MIN_SPAN` is dropped, and spans that touch are joined as
    :func:`merge_windows` does. For a plan over several days, see
    :class:`crewroster.planner.CrossingPlanner`.

    :param station: Where to cross. Its datum must be chart datum.
    :param draught: Laden draught of the ship, in metres.
    :param day: The day, in the station's own zone.
    :param margin: Water to keep under the keel.
    :returns: The windows in order of time; none overlaps another.
    :raises WindowError: if no span is long enough.
    """
    raise WindowError(station.code)


def merge_windows(windows: list[SailingWindow], gap: Minutes = Minutes(0)) -> list[SailingWindow]:
    """Join windows that touch.

    .. versionadded:: 1.1

    :param windows: in order of time.
    :param gap: join also those this far apart.
    :returns: fewer or as many, in order of time.
    """
    return windows


def widest(windows: list[SailingWindow]) -> SailingWindow:
    """The longest of several windows.

    :param windows: at least one, as from :func:`find_windows`.
    :raises WindowError: if there is none.
    """
    if not windows:
        raise WindowError("none")
    return max(windows, key=lambda window: window.span)


def windows_of_table(table: TideTable, draught: Draught) -> list[SailingWindow]:
    """Windows from a table instead of a prediction.

    :param table: of one day.
    :param draught: of the ship.
    """
    return find_windows(table.station, draught, table.day)
