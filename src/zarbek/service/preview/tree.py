"""A working tree, gathered and published into the preview each time that it changes. Nothing is written to it."""

from __future__ import annotations

import time
from collections import Counter
from pathlib import Path

import msgspec

from zarbek.core.errors import ZarbekError
from zarbek.core.findings.report import Report
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.gathering.known_source import KnownSource
from zarbek.core.material.held_bundle import HeldBundle, Holder
from zarbek.core.sources.interfaces.remote_documents import Fetch
from zarbek.service.common.collector import collect_now, collecting_later
from zarbek.service.common.problems import Problem
from zarbek.service.links.last_linked import differences_first, is_whole
from zarbek.service.preview.elsewhere import Elsewhere
from zarbek.service.preview.state import STATE, Shown
from zarbek.service.publishing.actions.runs import start_run
from zarbek.service.publishing.bundles import hold_bundle
from zarbek.service.publishing.execution import execute
from zarbek.service.search.actions import Follower

#: What the release of a working tree is called.
VERSION = "preview"
#: What comes may ask for more, and that for more again.
_LOOKS = 4


class WorkingTree:
    """One folder, and what is shown of it."""

    def __init__(self, path: Path, fetch: Fetch | None = None, elsewhere: Elsewhere | None = None) -> None:
        self.path, self._fetch = path, fetch
        self._follower = Follower()
        self._elsewhere = elsewhere
        self._slug = ""
        self._last: HeldBundle | None = None
        self._known = KnownSource()

    @property
    def is_whole(self) -> bool:
        """Whether all is shown as it is; else only what was saved is, and what rests on it may not be. What cannot be
        shown is not tried again before the next change."""
        return bool(STATE.get().problem) or is_whole(self._slug)

    def show(self, since: float) -> Shown:
        """Gather and publish, what was saved first; what is wrong with it is shown, and what was shown before stays.
        since: when it changed, by ``time.monotonic``."""
        with collecting_later(), differences_first():
            return self._show(since)

    def complete(self) -> Shown:
        """The same for what rests on names that have changed."""
        self._last = None
        return self._show(time.monotonic())

    def _show(self, since: float) -> Shown:
        before = STATE.get()
        try:
            shown = self._publish(before, since)
        except (ZarbekError, Problem, OSError) as error:
            told = error.detail if isinstance(error, Problem) else str(error)
            shown = Shown(before.project, before.revision + 1, before.version, before.run, problem=told)
        STATE.set(shown)
        return shown

    def look_elsewhere(self) -> None:
        """Show it again with what a portal knows of the names that nothing in the tree explains, if it knows any."""
        for _ in range(_LOOKS):
            if self._elsewhere is None or not self._elsewhere.bring(self._slug):
                break
            self.complete()

    def index(self) -> None:
        """Have search find what is shown, and clear up."""
        while self._follower.follow():
            pass
        collect_now()

    def _publish(self, before: Shown, since: float) -> Shown:
        bundle = self._gathered()
        self._slug = bundle.manifest.project
        if bundle == self._last and not before.problem:
            return before  # It was saved as it was.
        name = f"{before.revision}.bundle"
        hold_bundle(name, bundle)
        run, _ = start_run(project=self._slug, version=VERSION, bundle=name, is_preview=True)
        execute(run.pk, run.attempt)
        run.refresh_from_db()
        if run.state != "done":
            return Shown(before.project or self._slug, before.revision + 1, before.version, before.run,
                         problem=run.problem)  # fmt: skip
        self._last = bundle
        report = msgspec.json.decode(run.report, type=Report)
        counted = Counter(finding.severity for finding in (*report.new, *report.open))
        return Shown(
            self._slug, before.revision + 1, VERSION, run.pk, counted["error"], counted["warning"],
            seconds=round(time.monotonic() - since, 3),
        )  # fmt: skip

    def _gathered(self) -> HeldBundle:
        holder = Holder()
        options = GatherOptions(slug=self._slug, known=self._known, write=holder)
        gather(self.path, Path(), options, fetch=self._fetch)
        return holder.bundle
