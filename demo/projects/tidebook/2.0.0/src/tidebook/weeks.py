"""Tables of several days."""

from __future__ import annotations

from datetime import date

from tidebook.tables import TideTable, load_table


def load_week(code: str, monday: date) -> list[TideTable]:
    """Seven tables.

    :param code: of the station.
    :param monday: the first day.
    :returns: as from :func:`load_table`, one a day.
    """
    return [load_table(code, monday)]
