"""What the style sheets of a tree load: files that the bundle holds too, and what is missing."""

from __future__ import annotations

from collections.abc import Collection
from typing import NamedTuple

from zarbek.core.material.folder import Folder
from zarbek.core.model.finding import Finding
from zarbek.core.model.limits import MAX_TITLE
from zarbek.core.sources.htmltrees.addresses import Addresses, Site
from zarbek.core.sources.htmltrees.styles import loaded_by
from zarbek.core.sources.source_text import FALLS

#: A longer sheet is kept, and not read.
MAX_SHEET_BYTES = 2**20


class Styled(NamedTuple):
    """files: below the source's root. findings: of what is not there."""

    files: set[str]
    findings: list[Finding]


def follow_styles(folder: Folder, site: Site, files: Collection[str], kept: Collection[str]) -> Styled:
    """What style sheets load, and what those load that they load. files: those to begin with; others among them are no
    sheets. kept: files that the bundle may hold."""
    found = Styled(set(), [])
    waiting = sorted(file for file in files if _is_sheet(file))
    seen = set(waiting)
    while waiting:
        sheet = waiting.pop()
        addresses = Addresses(sheet, "", site)
        for address, line in _read(folder, sheet, found.findings):
            kind, file, _ = addresses.read(address)
            if kind != "file":
                continue
            if file in kept:
                found.files.add(file)
            elif not folder.has(file):
                found.findings.append(_missing(sheet, file, line))
            if file in kept and _is_sheet(file) and file not in seen:
                seen.add(file)
                waiting.append(file)
    return found


def _is_sheet(file: str) -> bool:
    return file.lower().endswith(".css")


def _read(folder: Folder, sheet: str, findings: list[Finding]) -> list[tuple[str, int]]:
    if folder.size(sheet) > MAX_SHEET_BYTES:
        return []
    try:
        return list(loaded_by(folder.read(sheet).decode(errors="replace")))
    except FALLS as error:
        told = f"The style sheet cannot be read: {type(error).__name__}."
        findings.append(Finding("text/unreadable", "warning", sheet, told, subject_kind="page", file=sheet, line=1))
        return []


def _missing(sheet: str, file: str, line: int) -> Finding:
    return Finding("dangling/asset", "warning", sheet, f"There is no file {file[:MAX_TITLE]}.", subject_kind="page",
                   file=sheet, line=line, text=file[:MAX_TITLE])  # fmt: skip
