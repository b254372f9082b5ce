"""Links in pages of trees of HTML, as browsers follow them. Source: HTML Living Standard, section 7.4.6.4."""

from __future__ import annotations

from urllib.parse import unquote

from zarbek.core.linking.index import ReleaseIndex
from zarbek.core.linking.link import OUTSIDE, Link
from zarbek.core.model.mention import BESIDE, Mention


def tree_link(own: ReleaseIndex, mention: Mention) -> Link:
    """Where a mention of a page or file of its own release leads. Case counts, in files and in places; what
    differs in nothing else is where a link that leads nowhere was meant to lead: its ``via``."""
    file, _, fragment = mention.name.partition("#")
    target = own.pages_by_file.get(file)
    if target is None:
        if file in own.assets:
            return Link("linked", "asset", own.project, own.version, file)
        if mention.role == BESIDE:
            return OUTSIDE
        if file.startswith("../"):
            return Link("outside", reason="leaves-tree", wanted=mention.name)
        reason = "asset" if mention.origin == "asset" else "page"
        return Link("dangling", project=own.project, via=own.file_like(file), reason=reason, wanted=mention.name)
    if not fragment:
        return Link("linked", "page", own.project, own.version, target.path)
    places = own.places_of(target.path)
    decoded = unquote(fragment)
    for place in (fragment, decoded):
        if place in places:
            return Link("linked", "page", own.project, own.version, target.path, place)
    if decoded.lower() == "top":
        return Link("linked", "page", own.project, own.version, target.path)
    near = own.place_like(target.path, decoded)
    via = f"{target.path}#{near}" if near else ""
    return Link("dangling", project=own.project, version=own.version, path=target.path, via=via, reason="anchor",
                wanted=f"{target.path}#{fragment}")  # fmt: skip
