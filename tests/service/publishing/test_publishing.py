"""Publishing through the real service: releases, reports, refusals, crashes."""

import os
import signal
import subprocess
import time
import unittest
import uuid

from tests.support.running import ROOT, running
from zarbek.client import PortalProblem

LIB_1 = {
    "zarbek.toml": 'owner = "Lib team"\n',
    "{0}/__init__.py": 'def old_name(x: int) -> int:\n    """Old."""\n    return [one for one in range(x) if one % 2 and one % 3 and one % 5 and one % 7]\nOTHER = 1\n',
}
LIB_2 = {
    "zarbek.toml": 'owner = "Lib team"\n',
    "{0}/__init__.py": 'def new_name(x: int) -> int:\n    """New."""\n    return [one for one in range(x) if one % 2 and one % 3 and one % 5 and one % 7]\nOTHER = 1\n',
}
USER = {
    "zarbek.toml": 'owner = "Users"\n',
    "{1}/__init__.py": 'import {0}\ndef f():\n    """Calls :func:`{0}.old_name` and :data:`{0}.OTHER`."""\n',
}


def named(files, *names):
    return {path.format(*names): text.format(*names) for path, text in files.items()}


class Life(unittest.TestCase):
    """One library and one user of it, from the first release to a break and its repair."""

    def test_a_release_breaks_another_project_and_the_repair_mends_it(self):
        portal = running()
        lib, user = f"lib{uuid.uuid4().hex[:6]}", f"user{uuid.uuid4().hex[:6]}"
        self.assertEqual(portal.publish(named(LIB_1, lib), lib, "1.0").state, "done")
        first = portal.publish(named(USER, lib, user), user, "1.0")
        self.assertEqual((first.counts["dangling"], first.counts["held"]), (0, 2))
        breaking = portal.publish(named(LIB_2, lib), lib, "2.0")
        report = portal.client.run_report(breaking.id)
        (elsewhere,) = report.elsewhere
        (finding,) = elsewhere.findings
        self.assertEqual((elsewhere.project, elsewhere.owner), (user, "Users"))
        self.assertEqual((finding.rule, finding.line, finding.text), ("dangling/symbol", 3, f"{lib}.old_name"))
        self.assertEqual((finding.suggestion, finding.certain), (f"{lib}.new_name", True))
        self.assertEqual(finding.message, f"{lib}.old_name was removed in {lib} 2.0.")
        states = {row.finding.fingerprint: row.state for row in portal.client.findings(project=user)}
        self.assertEqual(list(states.values()), ["new"])
        mended = named(USER, lib, user)
        mended = {k: v.replace("old_name", "new_name") for k, v in mended.items()}
        last = portal.client.run_report(portal.publish(mended, user, "1.1").id)
        self.assertEqual((len(last.fixed), len(last.new), last.previous), (1, 0, "1.0"))
        self.assertEqual([r.path for r in portal.client.referrers(lib, f"{lib}.new_name")], [f"{user}.f"])

    def test_publishing_again_changes_nothing_and_other_bytes_are_refused(self):
        portal = running()
        slug = f"p{uuid.uuid4().hex[:6]}"
        bundle = portal.bundle(named(LIB_1, slug), slug, "1.0")
        first = portal.wait(portal.client.publish(bundle))
        again = portal.client.publish(bundle)
        self.assertEqual((again.id, again.is_new), (first.id, False))
        with self.assertRaises(PortalProblem) as caught:
            portal.client.publish(portal.bundle(named(LIB_2, slug), slug, "1.0"))
        self.assertEqual((caught.exception.status, caught.exception.code), (409, "conflict"))

    def test_dry_run_reports_and_stores_nothing(self):
        portal = running()
        slug = f"dry{uuid.uuid4().hex[:6]}"
        portal.publish(named(LIB_1, slug), slug, "1.0")
        broken = {f"{slug}/__init__.py": f'"""See :func:`{slug}.nothing`."""'}
        run = portal.publish(broken, slug, "2.0", dry=True)
        report = portal.client.run_report(run.id)
        self.assertEqual([f.rule for f in report.new], ["dangling/symbol"])
        self.assertEqual([r.version for r in portal.client.project(slug).releases], ["1.0"])
        self.assertEqual(list(portal.client.findings(project=slug)), [])

    def test_previews_are_replaced_and_do_not_move_latest(self):
        portal = running()
        slug = f"pre{uuid.uuid4().hex[:6]}"
        portal.publish(named(LIB_1, slug), slug, "1.0")
        for files in (LIB_2, LIB_1):
            portal.publish(named(files, slug), slug, "main", preview=True)
        project = portal.client.project(slug)
        self.assertEqual([(r.version, r.is_preview) for r in project.releases], [("1.0", False), ("main", True)])
        self.assertEqual(project.latest, "1.0")

    def test_versions_are_ordered_by_number_and_prereleases_are_not_latest(self):
        portal = running()
        slug = f"ver{uuid.uuid4().hex[:6]}"
        for version in ("1.9", "1.10", "2.0rc1"):
            portal.publish({f"{slug}/__init__.py": f"V = {version!r}"}, slug, version)
        project = portal.client.project(slug)
        self.assertEqual([r.version for r in project.releases], ["2.0rc1", "1.10", "1.9"])
        self.assertEqual(project.latest, "1.10")

    def test_unchanged_content_is_stored_once(self):
        portal = running()
        slug = f"once{uuid.uuid4().hex[:6]}"
        many = "\n".join(f'def f{i}(): """Number {i}."""' for i in range(300))
        portal.publish({f"{slug}/__init__.py": many}, slug, "1.0")
        before = portal.rows()
        changed = "X = 1\n" + many.replace('"""Number 7."""', '"""Changed."""')
        portal.publish({f"{slug}/__init__.py": changed}, slug, "1.1")
        written = portal.rows() - before
        self.assertLessEqual(written, 9)  # 3 contents, 3 blocks at most, a release, a run's links.

    def test_who_refers_to_what_within_a_project_follows_each_release(self):
        portal = running()
        slug = f"own{uuid.uuid4().hex[:6]}"
        text = 'def f(): ...\ndef g():\n    """Like :func:`f`."""\ndef h():\n    """Not {}."""\n'
        for version, said, expected in (("1.0", ":func:`f`", ["g", "h"]), ("1.1", "that", ["g"])):
            portal.publish({f"{slug}/__init__.py": text.format(said)}, slug, version)
            found = [(r.version, r.path) for r in portal.client.referrers(slug, f"{slug}.f")]
            self.assertEqual(found, [(version, f"{slug}.{name}") for name in expected])
            impact = portal.client.impact(slug, f"{slug}.f")
            places = {r.version: [p.path for p in r.places] for r in impact.referring}
            self.assertEqual(places, {version: [f"{slug}.{name}" for name in expected]})

    def test_a_large_release_is_found_as_soon_as_it_is_live(self):
        portal = running()
        slug = f"large{uuid.uuid4().hex[:6]}"
        names = [f"tide_{slug}_{i}" for i in range(2_100)]
        files = {f"{slug}/__init__.py": "\n".join(f"{n} = {i}" for i, n in enumerate(names))}
        portal.publish(files, slug, "1.0")
        self.assertEqual(portal.client.search(names[-1])[0].path, f"{slug}.{names[-1]}")


