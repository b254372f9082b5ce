"""A link: what one mention led to."""

from __future__ import annotations

import msgspec

from zarbek.core.linking.targets import Outcome


class Link(msgspec.Struct, frozen=True, omit_defaults=True, array_like=True):
    """What one mention led to. Indexes count the mentions of its symbol or page.

    kind: ``symbol``, ``page``, ``asset`` or ``url``. via: the name by which it was found, if
    it is not the path; of one that leads nowhere, what differs from it in case only.
    reason: the rule that the mention breaks, without its family, for
    dangling and stale ones; stale: reasons. wanted: the qualified name looked for. fault: the
    family of rules, ``dangling`` or ``stale``, under which it counts against its release; empty
    where nothing certain is wrong. is_kept: whether readers do not see the target: its project keeps it to itself.
    variants: flags by which editions have the target or not, with ``=LEVEL`` for one that not all readers see.
    """

    outcome: Outcome
    kind: str = ""
    project: str = ""
    version: str = ""
    path: str = ""
    anchor: str = ""
    via: str = ""
    reason: str = ""
    stale: list[str] = []
    wanted: str = ""
    fault: str = ""
    is_kept: bool = False
    variants: list[str] = []


OUTSIDE = Link("outside")
