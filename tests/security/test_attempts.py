"""Attempts at a run: one that is no longer the run's writes nothing, one that was lost is made again."""

import subprocess
import sys
import unittest
import uuid

from tests.support.running import running


class Attempts(unittest.TestCase):
    def setUp(self):
        self.portal = running()
        self.slug = f"try{uuid.uuid4().hex[:6]}"
        self.bundle = self.portal.bundle({f"{self.slug}.py": 'def f():\n    """F."""\n'}, self.slug, "1.0")

    def in_service(self, code):
        head = f"""
            import shutil, time
            from datetime import timedelta
            from pathlib import Path
            from django.db import transaction
            from django.utils import timezone
            from zarbek.core.material.bundle_file import digest_file
            from zarbek.service.catalog.models import Release
            from zarbek.service.publishing.actions.runs import give_up, keep_upload
            from zarbek.service.publishing.actions.heartbeat import requeue_abandoned
            from zarbek.service.publishing.execution import execute
            from zarbek.service.publishing.models import Run
            from zarbek.service.publishing.pipeline import register_stage
            digest = digest_file(Path({str(self.bundle)!r}))
            shutil.copy({str(self.bundle)!r}, {str(self.bundle)!r} + ".copy")
            name = keep_upload({str(self.bundle)!r} + ".copy", digest)
            def make(**more):
                return Run.objects.create(project={self.slug!r}, version="1.0", bundle=name, bundle_digest=digest, **more)
        """
        done = self.portal.in_service(head + code)
        self.assertEqual(done.returncode, 0, done.stderr)
        return done.stdout.split()

    def stalled(self, order, then):
        """An attempt that stalls at a stage until another has finished the run, and what it does then."""
        return self.in_service(f"""
            run = make()
            def stall(publish):
                if publish.run.attempt == 1:
                    Run.objects.filter(pk=run.pk).update(attempt=2, state="queued")
                    execute(run.pk, 2)
                    {then}
            register_stage({order}, "stall", stall)
            execute(run.pk, 1)
            found = Run.objects.get(pk=run.pk)
            release = Release.objects.filter(project__slug={self.slug!r}, version="1.0").first()
            print(found.state, found.attempt, bool(release and release.is_live), found.lines.filter(level="error").count())
        """)

    def test_one_that_wakes_and_fails_deletes_nothing_of_the_live_one(self):
        for order in (15, 25, 33, 55):
            with self.subTest(order):
                self.slug = f"try{uuid.uuid4().hex[:6]}"
                self.bundle = self.portal.bundle({f"{self.slug}.py": "X = 1\n"}, self.slug, "1.0")
                self.assertEqual(self.stalled(order, "raise ValueError('woken')"), ["done", "2", "True", "0"])

    def test_one_that_wakes_and_goes_on_writes_nothing(self):
        self.assertEqual(self.stalled(33, "pass"), ["done", "2", "True", "0"])

    def test_one_that_died_between_claiming_and_starting_is_made_again(self):
        found = self.in_service("""
            from django_tasks_db.models import DBTaskResult
            from zarbek.service.publishing.actions.runs import enqueue_run
            run = make()
            with transaction.atomic():  # No worker sees the job before it is somebody's.
                enqueue_run(run)
                run.refresh_from_db()
                DBTaskResult.objects.filter(pk=run.job).update(
                    status="RUNNING", started_at=timezone.now(), worker_ids=["gone"]
                )
            Run.objects.filter(pk=run.pk).update(queued_at=timezone.now() - timedelta(minutes=5))
            requeue_abandoned()
            until = time.monotonic() + 40
            while Run.objects.get(pk=run.pk).state not in ("done", "failed") and time.monotonic() < until:
                time.sleep(0.2)
            found = Run.objects.get(pk=run.pk)
            print(found.state, found.attempt)
        """)
        self.assertEqual(found, ["done", "2"])

    def test_one_that_is_ended_from_outside_leaves_nothing_and_can_do_nothing_more(self):
        found = self.in_service(f"""
            run = make()
            def ended(publish):
                give_up(Run.objects.get(pk=run.pk), "Enough.")
            register_stage(25, "ended", ended)
            execute(run.pk, 1)
            found = Run.objects.get(pk=run.pk)
            print(found.state, found.problem, Release.objects.filter(project__slug={self.slug!r}).count())
        """)
        self.assertEqual(found, ["failed", "Enough.", "0"])


class Workplaces(unittest.TestCase):
    def test_what_a_killed_process_left_is_removed_and_what_one_is_at_stays(self):
        done = running().in_service("""
            import os, subprocess
            from pathlib import Path
            from django.conf import settings
            from zarbek.service.common.workplaces import sweep_workplaces, workplace
            gone = subprocess.Popen(["true"])
            gone.wait()
            Path(settings.WORK_ROOT, f"gather-{gone.pid}-abc", "source").mkdir(parents=True)
            with workplace("gather") as mine:
                sweep_workplaces()
                print(mine.is_dir(), Path(settings.WORK_ROOT, f"gather-{gone.pid}-abc").exists())
        """)
        self.assertEqual(done.stdout.split(), ["True", "False"], done.stderr)


class Cookies(unittest.TestCase):
    def test_they_go_over_tls_only_where_the_public_address_has_it(self):
        code = "from django.conf import settings; print(settings.SESSION_COOKIE_SECURE, settings.CSRF_COOKIE_SECURE)"
        for more, told in (({"ZARBEK_PUBLIC_URL": "https://portal.example"}, "True True"), ({}, "False False"),
                           ({"ZARBEK_PUBLIC_URL": "https://portal.example", "ZARBEK_SECURE_COOKIES": "0"}, "False False")):  # fmt: skip
            done = subprocess.run(
                [sys.executable, "-c", code],
                env={**running().processes.environment, **more},
                capture_output=True,
                text=True,
                check=True,
            )
            self.assertEqual(done.stdout.strip(), told)


if __name__ == "__main__":
    unittest.main()
