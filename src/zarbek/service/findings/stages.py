"""The report stage of a run."""

from __future__ import annotations

import msgspec

from zarbek.core.material.bundlefile import BundleReader
from zarbek.service.findings.actions import make_report
from zarbek.service.publishing.models import Run
from zarbek.service.publishing.pipeline import Publish, register_stage
from zarbek.service.publishing.stages import bundle_path


def register() -> None:
    register_stage(60, "report", report)


def report(publish: Publish) -> None:
    with BundleReader(bundle_path(publish.run.bundle)) as bundle:
        gathered = list(bundle.findings())
    made = make_report(publish, [*publish.findings, *gathered])
    publish.counts.update(new=len(made.new), open=len(made.open), fixed=len(made.fixed),
                          elsewhere=sum(len(e.findings) for e in made.elsewhere))  # fmt: skip
    Run.objects.filter(pk=publish.run.pk).update(report=msgspec.json.encode(made), counts=publish.counts)
