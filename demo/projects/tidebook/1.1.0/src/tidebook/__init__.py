"""Tide tables and sailing windows.

The usual way in is :func:`load_table`, then :func:`find_windows`:

>>> table = load_table("HALM", "2026-03-21")
>>> find_windows(table.station, Draught(2.9), table.day)
[SailingWindow(06:10-11:42), SailingWindow(18:31-23:58)]
"""

from tidebook.errors import TideError, UnknownStation, WindowError
from tidebook.stations import Station, find_station
from tidebook.tables import TideTable, Turn, load_table
from tidebook.units import Draught, Metres
from tidebook.windows import MIN_SPAN, SailingWindow, find_windows, merge_windows

__all__ = [
    "MIN_SPAN",
    "Draught",
    "Metres",
    "SailingWindow",
    "Station",
    "TideError",
    "TideTable",
    "Turn",
    "UnknownStation",
    "WindowError",
    "find_station",
    "find_windows",
    "load_table",
    "merge_windows",
]
