"""Several workers, many publishes at once, and deaths among them: what is kept in the end is what a full recomputation
gives, and nothing waits for ever."""

import os
import random
import signal
import sys
import threading
import time
import unittest
import uuid

from hypothesis import HealthCheck, Phase, given, settings

from tests.security.test_supervision import children_of
from tests.support.randomsources import fill, sequences
from tests.support.running import ROOT, running
from tests.support.waiting import until

PORTALS, KILLS = 8, 10


class Workers(unittest.TestCase):
    maxDiff = None

    def setUp(self):
        self.portal = running()
        processes = self.portal.processes
        if not any(kept.name == "a second worker" for kept in processes.processes):
            processes.keep("a second worker", sys.executable, "-m", "zarbek.service.manage", "work")
        self.made = []

    def sequences(self):
        """Random publishes for random portals, each of three projects."""
        found = []

        @settings(max_examples=PORTALS, deadline=None, database=None, derandomize=True, phases=[Phase.generate],
                  suppress_health_check=list(HealthCheck))  # fmt: skip
        @given(sequences())
        def collect(sequence):
            found.append(sequence)

        collect()
        return found[:PORTALS]

    def publish_all(self, sequence, tag):
        """All publishes of one portal, one right after the other."""
        slugs = [f"many{tag}q{n}" for n in range(3)]
        for number, version, files in sequence:
            texts = {fill(k, slugs): fill(v, slugs) for k, v in files.items()}
            bundle = self.portal.bundle(texts, slugs[number], version)
            self.made.append(self.portal.client.publish(bundle).id)
        return slugs

    def kill_some(self, stop):
        """Now and then the process of some queue dies, whatever it is at."""
        chance = random.Random(7)
        killed = 0
        while killed < KILLS and not stop.is_set():
            time.sleep(chance.uniform(0.5, 2.0))
            workers = [pid for name in ("the worker", "a second worker")
                       for pid, command in children_of(self.portal.processes.find(name).pid).items()
                       if "take_jobs" in command]  # fmt: skip
            if workers:
                os.kill(chance.choice(workers), signal.SIGKILL)
                killed += 1
        self.killed = killed

    def test_random_portals_published_at_once_by_workers_that_die(self):
        slugs, threads, stop = [], [], threading.Event()
        killer = threading.Thread(target=self.kill_some, args=(stop,))
        killer.start()
        for sequence in self.sequences():
            tag = uuid.uuid4().hex[:5]
            threads.append(threading.Thread(target=lambda s=sequence, t=tag: slugs.extend(self.publish_all(s, t))))
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        until(lambda: not [r for r in self.going() if r in self.made], 300)
        stop.set()
        killer.join()
        self.assertGreater(self.killed, 3)
        for run in self.failed():  # One that met four deaths is given up, and told so.
            self.assertIn("The worker died", run.problem)
            self.portal.wait(self.portal.client.retry_run(run.id))
        self.assertEqual(len(self.made), len(set(self.made)))
        done = self.portal.in_service(f"""
            import sys; sys.path.insert(0, {str(ROOT)!r})
            from collections import Counter
            from django.db.models import Sum
            from zarbek.service.catalog.models import PortalChange, Release
            from zarbek.service.findings.models import ALIVE, FindingRecord, HealthPoint
            from zarbek.service.findings.recomputation import list_differences
            from zarbek.service.findings.tasks import follow
            slugs = {slugs!r}
            for change in PortalChange.objects.filter(settled_at=None):
                follow.func(change.number)
            print(list(list_differences(slugs))[:2])
            alive = FindingRecord.objects.filter(project__slug__in=slugs, state__in=ALIVE)
            counts = Counter(alive.values_list("project", "branch", "computed"))
            print([key for key, count in counts.items() if count > 1])
            print(Release.objects.filter(project__slug__in=slugs, is_live=False).count())
            # What all runs have brought and mended makes what stands.
            main = alive.filter(branch="").exclude(severity="note")
            for slug in slugs:
                made = HealthPoint.objects.filter(project__slug=slug).aggregate(new=Sum("new"), fixed=Sum("fixed"))
                if (made["new"] or 0) - (made["fixed"] or 0) != main.filter(project__slug=slug).count():
                    print(slug, made, main.filter(project__slug=slug).count())
        """)
        self.assertEqual(done.returncode, 0, done.stderr[-3000:])
        self.assertEqual(done.stdout.split("\n")[:-1], ["[]", "[]", "0"])

    def going(self):
        return {r.id for state in ("queued", "running") for r in self.portal.client.runs(state=state)}

    def failed(self):
        return [r for r in self.portal.client.runs(state="failed") if r.id in self.made]


if __name__ == "__main__":
    unittest.main()
