"""Releases that go live, aliases, claims of names, removal."""

import unittest
from unittest import mock

from django.db import IntegrityError

from tests.support.inprocess import OnTheDatabase


class Projects(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from zarbek.service.catalog.actions import projects
        from zarbek.service.catalog.models import NameClaim, Project
        from zarbek.service.catalog.queries import get_project
        from zarbek.service.common.problems import NotFound, Problem, Refused

        self.actions, self.get, self.all = projects, get_project, Project
        self.claims = NameClaim.objects
        self.not_found, self.problem, self.refused = NotFound, Problem, Refused
        self.sea = self.project()

    def publish(self, version, *, preview=False, **manifest):
        import msgspec

        from zarbek.core.model.bundle import Manifest

        release = self.release(self.sea, version, live=False, is_preview=preview, manifest=manifest)
        return self.actions.go_live(release, version, msgspec.json.decode(release.manifest, type=Manifest))

    def aliases(self):
        return {a.name: a.release.version for a in self.sea.aliases.select_related("release")}

    def test_latest_prefers_a_final_release_and_stable_is_one(self):
        self.publish("1.0.0rc1")
        self.assertEqual(self.aliases(), {"latest": "1.0.0rc1"})
        for version in ("1.0.0", "1.1.0", "0.9.9", "2.0.0b1"):
            self.publish(version)
        self.publish("main", preview=True)
        self.assertEqual(self.aliases(), {"latest": "1.1.0", "stable": "1.1.0"})

    def test_a_preview_takes_the_place_of_the_one_before(self):
        import msgspec

        from zarbek.core.model.bundle import FORMAT_VERSION, Manifest

        self.publish("main", preview=True)
        second = self.release(self.sea, "main~7", live=False, is_preview=True)
        self.actions.go_live(second, "main", Manifest(format=FORMAT_VERSION, project=self.slug))
        self.assertEqual([(r.pk, r.version) for r in self.sea.releases.all()], [(second.pk, "main")])
        self.assertEqual(msgspec.json.decode(second.manifest)["version"], "main~7")

    def test_only_the_latest_release_describes_its_project(self):
        self.publish("2.0", title="Sea", summary="All of it.", owner="Crew")
        self.publish("1.0", title="Old sea", owner="Others")
        found = self.get(self.slug)
        self.assertEqual((found.title, found.summary, found.owner), ("Sea", "All of it.", "Crew"))

    def test_which_releases_are_judged(self):
        for version in ("1.0", "2.0", "3.0"):
            self.publish(version)
        judged = lambda: set(self.sea.releases.filter(is_judged=True).values_list("version", flat=True))  # noqa: E731
        self.assertEqual(judged(), {"3.0"})
        self.actions.set_support(self.sea.releases.get(version="1.0"), "supported")
        self.assertEqual(judged(), {"1.0", "3.0"})
        self.actions.set_support(self.sea.releases.get(version="1.0"), "")
        self.assertEqual(judged(), {"3.0"})

    def test_a_name_stays_with_whom_had_it_first_and_goes_on_when_let_go(self):
        land = self.project(f"{self.slug}b")
        name, purl = f"python:{self.slug}", f"pkg:pypi/{self.slug}"
        self.assertEqual(self.actions.claim_names(self.sea, {name, purl}), {name, purl})
        self.assertEqual(self.actions.claim_names(land, {name}), {name})
        self.assertEqual((self.sea.namespaces, self.sea.purl, land.namespaces), ([name], purl, []))
        self.assertEqual(self.actions.claim_names(self.sea, {purl}), {name})
        self.assertEqual((self.get(self.slug).namespaces, self.get(land.slug).namespaces), ([], [name]))

    def test_a_contested_name_is_given_to_one_or_to_several(self):
        land, air = self.project(f"{self.slug}b"), self.project(f"{self.slug}c")
        name = f"python:{self.slug}"
        for project in (self.sea, land):
            self.actions.claim_names(project, {name})
        held = lambda: {c.project.slug for c in self.claims.filter(name=name).select_related("project") if c.is_held}  # noqa: E731
        self.actions.decide_name(name, [land], "admin")
        self.assertEqual(held(), {land.slug})
        self.actions.decide_name(name, [land, self.sea], "admin")
        self.assertEqual(held(), {land.slug, self.slug})
        self.assertEqual(set(self.claims.filter(name=name).values_list("decided_by", flat=True)), {"admin"})
        with self.assertRaisesRegex(self.not_found, f"{air.slug} does not claim"):
            self.actions.decide_name(name, [air], "admin")

    def test_what_a_project_or_release_may_be_called(self):
        for slug in ("", "-a", ".a", "A", "a b", "ä", "a/b", "x" * 101):
            with self.assertRaises(self.problem, msg=slug):
                self.actions.check_slug(slug)
        self.assertEqual(self.actions.check_slug("a.b-c_9"), "a.b-c_9")
        self.publish("1.0")
        for version in ("latest", "LATEST", "stable"):
            with self.assertRaises(self.refused, msg=version):
                self.actions.check_label(self.slug, version)
        self.assertEqual(self.actions.check_label(self.slug, "1.0"), "1.0")

    def test_aliases_move_on_when_a_release_goes(self):
        for version in ("1.0", "2.0"):
            self.publish(version)
        self.actions.remove_release(self.sea.releases.get(version="2.0"))
        self.assertEqual(self.aliases(), {"latest": "1.0", "stable": "1.0"})

    def test_a_release_that_something_joins_while_it_goes_goes_with_it(self):
        for version in ("1.0", "2.0"):
            self.publish(version)
        release, delete, tries = (
            self.sea.releases.get(version="2.0"),
            type(self.sea.releases.get(version="2.0")).delete,
            [],
        )

        def joined_once(row):
            tries.append(row)
            if len(tries) == 1:
                raise IntegrityError(1451, "a foreign key constraint fails")
            return delete(row)

        with mock.patch.object(type(release), "delete", joined_once):
            self.actions.remove_release(release)
        self.assertEqual((len(tries), [r.version for r in self.sea.releases.all()]), (2, ["1.0"]))

    def test_a_project_is_gone_at_once_and_its_rows_in_steps(self):
        self.publish("1.0", provides={"python": [self.slug]})
        self.actions.remove_project(self.sea)
        with self.assertRaises(self.not_found):
            self.get(self.slug)
        self.assertEqual(self.claims.filter(project=self.sea.pk).count(), 0)
        self.project()  # Its slug is free.
        for _ in range(50):
            if self.actions.erase_removed(budget=1):
                break
        self.assertEqual(list(self.all.everything.filter(pk=self.sea.pk)), [])


if __name__ == "__main__":
    unittest.main()
