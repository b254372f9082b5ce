"""What a run has to do with search: it says that its release is to be found, and waits for this machine's index."""

from __future__ import annotations

import time

from zarbek.service.catalog.actions.findable import set_findable
from zarbek.service.publishing.pipeline import Publish, register_stage
from zarbek.service.search.engine import IndexUnavailable, get_index

#: For so long a run waits; search finds its release later then.
_PATIENCE_S = 300.0
_LOOK_EVERY_S = 0.05


def register() -> None:
    """Register the stages that have a release found."""
    register_stage(25, "store", begin)
    register_stage(40, "index", wait)


def begin(publish: Publish) -> None:
    """Have every machine index the release while this one links it. Nobody finds it before it is live."""
    if not publish.run.is_dry:
        with publish.progress.fenced():
            set_findable([publish.stored.pk], is_findable=True)


def wait(publish: Publish) -> None:
    """Where this machine has an index, the release is in it before it goes live. An index that is lost holds no release
    back."""
    if publish.run.is_dry:
        return
    until = time.monotonic() + _PATIENCE_S
    while (is_there := _has(publish.stored.pk)) is False:
        if time.monotonic() > until:
            publish.progress.log("The search index is behind; the release is found there later.", "warning")
            return
        publish.progress.check()
        time.sleep(_LOOK_EVERY_S)
    if is_there is None:
        publish.progress.log("The search index is being built; the release is found there later.", "warning")


def _has(release_id: int) -> bool | None:
    """Whether this machine's index has a release; None where it has no index now, or none at all."""
    if get_index().position() is None:
        return None
    try:
        return bool(get_index().release_ids([release_id]))
    except IndexUnavailable:
        return None
