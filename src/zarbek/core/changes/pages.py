"""Pages of two releases side by side, by what they say and by their places."""

from __future__ import annotations

from collections.abc import Iterable

from zarbek.core.changes.change import PageChange
from zarbek.core.linking.index import PageEntry

#: So many places of a page are named.
MAX_PLACES = 100


def compare_pages(old: Iterable[PageEntry], new: Iterable[PageEntry]) -> list[PageChange]:
    """What readers of the newer release see differently, by page: gone, moved, new, with other places, with other
    words. A page moved where another one of the newer release, and no other, says the same, or where it sends its
    readers elsewhere. Cost: linear in both releases' pages and in the places of those that differ."""
    before, after = {p.path: p for p in old}, {p.path: p for p in new}
    moves = _moves(before, after)
    came = {now.path for now, _ in moves.values()}
    changes = [_moved(before[was], now, why) for was, (now, why) in moves.items()]
    for path, page in before.items():
        if path not in after and path not in moves:
            changes.append(PageChange("removed", path, page.title))
    for path, page in after.items():
        if path not in before and path not in came:
            changes.append(PageChange("added", path, page.title))
        elif path in before and path not in moves and (change := _kept(before[path], page)) is not None:
            changes.append(change)
    return sorted(changes, key=PageChange.sort_key)


def _moves(before: dict[str, PageEntry], after: dict[str, PageEntry]) -> dict[str, tuple[PageEntry, str]]:
    """Old path to the page that it became, and how that is known."""
    removed = [page for path, page in before.items() if path not in after]
    by_words = _once(page for path, page in after.items() if path not in before)
    known = _once(before.values())
    moves = {
        p.path: (by_words[p.said], "it says the same") for p in removed if p.said in by_words and p.said in known
    }  # fmt: skip
    for path, page in after.items():
        target = after.get(page.moved_to)
        was = before.get(path)
        if target is not None and target.path != path and was is not None and was.moved_to != page.moved_to:
            moves[path] = (target, "its old page leads there")
    return moves


def _once(pages: Iterable[PageEntry]) -> dict[str, PageEntry]:
    """What only one page says, to that page."""
    found: dict[str, PageEntry | None] = {}
    for page in pages:
        found[page.said] = None if page.said in found else page
    return {said: page for said, page in found.items() if said and page is not None}


def _moved(was: PageEntry, now: PageEntry, why: str) -> PageChange:
    gone, come = _places(was, now)
    return PageChange("moved", now.path, now.title, was.path, why, gone, come)


def _kept(was: PageEntry, now: PageEntry) -> PageChange | None:
    gone, come = _places(was, now)
    differs = bool(was.said and now.said) and was.said != now.said  # What was kept long ago says nothing of it.
    if not (differs or gone or come):
        return None
    return PageChange("text" if differs else "places", now.path, now.title, "", "", gone, come)


def _places(was: PageEntry, now: PageEntry) -> tuple[list[str], list[str]]:
    """Places that went, and that came."""
    old, new = dict.fromkeys(was.anchors), dict.fromkeys(now.anchors)
    return [a for a in old if a not in new][:MAX_PLACES], [a for a in new if a not in old][:MAX_PLACES]
