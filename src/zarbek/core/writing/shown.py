"""How a link appears in what readers see."""

from __future__ import annotations

from dataclasses import dataclass
from html import escape


@dataclass(frozen=True, slots=True)
class Shown:
    """How a link appears. href: empty for none. state: empty, ``dangling`` or ``stale``.

    finding: fingerprint of the finding about it, by which the margin note finds its line. called: what its target is
    called, for a link without words of its own.
    """

    href: str = ""
    title: str = ""
    state: str = ""
    finding: str = ""
    called: str = ""


def tags_of(shown: Shown | None) -> tuple[str, str]:
    """What stands before and behind what is shown so."""
    if shown is None:
        return "", ""
    classes = f' class="mention {shown.state}"' if shown.state else ""
    finding = f' data-finding="{escape(shown.finding)}"' if shown.finding else ""
    title = f' title="{escape(shown.title)}"' if shown.title else ""
    if shown.href:
        return f'<a href="{escape(shown.href)}"{classes}{title}{finding}>', "</a>"
    return f"<span{classes}{title}{finding}>", "</span>"
