"""Runs from their start to their end, whoever ends them."""

import unittest
from datetime import timedelta
from pathlib import Path
from tempfile import TemporaryDirectory

from tests.support.inprocess import OnTheDatabase


class Case(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from zarbek.service.common.problems import Conflict, Refused
        from zarbek.service.publishing.actions import heartbeat, progress, run_state, runs
        from zarbek.service.publishing.models import Run

        self.conflict, self.refused = Conflict, Refused
        self.heartbeat, self.progress, self.states, self.runs = heartbeat, progress, run_state, runs
        self.all = Run.objects

    def start(self, version="1.0", digest="a" * 64, **facts):
        return self.runs.start_run(
            project=self.slug, version=version, bundle="x.bundle", bundle_digest=digest, **facts
        )[0]

    def working(self, worker="w1", **facts):
        run = self.start(**facts)
        self.all.filter(pk=run.pk).update(state="running", worker=worker)
        run.refresh_from_db()
        return run


class Starting(Case):
    def test_the_same_bytes_are_one_run(self):
        first = self.start()
        self.assertEqual(self.start().pk, first.pk)
        self.assertNotEqual(self.start(digest="b" * 64).pk, first.pk)  # Told later, where it is received.
        self.assertNotEqual(self.start(is_dry=True).pk, first.pk)

    def test_a_published_version_takes_no_other_bytes(self):
        project = self.project()
        self.release(project, "1.0", bundle_digest="a" * 64)
        with self.assertRaisesRegex(self.conflict, f"{self.slug} 1.0 is published with other content"):
            self.start(digest="b" * 64)
        self.assertEqual(self.all.filter(project=self.slug).count(), 0)
        self.start(digest="b" * 64, is_dry=True)

    def test_a_key_answers_with_its_run_unless_that_failed(self):
        first = self.start(idempotency_key=f"{self.slug}-key")
        again, is_new = self.runs.start_run(project=self.slug, version="2.0", idempotency_key=f"{self.slug}-key")
        self.assertEqual((again.pk, is_new), (first.pk, False))
        self.runs.give_up(first, "No.")
        self.assertNotEqual(self.start(idempotency_key=f"{self.slug}-key").pk, first.pk)

    def test_no_version_is_called_like_an_alias(self):
        with self.assertRaises(self.refused):
            self.start(version="latest")

    def test_a_run_has_one_job_in_the_queue(self):
        run = self.start()
        run.refresh_from_db()
        from django_tasks_db.models import DBTaskResult

        self.assertEqual(DBTaskResult.objects.get(pk=run.job).args_kwargs["args"], [run.pk, 1])


class Order(Case):
    def jobs(self):
        return list(
            self.all.filter(project=self.slug).exclude(job=None).order_by("pk").values_list("version", flat=True)
        )

    def test_runs_of_a_project_begin_one_after_the_other_in_order_of_arrival(self):
        first, second, third = (self.start(version=v, digest=v * 64) for v in "123")
        self.assertEqual(self.jobs(), ["1"])
        self.runs.give_up(second, "No.")
        self.assertEqual(self.jobs(), ["1"])
        self.runs.give_up(first, "No.")
        self.assertEqual(self.jobs(), ["1", "3"])
        self.assertIs(third.refresh_from_db(), None)
        self.assertEqual((third.state, third.attempt), ("queued", 1))

    def test_runs_of_other_projects_do_not_wait(self):
        self.start()
        other, _ = self.runs.start_run(
            project=f"{self.slug}b", version="1.0", bundle="y.bundle", bundle_digest="c" * 64
        )
        other.refresh_from_db()
        self.assertIsNotNone(other.job)

    def test_what_nobody_let_begin_is_found(self):
        first = self.start(version="1", digest="1" * 64)
        self.start(version="2", digest="2" * 64)
        from django.utils import timezone

        self.all.filter(project=self.slug).update(queued_at=timezone.now() - timedelta(hours=1))
        self.all.filter(pk=first.pk).update(state="done")  # And its process died.
        self.heartbeat.requeue_abandoned()
        self.assertEqual(self.jobs(), ["1", "2"])
        self.assertEqual(list(self.all.filter(project=self.slug, version="2").values_list("attempt", flat=True)), [1])


class Ending(Case):
    def test_who_gives_a_run_up_ends_what_its_attempt_may_write(self):
        run = self.working()
        mine = self.progress.RunProgress(run)
        mine.enter("store")
        self.assertIs(self.runs.give_up(run, "Too long."), True)
        run.refresh_from_db()
        self.assertEqual((run.state, run.problem, run.attempt), ("failed", "Too long.", 2))
        self.assertEqual([(line.level, line.text) for line in run.lines.all()], [("error", "Too long.")])
        for write in (mine.check, lambda: mine.count(1, 1), lambda: mine.log("Still here.")):
            with self.assertRaises(self.progress.RunTakenOver):
                write()
        self.assertIs(self.runs.give_up(run, "Twice."), False)

    def test_what_it_had_stored_goes_unless_another_run_publishes_it(self):
        project = self.project()
        run, other = self.working(), self.working(digest="b" * 64)
        self.release(project, "1.0", live=False)
        self.runs.give_up(run, "No.")
        self.assertEqual(project.releases.count(), 1)
        other.refresh_from_db()
        self.runs.give_up(other, "No.")
        self.assertEqual(project.releases.count(), 0)

    def test_what_has_ended_is_not_cancelled(self):
        run = self.working()
        self.runs.cancel_run(run, "Ada")
        run.refresh_from_db()
        self.assertEqual(run.problem, "Ada cancelled it.")
        with self.assertRaisesRegex(self.conflict, f"Run {run.pk} cannot be cancelled: it is failed."):
            self.runs.cancel_run(run, "Ada")

    def test_a_failed_run_is_tried_again_while_its_bundle_is_kept(self):
        from django.test import override_settings

        run = self.working()
        with self.assertRaisesRegex(self.conflict, "cannot be tried again: it is running"):
            self.runs.retry_run(run, "Ada")
        self.runs.give_up(run, "No.")
        run.refresh_from_db()
        with TemporaryDirectory() as folder, override_settings(MEDIA_ROOT=folder):
            with self.assertRaisesRegex(self.conflict, "no longer kept"):
                self.runs.retry_run(run, "Ada")
            Path(folder, "x.bundle").touch()
            again = self.runs.retry_run(run, "Ada")
        self.assertEqual((again.version, again.bundle_digest, again.actor), ("1.0", run.bundle_digest, "Ada"))

    def test_runs_of_a_project_that_goes_end_and_a_release_that_is_published_stays(self):
        run = self.working()
        with self.assertRaisesRegex(self.conflict, f"A run is at {self.slug} 1.0"):
            self.runs.let_go(self.slug, "1.0")
        self.runs.let_go(self.slug, "2.0")
        self.assertEqual(self.all.filter(pk=run.pk).count(), 1)
        self.runs.let_go(self.slug, "")
        self.assertEqual(self.all.filter(project=self.slug).count(), 0)


class Attempts(Case):
    def test_a_run_is_one_attempts_only(self):
        run = self.start()
        self.assertIsNone(self.states.claim_run(run.pk, 2))
        self.assertEqual(self.states.claim_run(run.pk, 1).state, "running")
        self.assertIsNone(self.states.claim_run(run.pk, 1))

    def test_a_dead_workers_runs_begin_again_under_a_new_attempt(self):
        run = self.working("gone")
        old = self.progress.RunProgress(run)
        self.assertEqual(self.heartbeat.requeue_of_worker("gone"), 1)
        run.refresh_from_db()
        self.assertEqual((run.state, run.attempt, run.worker), ("queued", 2, ""))
        with self.assertRaises(self.progress.RunTakenOver):
            old.check()

    def test_too_many_deaths_end_it(self):
        from django.conf import settings

        run = self.working("gone")
        self.all.filter(pk=run.pk).update(attempt=settings.MAX_RUN_ATTEMPTS, stage="link")
        self.assertEqual(self.heartbeat.requeue_of_worker("gone"), 0)
        run.refresh_from_db()
        self.assertEqual(
            (run.state, run.problem), ("failed", f"The worker died {settings.MAX_RUN_ATTEMPTS} times at link.")
        )

    def test_a_stage_that_takes_too_long_is_overdue(self):
        from django.conf import settings
        from django.utils import timezone

        run = self.working("slow")
        self.all.filter(pk=run.pk).update(stage="index", stage_at=timezone.now())
        self.assertEqual(self.heartbeat.list_overdue("slow"), [])
        limit = settings.STAGE_LIMITS_S.get("index", settings.STAGE_LIMIT_S)
        self.all.filter(pk=run.pk).update(stage_at=timezone.now() - timedelta(seconds=limit + 5))
        ((found, why),) = self.heartbeat.list_overdue("slow")
        self.assertEqual((found.pk, why), (run.pk, f"The stage index took longer than {limit:g} s and was ended."))
        self.assertEqual(self.heartbeat.end_overdue("slow"), 1)

    def test_progress_is_written_seldom_but_the_last_always(self):
        run = self.working()
        mine = self.progress.RunProgress(run)
        for done in range(1, 51):
            mine.count(done, 50)
        run.refresh_from_db()
        self.assertEqual((run.done, run.total), (50, 50))


class Receiving(Case):
    def receive(self, run, version="1.0"):
        from zarbek.core.model.bundle import FORMAT_VERSION, Manifest

        project = self.receiving = getattr(self, "receiving", None) or self.project()
        return self.states.receive_release(run, project, version, Manifest(format=FORMAT_VERSION, project=self.slug))

    def test_a_second_attempt_goes_on_with_what_the_first_stored(self):
        run = self.working()
        self.assertEqual(self.receive(run).pk, self.receive(run).pk)

    def test_what_a_run_that_was_given_up_left_is_replaced(self):
        left = self.receive(self.working())
        self.all.filter(project=self.slug).update(state="failed")
        self.assertNotEqual(self.receive(self.working(digest="b" * 64)).pk, left.pk)

    def test_other_bytes_are_refused_while_a_run_publishes_some(self):
        from zarbek.core.errors import BundleRefused

        self.receive(self.working())
        with self.assertRaisesRegex(BundleRefused, "is being published with other content"):
            self.receive(self.working(digest="b" * 64))

    def test_what_replaces_another_is_kept_apart_until_it_goes_live(self):
        run = self.working(is_dry=True)
        self.assertEqual(self.states.version_while_stored(run, "1.0"), f"1.0~{run.pk}")
        self.assertEqual(self.states.version_while_stored(self.working(), "1.0"), "1.0")


if __name__ == "__main__":
    unittest.main()
