"""Processes of a publishing portal are killed one after the other, whatever they are at: what is lost, what is seen
half done, and what never ends."""

from __future__ import annotations

import itertools
import os
import random
import signal
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from typing import Any

from hypothesis import HealthCheck, Phase, given, settings
from tests.support.randomsources import fill, sequences
from tests.support.sources import write_files

from bench.measures import Row
from bench.supervised import Supervised, insist, last_state
from zarbek.client import PortalError
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.material.bundle_file import BundleReader

KILLS, PUBLISHERS, PORTALS = 200, 4, 80
#: Seconds between two kills, at least and at most: about as long as it takes to publish a few releases.
PAUSE_S = (1.0, 9.0)
#: What is killed, and how often against the others: the queues' processes, the one that watches them, those that
#: answer, the database.
PARTS = {"take_jobs": 8, "run_chores": 1, "manage work": 2, "web.server": 4, "mariadbd": 2}
#: Publishes that one publisher has under way at once.
AHEAD = 4
_SEED = 23


class Watched:
    """What publishers have sent, and what readers have seen of it."""

    def __init__(self, portal: Supervised) -> None:
        self.portal, self.stop, self.lock = portal, threading.Event(), threading.Lock()
        self.sent: dict[int, tuple[str, str]] = {}
        #: Of each release, how many symbols it has and how many of them are public.
        self.expected: dict[tuple[str, str], tuple[int, int]] = {}
        self.killed: Counter[str] = Counter()
        self.readings = 0
        self.half: list[str] = []
        self.failed: list[BaseException] = []


def measure_faults() -> Iterator[Row]:
    """Kills over long series of publishes of random portals: nothing lost, nothing half visible, no run stuck."""
    with Supervised() as portal, tempfile.TemporaryDirectory() as folder:
        watched = Watched(portal)
        portals = _random_portals()
        works = [(_publish, watched, Path(folder), n, portals[n::PUBLISHERS]) for n in range(PUBLISHERS)]
        works.append((_read, watched))
        threads = [threading.Thread(target=_noted, args=(watched, *work)) for work in works]
        started = time.monotonic()
        for thread in threads:
            thread.start()
        _kill(watched)
        for thread in threads:
            thread.join()
        took = time.monotonic() - started
        if watched.failed:
            raise watched.failed[0]
        states = Counter(last_state(portal, run, 600) for run in watched.sent)
        given_up, others = _retry_given_up(watched)
        told = ", ".join(f"{count} × {name}" for name, count in watched.killed.most_common())
        yield f"{sum(watched.killed.values())} kills in {took / 60:.0f} minutes of publishing", told, ""
        ends = ", ".join(f"{count} {state}" for state, count in states.items())
        yield (
            f"{len(watched.sent):,} publishes",
            ends,
            f"{given_up} given up after four deaths, done when retried; {'; '.join(others) or 'no other failed'}",
        )
        yield "releases lost or not whole", str(len(_missing(watched))), f"of {len(set(watched.expected))}"
        half = "; ".join(watched.half[:3])
        yield (
            "seen half done meanwhile",
            str(len(watched.half)),
            f"in {watched.readings:,} readings of a release {half}",
        )
        yield "texts whose links differ from a full recomputation", _differences(watched), ""
        faults = portal.check()
        yield "faults of what is kept", str(len(faults)), "; ".join(faults[:3])


def _noted(watched: Watched, work: Any, *arguments: Any) -> None:
    try:
        work(*arguments)
    except BaseException as error:
        watched.failed.append(error)
        watched.stop.set()
        raise


def _random_portals() -> list[Any]:
    """Random publishes of random portals, each of three projects."""
    found: list[Any] = []

    @settings(max_examples=PORTALS, deadline=None, database=None, derandomize=True, phases=[Phase.generate],
              suppress_health_check=list(HealthCheck))  # fmt: skip
    @given(sequences())
    def collect(sequence: Any) -> None:
        found.append(sequence)

    collect()
    return found


