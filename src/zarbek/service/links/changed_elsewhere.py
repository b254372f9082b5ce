"""Elements of releases whose texts are elsewhere, as far as the rules of findings ask for them: a preview brings them.

In a portal there are none.
"""

from __future__ import annotations

from zarbek.service.catalog.elsewhere import releases_elsewhere

_asked: set[tuple[int, str]] = set()
_brought: dict[tuple[int, str], int] = {}


def find_content_elsewhere(release_id: int, path: str) -> int:
    """The id of the content of an element of a release by its path; 0 where it is not here: then it is asked for, if
    the release's texts are elsewhere."""
    if release_id not in releases_elsewhere():
        return 0
    if (release_id, path) not in _brought:
        _asked.add((release_id, path))
    return _brought.get((release_id, path), 0)


def list_asked() -> dict[int, list[str]]:
    """Release to the paths of elements that were asked for and are not here."""
    found: dict[int, list[str]] = {}
    for release_id, path in sorted(_asked):
        found.setdefault(release_id, []).append(path)
    return found


def note_brought(release_id: int, path: str, content: int) -> None:
    """content: its id; 0 for what is not to be had."""
    _asked.discard((release_id, path))
    _brought[release_id, path] = content
