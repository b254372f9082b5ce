"""Schemas elsewhere that a project allows to be fetched, written beside its sources."""

from __future__ import annotations

from hashlib import sha256
from pathlib import Path

from zarbek.core.errors import UnreadableText
from zarbek.core.material.folder import Folder
from zarbek.core.material.scratch import write_below
from zarbek.core.model.finding import Finding
from zarbek.core.sources.interfaces.documents import read_document
from zarbek.core.sources.interfaces.remote_documents import Fetch, fetch_referred
from zarbek.core.sources.languages.reading import SourceFile

_FORMATS = ("openapi", "asyncapi", "json-schema")


def bring_remote(
    folder: Folder, sources: list[SourceFile], allowed: list[str], fetch: Fetch, into: Path
) -> tuple[dict[str, str], list[Finding]]:
    """(address to the file below ``into`` that holds what it serves, findings of those that gave nothing)."""
    documents = []
    for source in sources:
        if source.language in _FORMATS:
            try:
                documents.append(("", read_document(source.file, folder.read(source.file))))
            except UnreadableText:
                continue  # Its reader tells of it.
    written: dict[str, str] = {}
    findings: list[Finding] = []
    for address, found in fetch_referred(documents, fetch, allowed):
        if isinstance(found, str):
            findings.append(Finding("text/unreadable", "warning", address, f"{address} could not be fetched: {found}.",
                                    subject_kind="page", text=address))  # fmt: skip
            continue
        name = sha256(address.encode()).hexdigest()[:16] + (".json" if address.endswith(".json") else ".yaml")
        written[address] = str(write_below(into, name, found))
    return written, findings
