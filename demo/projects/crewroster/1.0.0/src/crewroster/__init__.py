"""Duties, rest hours and rosters.

Plan the crossings of a week with :class:`CrossingPlanner`, then give each a crew with
:func:`make_roster`.
"""

from crewroster.duties import Duty, DutyKind
from crewroster.errors import RestTooShort, RosterError
from crewroster.people import Person, Rank
from crewroster.planner import CrossingPlanner
from crewroster.roster import Roster, make_roster

__all__ = [
    "CrossingPlanner",
    "Duty",
    "DutyKind",
    "Person",
    "Rank",
    "RestTooShort",
    "Roster",
    "RosterError",
    "make_roster",
]
