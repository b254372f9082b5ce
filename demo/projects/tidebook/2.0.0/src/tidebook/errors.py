"""What can go wrong with tides."""


class TideError(Exception):
    """Anything that is wrong with a tide table, a station or a window."""


class UnknownStation(TideError):
    """No station has this code.

    :param code: the code that was asked for.
    """

    def __init__(self, code: str) -> None:
        super().__init__(f"no station {code}")
        #: The code that was asked for.
        self.code: str = code


class TableMissing(TideError):
    """The office has published no table for this day yet."""


class WindowError(TideError):
    """A day has no window that is long enough.

    Long enough means :data:`tidebook.windows.SHORTEST_SPAN` or more.
    """
