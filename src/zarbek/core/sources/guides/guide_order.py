"""The order of guides: from the project file, or from the folder."""

from __future__ import annotations

from typing import Any

import msgspec

from zarbek.core.model.finding import Finding
from zarbek.core.model.page import Page

#: How deep lists of the contents stand in one another.
MAX_DEPTH = 8
Contents = list[str | list[Any]]


def wrong_contents(contents: Contents, depth: int = 0) -> str:
    """What a table of contents may not be, for people; empty where it may."""
    if depth > MAX_DEPTH:
        return f"lists stand in one another more than {MAX_DEPTH} deep"
    for entry in contents:
        told = wrong_contents(entry, depth + 1) if isinstance(entry, list) else ""
        if told or not isinstance(entry, str | list):
            return told or f"{entry!r} is neither the path of a page nor a list of such"
    return ""


def order_pages(pages: list[Page], contents: Contents | None) -> tuple[list[Page], list[Finding]]:
    """Pages in the order of the table of contents, those it does not reach last.

    contents: page paths; None takes the folder's order, with ``index`` first. Findings:
    a page that no table of contents reaches, an entry without a page.
    """
    if contents is None:
        ordered = sorted(pages, key=lambda p: (p.path.rpartition("/")[0], not _is_index(p.path), p.path))
        shown = [page for page in ordered if "contents" not in page.hidden]
        away = [page for page in ordered if "contents" in page.hidden]
        return [*(_placed(page, i, page.path.count("/")) for i, page in enumerate(shown)), *away], []
    by_path = {page.path: page for page in pages}
    placed: list[Page] = []
    findings: list[Finding] = []
    for path, depth in _flatten(contents, 0):
        page = by_path.pop(path, None)
        if page is None:
            findings.append(
                Finding("dangling/page", "error", path, f"The table of contents names {path}, which is no page.",
                        subject_kind="page", file="zarbek.toml", text=path, target=path)
            )  # fmt: skip
        else:
            placed.append(_placed(page, len(placed), depth))
    for page in sorted(by_path.values(), key=lambda p: p.path):
        placed.append(page)
        if "contents" in page.hidden:
            continue
        findings.append(
            Finding("text/unreached-page", "warning", page.path,
                    f"No table of contents reaches the guide {page.title!r}.",
                    subject_kind="page", file=page.file, line=1, text=page.title)
        )  # fmt: skip
    return placed, findings


def _flatten(contents: Contents, depth: int) -> list[tuple[str, int]]:
    found: list[tuple[str, int]] = []
    for entry in contents:
        if isinstance(entry, list):
            found += _flatten(entry, depth + 1)
        else:
            found.append((entry, depth))
    return found


def _placed(page: Page, order: int, depth: int) -> Page:
    return msgspec.structs.replace(page, order=order, depth=depth)


def _is_index(path: str) -> bool:
    return path.rpartition("/")[2] in ("index", "README", "readme")