def _publish(watched: Watched, folder: Path, number: int, portals: list[Any]) -> None:
    """One publisher: every release is sent while those before it are still at work, up to a few."""
    mine: list[int] = []
    for series, sequence in enumerate(itertools.cycle(portals)):
        slugs = [f"p{number}s{series}q{n}" for n in range(3)]
        for project, version, files in sequence:
            if watched.stop.is_set():
                return
            texts = {fill(k, slugs): fill(v, slugs) for k, v in files.items()}
            place = folder / slugs[project] / version
            options = GatherOptions(slug=slugs[project], version=version, use_cache=False)
            gathered = gather(write_files(place / "source", texts), place / "b.bundle", options)
            with BundleReader(gathered.path) as bundle:
                shown = [symbol.visibility == "public" for symbol in bundle.symbols()]
            with watched.lock:
                watched.expected[slugs[project], version] = (len(shown), sum(shown))
            run = insist(lambda bundle=gathered.path: watched.portal.client.publish(bundle)).id
            with watched.lock:
                watched.sent[run] = (slugs[project], version)
            mine = [*mine, run][-AHEAD:]
            if len(mine) == AHEAD:
                last_state(watched.portal, mine[0], 600)


def _kill(watched: Watched) -> None:
    chance = random.Random(_SEED)
    while sum(watched.killed.values()) < KILLS and not watched.stop.is_set():
        time.sleep(chance.uniform(*PAUSE_S))
        (part,) = chance.choices(list(PARTS), list(PARTS.values()))
        found = [pid for pid, command in watched.portal.processes().items() if part in command]
        if found:
            with suppress(ProcessLookupError):
                os.kill(chance.choice(found), signal.SIGKILL)
                watched.killed[part.split()[-1]] += 1
    watched.stop.set()


def _read(watched: Watched) -> None:
    """One reader, who looks whether all that a release says to have is there."""
    chance = random.Random(_SEED)
    while not watched.stop.is_set():
        time.sleep(0.05)
        with suppress(PortalError):
            projects = list(watched.portal.client.projects())
            if not projects:
                continue
            project = chance.choice(projects)
            for release in list(watched.portal.client.releases(project.slug)):
                watched.readings += 1
                expected = watched.expected[project.slug, release.version]
                there = len(list(watched.portal.client.symbols(project.slug, release.version)))
                if (release.symbols, there) != expected:
                    watched.half.append(f"{project.slug} {release.version}: {release.symbols}, {there} of {expected}")


def _retry_given_up(watched: Watched) -> tuple[int, list[str]]:
    """How many were given up because their workers died, and are done now; why others failed."""
    client, count, others = watched.portal.client, 0, list[str]()
    for run, (slug, version) in watched.sent.items():
        view = insist(lambda run=run: client.run(run))
        if view.state == "failed" and "died" in view.problem:
            again = client.retry_run(run).id
            count += last_state(watched.portal, again) == "done"
        elif view.state == "failed":
            others.append(f"{slug} {version}: {view.problem}")
    return count, others


def _missing(watched: Watched) -> list[tuple[str, str]]:
    there: dict[tuple[str, str], int] = {}
    for slug in {slug for slug, _ in watched.expected}:
        there |= {(slug, r.version): r.symbols for r in watched.portal.client.releases(slug)}
    return [key for key in set(watched.sent.values()) if there.get(key) != watched.expected[key][0]]


def _differences(watched: Watched) -> str:
    slugs = sorted({slug for slug, _ in watched.sent.values()})
    return watched.portal.in_service(f"""
from zarbek.service.catalog.models import PortalChange
from zarbek.service.findings.recomputation import list_differences
from zarbek.service.findings.tasks import follow
for change in PortalChange.objects.filter(settled_at=None):
    follow.func(change.number)
print(sum(1 for _ in list_differences({slugs!r})))
""").strip()
