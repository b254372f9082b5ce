"""What can go wrong with rosters."""

from tidebook.errors import TideError


class RosterError(Exception):
    """Anything that is wrong with a roster."""


class RestTooShort(RosterError):
    """A person would rest less than the law asks.

    Attributes:
        person: Whose rest it is.
        hours: How many hours it would be.
    """

    def __init__(self, person: str, hours: float) -> None:
        super().__init__(person, hours)
        self.person: str = person
        self.hours: float = hours


class NoCrossing(RosterError, TideError):
    """The tide allows no crossing on a day.

    See Also:
        tidebook.errors.WindowError: what the tide book raises.
    """


class Unqualified(RosterError):
    """A person holds no certificate for the rank."""
