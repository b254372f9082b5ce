"""Patches that are asked for, made by jobs and kept."""

import subprocess
import unittest
import uuid
from datetime import timedelta
from unittest import mock

from tests.support.inprocess import OnTheDatabase
from tests.support.running import running
from tests.support.sources import write_files


class Asking(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from django.utils import timezone

        from zarbek.service.common.problems import Conflict, TooMany
        from zarbek.service.findings.actions import patching
        from zarbek.service.findings.models import PatchRecord
        from zarbek.service.sources.models import Source

        self.patching, self.rows, self.now = patching, PatchRecord.objects, timezone.now
        self.conflict, self.too_many = Conflict, TooMany
        self.sea = self.project()
        self.release = self.release(self.sea, "1.0", commit="ab" * 20)
        self.source = Source.objects.create(project=self.sea, address="https://git.halmere.example/sea")

    def ask(self, *, likely=False, fingerprints=()):
        return self.patching.ask_patch(self.sea, likely=likely, fingerprints=list(fingerprints))

    def make(self, error):
        with (mock.patch.object(self.patching, "reach_repository"),
              mock.patch.object(self.patching, "export_commit", side_effect=error)):  # fmt: skip
            self.patching.make_patch(self.rows.get(project=self.sea).pk)

    def test_of_many_who_ask_one_has_it_made(self):
        first, second = self.ask(), self.ask()
        self.assertEqual((first[1], second[1], first[0].pk), (True, False, second[0].pk))

    def test_another_wish_is_another_patch(self):
        self.assertNotEqual(self.ask()[0].pk, self.ask(likely=True)[0].pk)
        self.source.folder = "docs"
        self.source.save()
        self.assertTrue(self.ask()[1])

    def test_without_a_repository_it_is_said_how_else(self):
        self.source.delete()
        with self.assertRaisesRegex(self.conflict, "--source and the folder of a checkout"):
            self.ask()

    def test_what_cannot_be_read_is_said_and_tried_again_a_minute_later(self):
        from zarbek.core.errors import GitRefused

        self.ask()
        self.make(GitRefused("https://git.halmere.example/sea", "the repository is gone"))
        record, again = self.ask()
        self.assertIn("The gathered commit cannot be read again", record.problem)
        self.assertIn("the repository is gone", record.problem)
        self.assertFalse(again)
        self.rows.update(asked_at=self.now() - timedelta(minutes=2))
        record, again = self.ask()
        self.assertEqual((record.problem, again), ("", True))

    def test_a_fault_of_ours_is_said_too_and_still_raised(self):
        self.ask()
        with self.assertRaises(ZeroDivisionError):
            self.make(ZeroDivisionError())
        self.assertIn("the log says why", self.ask()[0].problem)

    def test_what_nobody_made_ends_as_a_problem(self):
        self.ask()
        self.rows.update(asked_at=self.now() - timedelta(minutes=11))
        self.assertIn("within ten minutes", self.ask()[0].problem)

    def test_so_many_wait_at_most(self):
        with mock.patch.object(self.patching, "MOST_WAITING", 0):
            self.ask()
            with self.assertRaises(self.too_many):
                self.ask(likely=True)

    def test_old_ones_are_forgotten(self):
        self.ask()
        self.patching.forget_patches()
        self.assertEqual(self.rows.filter(project=self.sea).count(), 1)
        self.rows.update(asked_at=self.now() - timedelta(days=8))
        self.patching.forget_patches()
        self.assertEqual(self.rows.filter(project=self.sea).count(), 0)


class Over(unittest.TestCase):
    """Over HTTP."""

    def test_a_patch_is_made_beside_the_request_and_kept(self):
        portal, tag = running(), uuid.uuid4().hex[:6]
        old, slug = f"po{tag}", f"pn{tag}"
        for version, name in (("1.0.0", "spin"), ("1.1.0", "whirl")):
            body = "\n".join(f"    total += mast * {n}" for n in range(8))
            portal.publish({f"{old}.py": f"def {name}(mast):\n    total = 0\n{body}\n    return total\n"}, old, version)
        folder = write_files(portal.home / "repositories" / slug, {f"{slug}.py": f'"""See :func:`{old}.spin`."""\n'})
        who = ["-c", "user.name=A", "-c", "user.email=a@halmere.example"]
        for step in (["init", "-q"], ["add", "-A"], [*who, "commit", "-qm", "One"], ["tag", "v1.0"]):
            subprocess.run(["git", "-C", str(folder), *step], check=True)
        portal.client.add_source(slug, str(folder))
        portal.wait(portal.client.fetch(slug, tag="v1.0")[0])
        first = portal.http.get(f"/api/v1/projects/{slug}/patch")
        self.assertEqual((first.status_code, first.json()["state"]), (202, "making"))
        patch = portal.client.patch(slug)
        self.assertEqual(patch.made, 1)
        self.assertIn(f'+"""See :func:`{old}.whirl`."""', patch.diff)
        kept = portal.http.get(f"/api/v1/projects/{slug}/patch")
        self.assertEqual((kept.status_code, kept.json()["diff"]), (200, patch.diff))
        (finding,) = portal.client.findings(project=slug)
        chosen = {"fingerprint": finding.finding.fingerprint}
        self.assertEqual(portal.http.get(f"/api/v1/projects/{slug}/patch", params=chosen).status_code, 401)
        self.assertEqual(portal.api("GET", f"/projects/{slug}/patch", params=chosen).status_code, 202)


if __name__ == "__main__":
    unittest.main()
