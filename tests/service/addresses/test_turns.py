"""Which addresses are asked, by whom, and in which order."""

import unittest
from datetime import timedelta
from unittest import mock
from urllib.parse import urlsplit

from tests.support.inprocess import OnTheDatabase


class Case(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from django.utils import timezone

        from zarbek.service.addresses import queries
        from zarbek.service.addresses.actions import asking, listing, wishes
        from zarbek.service.addresses.models import AddressHost, AddressList, AddressUse, UrlCheck

        self.asking, self.listing, self.wishes, self.queries = asking, listing, wishes, queries
        self.hosts, self.checks = AddressHost.objects, UrlCheck.objects
        self.lists, self.uses = AddressList.objects, AddressUse.objects
        # What other tests have left is not due.
        self.checks.update(due_at=timezone.now() + timedelta(days=9))
        self.sea = self.project()

    def having(self, *urls, project=None, version="1.0"):
        """A judged release with texts that lead to addresses."""
        release = self.release(project or self.sea, version, is_judged=True)
        found = {("page", f"p{n}"): [url] for n, url in enumerate(urls)}
        with mock.patch.object(self.listing, "_urls_by_text", return_value=found):
            self.listing.list_addresses(release)
        return release

    def claimed(self):
        hosts = set()
        turns = self.asking._claim(self.queries.read_wishes(), hosts)
        return [[row.url for row in turn] for turn in turns]

    def free(self):
        self.hosts.update(claimed_until=None)


class Turns(Case):
    def test_each_host_has_a_turn_and_every_address_its_own(self):
        one = [f"https://one.example/{n:02}" for n in range(self.asking.A_TURN + 3)]
        self.having(*one, "https://two.example/")
        first, second = sorted(self.claimed())
        self.assertEqual((len(first), second), (self.asking.A_TURN, ["https://two.example/"]))
        self.assertEqual(self.claimed(), [], "nobody else asks these hosts now")
        self.free()
        (rest,) = self.claimed()
        self.assertEqual(sorted(first + rest), one, "the others have waited longer")
        self.free()
        self.assertEqual(self.claimed(), [])

    def test_what_was_claimed_and_never_answered_is_due_again(self):
        from django.utils import timezone

        self.having("https://one.example/")
        self.claimed()
        (row,) = self.checks.filter(host__name="one.example")
        self.assertLess(row.due_at, timezone.now() + timedelta(hours=1))

    def test_hosts_that_waited_longest_come_first(self):
        from django.utils import timezone

        with mock.patch.object(self.asking, "HOSTS", 1):
            self.having("https://one.example/", "https://two.example/")
            self.hosts.filter(name="one.example").update(asked_at=timezone.now())
            self.assertEqual(self.claimed(), [["https://two.example/"]])

    def test_an_address_that_no_release_has_any_more_is_not_asked(self):
        release = self.having("https://one.example/")
        release.is_judged = False
        release.save()
        # Others share the portal, and some lists go at a time: the oldest first.
        self.lists.exclude(release=release).delete()
        self.listing.forget_lists()
        self.assertEqual((self.uses.filter(list__release=release).count(), self.claimed()), (0, []))

    def test_what_stands_nowhere_for_long_is_forgotten(self):
        from django.utils import timezone

        release = self.having("https://one.example/", "https://two.example/")
        long_ago = timezone.now() - timedelta(days=400)
        ours = self.checks.filter(host__name__in=["one.example", "two.example"])
        ours.update(due_at=long_ago)
        self.uses.filter(list__release=release, address__host__name="two.example").delete()
        self.listing.forget_lists()
        self.assertEqual([row.url for row in ours.all()], ["https://one.example/"])

    def test_what_nobody_wants_asked_has_had_its_turn(self):
        other = self.project(f"{self.slug}b")
        self.having("https://one.example/", "https://two.example/")
        self.having("https://two.example/", project=other)
        self.wishes.set_wishes(self.sea, asks=False, quiet=[])
        self.assertEqual(self.claimed(), [["https://two.example/"]], "the other project asks it")
        self.free()
        self.having("https://two.example/x", "https://three.example/", project=other, version="2.0")
        self.wishes.set_wishes(other, asks=True, quiet=["three.*"])
        self.wishes.set_quiet(["two.example"])
        self.assertEqual(self.claimed(), [])


class Kept(Case):
    def asked(self, answers):
        """The releases told of, one turn of one host at a time; answers: by host."""
        import httpx

        from zarbek.core.findings.url_rules import Answer
        from zarbek.service.addresses.rounds import Asked

        checker = mock.MagicMock()
        checker.__enter__.return_value.ask = lambda row: Asked(
            row, Answer(answers[urlsplit(row.url).netloc]), httpx.Headers()
        )
        told = []
        with (
            mock.patch.object(self.asking, "UrlChecker", return_value=checker),
            mock.patch.object(self.asking, "HOSTS", 1),
            mock.patch.object(self.asking, "witnesses", return_value=[]),
        ):
            is_done = self.asking.ask_due(told.append)
        return is_done, told

    def test_an_answer_is_told_as_soon_as_others_have_shown_what_it_means(self):
        releases = [self.having(f"https://{n}.example/", version=f"{n}.0").pk for n in range(4)]
        is_done, told = self.asked({"0.example": 404, "1.example": 200, "2.example": 200, "3.example": 410})
        zero, one, two, three = ([pk] for pk in releases)
        self.assertEqual((is_done, told), (True, [[], zero, one + two, three, []]))

    def test_an_address_that_is_forgotten_while_it_is_asked_does_not_come_back(self):
        self.having("https://0.example/")
        with mock.patch.object(self.asking, "_round_of", side_effect=self.forgetting):
            self.asked({"0.example": 200})
        self.assertFalse(self.checks.filter(host__name="0.example").exists())

    def forgetting(self, one, good):
        from datetime import date

        from zarbek.core.findings.url_rules import Round

        self.checks.filter(pk=one.row.pk).delete()
        return Round(date(2026, 11, 3), is_genuine=False, is_open=False)

    def test_a_slow_host_has_fewer_of_its_addresses_asked_in_a_turn(self):
        one = [f"https://0.example/{n}" for n in range(4)]
        self.having(*one)
        with mock.patch.object(self.asking, "TURN_S", -1), mock.patch.object(self.asking, "_claim", self.once()):
            self.asked({"0.example": 200})
        left = [row.url for row in self.checks.filter(host__name="0.example", checked_at=None)]
        self.assertEqual(len(left), 3)
        self.free()
        self.assertEqual([sorted(turn) for turn in self.claimed()], [sorted(left)])

    def once(self):
        turns = [self.asking._claim(self.queries.read_wishes(), set()), []]
        return lambda wishes, hosts: turns.pop(0)

    def test_every_host_has_its_turn_before_one_has_another(self):
        for number in range(3):
            self.having(
                *(f"https://{number}.example/{n}" for n in range(self.asking.A_TURN + 1)), version=f"{number}.0"
            )
        hosts, seen = set(), []
        with mock.patch.object(self.asking, "HOSTS", 1):
            for _ in range(4):
                ((first, *_),) = self.asking._claim(self.queries.read_wishes(), hosts)
                seen.append(urlsplit(first.url).netloc)
        self.assertEqual((len(set(seen[:3])), seen[3]), (3, seen[0]))

    def test_what_nothing_shows_is_told_at_the_end_and_is_no_fault(self):
        release = self.having("https://0.example/")
        self.assertEqual(self.asked({"0.example": 404}), (True, [[], [release.pk]]))
        (row,) = self.checks.filter(host__name="0.example")
        self.assertEqual((row.fault, row.unreachable[:12]), ("", "is not there"))

    def test_what_cannot_be_reached_is_asked_sooner_and_later_the_longer_that_lasts(self):
        from django.utils import timezone

        self.having("https://0.example/", "https://1.example/")
        day = self.asking.again()
        for lasted, pause in ((0, day / 24), (5, day * 5 / 24), (48, day)):
            self.free()
            self.checks.filter(host__name="0.example", unreachable_since__isnull=False).update(
                unreachable_since=timezone.now() - lasted * day / 24
            )
            self.checks.filter(host__name__in=["0.example", "1.example"]).update(due_at=timezone.now())
            self.asked({"0.example": 503, "1.example": 200})
            row, good = (self.checks.get(host__name=f"{n}.example") for n in range(2))
            with self.subTest(lasted=lasted):
                self.assertAlmostEqual(row.due_at - row.checked_at, pause, delta=timedelta(seconds=30))
                self.assertEqual(good.due_at - good.checked_at, day)


class Lists(Case):
    def test_a_release_is_listed_once_and_known_addresses_keep_what_is_known(self):
        first = self.having("https://one.example/")
        self.checks.filter(host__name="one.example").update(status=404, fault="is not there (404)")
        self.having("https://one.example/", "https://one.example/new", version="1.1")
        self.assertEqual(
            list(self.checks.filter(host__name="one.example").order_by("url").values_list("url", "status")),
            [("https://one.example/", 404), ("https://one.example/new", 0)],
        )
        self.assertEqual(self.listing.list_addresses(first), 0)
        self.assertEqual(self.uses.filter(list__release=first).count(), 1)

    def test_releases_that_are_judged_since_are_found(self):
        judged, _ = self.release(self.sea, "1.0", is_judged=True), self.release(self.sea, "2.0")
        preview = self.release(self.sea, "main", is_judged=True, is_preview=True)
        found = self.queries.list_unlisted(10_000)
        self.assertEqual((judged.pk in found, preview.pk in found), (True, False))
        self.having("https://one.example/", version="3.0")
        self.assertNotIn(self.sea.releases.get(version="3.0").pk, self.queries.list_unlisted(10_000))


if __name__ == "__main__":
    unittest.main()
