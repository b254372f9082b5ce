"""What duties do, shown."""

import unittest
from datetime import date, time

from crewroster import Duty, DutyKind, Person, Rank, Roster
from crewroster.people import Certificate
from crewroster.rest import hours_of_rest


class Duties(unittest.TestCase):
    def setUp(self):
        self.wren = Person("Wren Aldous", Rank.MATE)
        self.duty = Duty(self.wren, date(2026, 3, 2), time(23, 30), 240)

    def test_a_duty_before_midnight_is_a_night_duty(self):
        """A duty that begins at half past eleven in the evening counts as a night duty.

        Nights are paid and rested off as the rules for :meth:`Duty.is_night` say.

        :example: A night duty
        """
        self.assertTrue(self.duty.is_night())

    def test_handing_a_duty_on_leaves_the_first_one_alone(self):
        """Someone else takes a duty over; the roster keeps both until the old one is taken out.

        :example:
        """
        stand_in = Person("Piers Holm", Rank.MATE)
        handed_on = self.duty.with_person(stand_in)

        self.assertEqual(handed_on.person, stand_in)
        # The first one is still Wren's.
        self.assertEqual(self.duty.person, self.wren)

    def test_papers_run_out(self):
        """A certificate covers its own rank and those below it, to its last day.

        :example:
        """
        paper = Certificate(Rank.MATE, until=date(2026, 6, 30))

        self.assertTrue(paper.covers(Rank.DECKHAND, date(2026, 6, 30)))
        self.assertFalse(paper.covers(Rank.MASTER, date(2026, 1, 1)))
        self.assertFalse(paper.covers(Rank.MATE, date(2026, 7, 1)))

    def test_kinds_have_names(self):
        self.assertEqual(DutyKind("standby"), DutyKind.STANDBY)


class Rosters(unittest.TestCase):
    def test_a_roster_knows_whose_duties_it_has(self):
        """Duties are added one by one and asked for by person.

        :example: Whose duties
        """
        piers = Person("Piers Holm")
        roster = Roster()
        roster.add(Duty(piers, date(2026, 3, 2), time(6), 480))

        self.assertEqual(len(roster.of(piers)), 1)
        self.assertEqual(roster.of(Person("Wren Aldous")), [])

    def test_a_week_without_duties_is_rest(self):
        """Seven days without a duty are 168 hours of rest.

        :example:
        """
        self.assertEqual(hours_of_rest([]), 168.0)
