"""Random portals and random sequences of publishes, for the equality of what is kept and what a
full recomputation gives. Runs inside a process of the service."""

from __future__ import annotations

import itertools
import shutil
import tempfile
from pathlib import Path

from hypothesis import HealthCheck, given, settings

from tests.support.randomsources import fill, sequences
from tests.support.sources import write_files
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.material.bundle_file import digest_file
from zarbek.service.findings.recomputation import list_differences
from zarbek.service.publishing.actions.runs import keep_upload
from zarbek.service.publishing.execution import execute
from zarbek.service.publishing.models import Run

_counter = itertools.count(1)


def check(examples: int) -> tuple[int, int]:
    """(publishes, mentions looked at again); raises AssertionError where the two states differ."""
    done = [0, 0]

    @settings(
        max_examples=examples, deadline=None, suppress_health_check=list(HealthCheck), database=None, derandomize=True
    )
    @given(sequences())
    def run(sequence):
        slugs = [f"rnd{next(_counter)}q{n}" for n in range(3)]
        for number, version, files in sequence:
            made = publish(slugs[number], version, {fill(k, slugs): fill(v, slugs) for k, v in files.items()})
            done[0] += 1
            done[1] += made.counts.get("examined", 0)
            differences = list(list_differences(slugs))
            assert not differences, (sequence, differences[0])

    run()
    return done[0], done[1]


def publish(slug: str, version: str, files: dict[str, str]) -> Run:
    """Publish in this process. Raises AssertionError for a run that fails."""
    folder = Path(tempfile.mkdtemp())
    try:
        bundle = folder / "b.bundle"
        gather(
            write_files(folder / "source", files), bundle, GatherOptions(slug=slug, version=version, use_cache=False)
        )
        digest = digest_file(bundle)
        run = Run.objects.create(
            project=slug, version=version, bundle=keep_upload(str(bundle), digest), bundle_digest=digest
        )
        execute(run.pk, 1)
    finally:
        shutil.rmtree(folder)
    run.refresh_from_db()
    assert run.state == "done", (run.problem, files)
    return run
