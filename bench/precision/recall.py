"""Publish real releases, then the same with known faults, and count which of these the report names."""

from __future__ import annotations

import shutil
import tempfile
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from tests.support.portals import MemoryPortal
from tests.support.sources import index_of

from bench.measures import Row
from bench.portal import Service
from bench.precision.fetching import Project, list_planted
from bench.precision.planting import Fault, Planter, find_named, plant_in_pages
from bench.precision.publishing import standing
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.linking.linker import Linker
from zarbek.core.material.bundle_file import BundleReader

BEFORE, AFTER = "1.0.0", "1.1.0"
#: At most so many faults a project at symbols, at parameters, and in guides.
AT_SYMBOLS, AT_PARAMETERS, AT_PAGES = 36, 12, 8
#: Rules whose new findings must be about something that was planted.
_JUDGED = ("dangling/", "stale/")


@dataclass(slots=True)
class Planted:
    """A project with the faults that were put into it."""

    project: Project
    faults: list[Fault]
    missed: list[Fault] = field(default_factory=list)
    #: New findings that count and are about nothing that was planted.
    wrong: list[dict[str, Any]] = field(default_factory=list)


def measure_recall() -> list[Row]:
    """How many planted faults are found, and how many findings are about nothing."""
    projects = list_planted()
    with Service() as service, tempfile.TemporaryDirectory() as folder:
        for project in projects:
            _publish(service, project, project.source(project.versions[-1]), BEFORE, Path(folder))
        before = {(f["project"], f["fingerprint"]) for f in standing(service)}
        planted = []
        for project in projects:
            with tempfile.TemporaryDirectory(dir=folder) as copied:
                root = Path(copied, "source")
                shutil.copytree(project.source(project.versions[-1]), root, symlinks=True)
                planted.append(Planted(project, plant_in(project, root)))
                _publish(service, project, root, AFTER, Path(folder))
        judge(planted, standing(service), before)
    for one in planted:
        for fault in one.missed:
            print(f"missed: {one.project.slug} {fault.file} {fault.text!r}: {fault.target} {fault.kind}")
        for finding in one.wrong:
            print(f"wrong: {one.project.slug} {finding['rule']} {finding.get('file')} {finding.get('text')!r}")
    return list(rows_of(planted))


def plant_in(project: Project, root: Path) -> list[Fault]:
    """Change the sources below root; what was done."""
    with tempfile.TemporaryDirectory() as folder:
        bundle = Path(folder, "b.bundle")
        gather(root, bundle, GatherOptions(slug=project.slug, version=BEFORE))
        with BundleReader(bundle) as opened:
            symbols, pages = list(opened.symbols()), list(opened.pages())
            index = index_of(opened, symbols)
    planter = Planter(root, symbols)
    planter.plant(find_named(symbols, Linker(index, MemoryPortal(index)).link_symbols(symbols)), AT_SYMBOLS)
    planter.plant_parameters(AT_PARAMETERS)
    return [*planter.faults, *plant_in_pages(root, pages, AT_PAGES)]


def judge(planted: list[Planted], findings: Iterable[dict[str, Any]], before: set[tuple[str, str]]) -> None:
    """Fill in what was missed, and what was named wrongly. before: (project, fingerprint) of what stood already."""
    counted = [f for f in findings if f["version"] == AFTER and f["severity"] != "note"]
    words = {w for one in planted for fault in one.faults for w in fault.words}
    for one in planted:
        own = [f for f in counted if f["project"] == one.project.slug]
        one.missed = [fault for fault in one.faults if not any(_tells(f, fault) for f in own)]
        one.wrong = [
            f for f in own
            if (f["project"], f["fingerprint"]) not in before and f["rule"].startswith(_JUDGED)
            and not any(word in f"{f.get('text', '')} {f.get('target', '')}" for word in words)
        ]  # fmt: skip


def _tells(finding: dict[str, Any], fault: Fault) -> bool:
    """Whether a finding is about a fault: at its file, by its rule, naming what nothing else is called."""
    if finding["rule"] not in fault.rules or finding.get("file", "") != fault.file:
        return False
    return fault.words[0] in " ".join(str(finding.get(key, "")) for key in ("text", "target", "message"))


def rows_of(planted: list[Planted]) -> Iterator[Row]:
    """The figures by kind of fault."""
    faults = [(one, fault) for one in planted for fault in one.faults]
    missed = {id(fault) for one in planted for fault in one.missed}
    wrong = sum(len(one.wrong) for one in planted)
    yield (
        f"{len(faults)} planted faults in {len(planted)} projects, named by the report",
        _share(len(faults) - len(missed), len(faults)),
        f"{wrong} new findings about nothing that was planted",
    )
    for title, key in (("kind", lambda x: x[1].kind), ("language", lambda x: x[0].project.language)):
        total = Counter(map(key, faults))  # type: ignore[arg-type]
        lost = Counter(key(x) for x in faults if id(x[1]) in missed)  # type: ignore[no-untyped-call]
        for name in sorted(total):
            yield f"{title}: {name}", _share(total[name] - lost[name], total[name]), f"{total[name]} planted"


def _share(part: int, whole: int) -> str:
    return f"{100 * part / whole:.1f} %" if whole else "none"


def _publish(service: Service, project: Project, source: Path, version: str, folder: Path) -> None:
    """Raises RuntimeError for a run that fails."""
    bundle = folder / f"{project.slug}-{version}.bundle"
    gather(source, bundle, GatherOptions(slug=project.slug, version=version))
    service.publish(bundle)
    bundle.unlink()
    run = next(iter(service.client.runs(project.slug)))
    if run.state != "done":
        raise RuntimeError(f"{project.slug} {version}: {run.problem}")