class Failure(unittest.TestCase):
    def test_a_failed_run_says_why_leaves_nothing_and_may_be_tried_again(self):
        portal = running()
        slug = f"fail{uuid.uuid4().hex[:6]}"
        bundle = portal.bundle(named(LIB_1, slug), slug, "1.0")
        portal.publish(named(LIB_1, slug), slug, "0.9")
        kept = portal.home / "home" / "files" / "bundles"
        worker = portal.processes.processes.pop()
        worker.terminate()
        worker.wait()
        run = portal.client.publish(bundle)
        uploaded = max(kept.rglob("*.bundle"), key=lambda p: p.stat().st_mtime_ns)
        uploaded.write_bytes(b"damaged on the disk")
        portal.processes.start_worker()
        failed = portal.wait(run)
        self.assertEqual((failed.state, failed.stage), ("failed", "receive"))
        self.assertIn("no readable ZIP file", failed.problem)
        self.assertEqual([line.level for line in portal.client.log(run.id)], ["error"])
        self.assertEqual([r.version for r in portal.client.project(slug).releases], ["0.9"])
        again = portal.wait(portal.client.publish(bundle))
        self.assertEqual((again.state, again.id != run.id), ("done", True))

    def test_a_run_is_cancelled_and_tried_again(self):
        portal = running()
        client, slug = portal.client, f"stop{uuid.uuid4().hex[:6]}"
        worker = portal.processes.processes.pop()
        worker.terminate()
        worker.wait()
        try:
            waiting = client.publish(portal.bundle(named(LIB_1, slug), slug, "1.0"))
            ended = client.cancel_run(waiting.id)
            self.assertEqual((ended.state, "cancelled it" in ended.problem), ("failed", True))
            again = client.retry_run(waiting.id)
        finally:
            portal.processes.start_worker()
        self.assertEqual((portal.wait(again).state, client.run(waiting.id).state), ("done", "failed"))
        for act in (client.cancel_run, client.retry_run):
            with self.assertRaises(PortalProblem) as refused:
                act(again.id)
            self.assertEqual(refused.exception.status, 409)


