"""Repositories and running services, as they are kept."""

import unittest
from types import SimpleNamespace

from tests.support.inprocess import OnTheDatabase


class Sources(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from zarbek.service.common.problems import NotFound
        from zarbek.service.publishing.models import Run
        from zarbek.service.sources import actions, queries

        self.actions, self.queries, self.not_found, self.runs = actions, queries, NotFound, Run.objects

    def add(self, **facts):
        wanted = {
            "address": "https://git.example/sea",
            "folder": "",
            "poll_minutes": 0,
            "tags": "v*",
            "branch": "",
            **facts,
        }
        return self.actions.add_source(self.slug, **wanted)

    def test_a_repository_has_one_secret_for_good(self):
        source, secret = self.add()
        self.assertRegex(secret, r"^whsec_")
        again, nothing = self.add(poll_minutes=5)
        self.assertEqual((again.pk, nothing, again.hook_secret, again.poll_minutes), (source.pk, "", secret, 5))
        self.assertNotEqual(self.add(folder="docs")[0].pk, source.pk)
        self.actions.remove_source(source)
        with self.assertRaises(self.not_found):
            self.queries.get_source(source.pk)

    def test_what_is_watched_is_due_at_once_and_then_after_so_many_minutes(self):
        from datetime import timedelta

        from django.utils import timezone

        source, _ = self.add(poll_minutes=30)
        self.add(folder="docs")  # Never looked at by itself.
        claimed = self.actions.claim_due_sources()
        self.assertEqual([pk for pk in claimed if source.project.sources.filter(pk=pk)], [source.pk])
        self.assertEqual(self.actions.claim_due_sources(), [])
        source.refresh_from_db()
        self.assertAlmostEqual(source.due_at, timezone.now() + timedelta(minutes=30), delta=timedelta(minutes=1))
        self.add(poll_minutes=0)
        source.refresh_from_db()
        self.assertIsNone(source.due_at)

    def test_tags_are_published_once(self):
        source, _ = self.add()
        first = self.actions.fetch_tags(source, ["v1.0", "v1.1"])
        self.assertEqual(
            [(r.version, r.origin["ref"], r.actor) for r in first], [("1.0", "v1.0", "poll"), ("1.1", "v1.1", "poll")]
        )
        self.assertEqual(self.actions.fetch_tags(source, ["v1.0", "v1.1"]), [])
        self.runs.filter(pk=first[0].pk).update(state="failed")
        self.assertEqual(self.actions.fetch_tags(source, ["v1.0"]), [], "what failed is for people to try again")

    def test_those_that_are_ahead(self):
        behind, ahead = self.add()[0], self.add(folder="docs")[0]
        self.actions.keep_polled(behind, {"tags": [], "commits": 0}, "")
        self.actions.keep_polled(ahead, {"tags": ["v2"], "commits": 0}, "")
        self.assertEqual([s.pk for s in self.queries.list_ahead() if s.project.slug == self.slug], [ahead.pk])

    def test_services_are_exactly_those_that_are_named(self):
        project = self.project()
        entry = {
            "name": "a",
            "address": "https://a.example/openapi.json",
            "server": "",
            "strip": "",
            "headers": {"X-Key": "k"},
            "poll_minutes": 0,
        }
        self.actions.set_services(project, [entry, {**entry, "name": "b"}])
        project.services.filter(name="a").update(digest="d", entity_tag="t")
        self.actions.set_services(project, [{**entry, "headers": None, "poll_minutes": 9}])
        (kept,) = project.services.all()
        self.assertEqual((kept.name, kept.headers, kept.poll_minutes, kept.digest), ("a", {"X-Key": "k"}, 9, "d"))
        self.actions.set_services(project, [{**entry, "address": "https://c.example/x"}])
        (moved,) = project.services.all()
        self.assertEqual((moved.digest, moved.entity_tag), ("", ""), "what was fetched elsewhere says nothing")

    def test_what_a_service_said(self):
        from tempfile import TemporaryDirectory

        from django.core.files.storage import default_storage

        project = self.project()
        self.actions.set_services(
            project,
            [
                {
                    "name": "a",
                    "address": "https://a.example/x",
                    "server": "",
                    "strip": "",
                    "headers": None,
                    "poll_minutes": 0,
                }
            ],
        )
        service = project.services.get()
        said = lambda problem="", **files: self.actions.keep_asked(  # noqa: E731
            service, SimpleNamespace(problem=problem, files=files or None, entity_tag="t")
        )
        with TemporaryDirectory() as folder:
            saved, default_storage._wrapped = default_storage._wrapped, _Folder(folder)
            self.addCleanup(setattr, default_storage, "_wrapped", saved)
            self.assertEqual([said(a=b"1"), said(a=b"1"), said(a=b"2")], [True, False, True])
            first_changed = service.changed_at
            self.assertIsNotNone(first_changed)
            self.assertEqual(said("It answers 502"), False)
            project.services.update(headers={"X-Key": "new"})
            said()
            self.assertEqual(project.services.get().headers, {"X-Key": "new"}, "what was set meanwhile stays")
            said("It answers 502")
        self.assertEqual((service.problem, service.changed_at), ("It answers 502", first_changed))
        self.assertGreater(service.asked_at, service.fetched_at)
        project.services.all().delete()
        said()
        self.assertFalse(project.services.exists(), "what was removed meanwhile does not come back")

    def test_what_was_heard_before_goes_after_an_hour(self):
        import os
        import time
        from pathlib import Path
        from tempfile import TemporaryDirectory

        from django.test import override_settings

        project = self.project()
        self.actions.set_services(project, [{"name": "a", "address": "https://a.example/x", "server": "", "strip": "", "headers": None, "poll_minutes": 0}])  # fmt: skip
        project.services.update(material="services/now.zip")
        with TemporaryDirectory() as folder, override_settings(MEDIA_ROOT=folder):
            for name, age in (("now.zip", 7200), ("old.zip", 7200), ("new.zip", 60)):
                path = Path(folder, "services", name)
                path.parent.mkdir(exist_ok=True)
                path.write_bytes(b"")
                os.utime(path, (time.time() - age,) * 2)
            self.assertEqual(self.actions.sweep_heard(), 1)
            self.assertEqual(sorted(p.name for p in Path(folder, "services").iterdir()), ["new.zip", "now.zip"])


class _Folder:
    def __init__(self, folder):
        self.folder = folder

    def save(self, name, content):
        return name


if __name__ == "__main__":
    unittest.main()