class Repositories(unittest.TestCase):
    def test_the_portal_gathers_tags_and_branches_by_itself(self):
        portal = running()
        slug = f"git{uuid.uuid4().hex[:6]}"
        repository = portal.home / "repositories" / slug
        repository.mkdir(parents=True)

        def git(*arguments):
            identity = ["-c", "user.name=a", "-c", "user.email=a@halmere.example"]
            subprocess.run(["git", *identity, *arguments], cwd=repository, check=True, capture_output=True)

        git("init", "-q", "-b", "main")
        for number in (1, 2):
            (repository / f"{slug}.py").write_text(f"LEVEL = {number}\n")
            git("add", "-A")
            git("commit", "-q", "-m", str(number))
            git("tag", f"v{number}.0")
        code, out, err = portal.command("fetch", slug, "--from", str(repository), "--tags", "v*")
        self.assertEqual((code, err), (0, ""))
        self.assertEqual(out.count("is live"), 2)
        self.assertEqual(portal.client.fetch(slug, tags="v*"), [])
        (run,) = portal.client.fetch(slug, branch="main")
        self.assertEqual(portal.wait(run).state, "done")
        self.assertEqual([r.version for r in portal.client.project(slug).releases], ["2.0", "1.0", "main"])

    def test_hostile_addresses_are_refused_and_leave_nothing(self):
        portal = running()
        for address in ("ext::sh -c id", "file:///etc", "/etc", "https://127.0.0.1/x.git", "http://example.org/x"):
            with self.subTest(address), self.assertRaises(PortalProblem) as caught:
                portal.client.add_source("never", address)
            self.assertEqual(caught.exception.status, 422)
        self.assertNotIn("never", [p.slug for p in portal.client.projects()])


class Crash(unittest.TestCase):
    def test_a_killed_worker_loses_nothing_and_shows_nothing_half_done(self):
        portal = running()
        slug = f"crash{uuid.uuid4().hex[:6]}"
        many = {f"{slug}/m{i}.py": "\n".join(f'def f{j}(): """:func:`f{j}`"""' for j in range(300)) for i in range(20)}
        bundle = portal.bundle(many, slug, "1.0")
        run = portal.client.publish(bundle)
        worker = portal.processes.processes.pop()
        until = time.monotonic() + 30
        while portal.client.run(run.id).stage not in ("store", "link") and time.monotonic() < until:
            time.sleep(0.02)
        os.kill(worker.pid, signal.SIGKILL)
        worker.wait()
        self.assertEqual(portal.client.run(run.id).state, "running")
        self.assertEqual(portal.client.project(slug).releases, [])
        portal.processes.start_worker()
        finished = portal.wait(run)
        self.assertEqual((finished.state, finished.attempt), ("done", 2))
        self.assertEqual(portal.client.project(slug).releases[0].symbols, 20 * 301)

    def test_a_worker_lost_after_going_live_reports_in_the_end(self):
        portal = running()
        slug = f"lost{uuid.uuid4().hex[:6]}"
        bundle = portal.bundle({f"{slug}.py": f'"""See :func:`{slug}.nothing`."""'}, slug, "1.0")
        lost = portal.in_service(f"""
            import os, shutil
            from datetime import timedelta
            from django.utils import timezone
            from zarbek.core.material.bundle_file import digest_file
            from zarbek.service.publishing.actions.runs import keep_upload
            from zarbek.service.publishing.execution import execute
            from zarbek.service.publishing.models import Run
            from zarbek.service.publishing.pipeline import register_stage
            from pathlib import Path
            digest = digest_file(Path({str(bundle)!r}))
            shutil.copy({str(bundle)!r}, {str(bundle)!r} + ".copy")
            name = keep_upload({str(bundle)!r} + ".copy", digest)
            run = Run.objects.create(project={slug!r}, version="1.0", bundle=name, bundle_digest=digest)

            def die(publish):
                Run.objects.filter(pk=run.pk).update(heartbeat_at=timezone.now() - timedelta(hours=1))
                print(run.pk, flush=True)
                os._exit(9)

            register_stage(55, "die", die)
            execute(run.pk, 1)
        """)
        self.assertEqual(lost.returncode, 9, lost.stderr)
        finished = portal.wait(portal.client.run(int(lost.stdout)))
        self.assertEqual((finished.state, finished.attempt, finished.problem), ("done", 2, ""))
        self.assertEqual([f.rule for f in portal.client.run_report(finished.id).new], ["dangling/symbol"])
        self.assertEqual(portal.client.publish(bundle).id, finished.id)


class Schema(unittest.TestCase):
    def test_no_migration_is_missing(self):
        done = subprocess.run(
            [str(ROOT / ".venv/bin/python"), "-m", "zarbek.service.manage", "makemigrations", "--check", "--dry-run"],
            env=running().processes.environment, capture_output=True, text=True, check=False,
        )  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)


if __name__ == "__main__":
    unittest.main()
