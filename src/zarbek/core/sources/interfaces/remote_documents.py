"""Descriptions and schemas that others refer to and that lie elsewhere."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from zarbek.core.errors import UnreadableText
from zarbek.core.model.web_address import join_address, split_address
from zarbek.core.sources.interfaces.document_set import iter_keyword
from zarbek.core.sources.interfaces.documents import Document, read_document

#: Address to the bytes behind it. Raises FetchFailed.
Fetch = Callable[[str], bytes]
MAX_DOCUMENTS = 60
MAX_BYTES = 32 * 2**20


class FetchFailed(Exception):
    """An address that gave nothing; ``str()`` says why."""


def references_of(document: Document) -> list[str]:
    """Addresses and files that a document refers to, without fragments, in their order, each once."""
    found = (value.partition("#")[0] for _, value in iter_keyword(document.value, ("$ref",), ()))
    return list(dict.fromkeys(value for value in found if value))


def is_allowed(address: str, allowed: Iterable[str]) -> bool:
    """Whether an address lies below one of those that are allowed: the same scheme, host and folder."""
    place = split_address(address)
    if place.scheme not in ("http", "https") or place.username or ".." in place.path.split("/"):
        return False
    for entry in allowed:
        base = split_address(entry)
        folder = base.path.rpartition("/")[0] + "/"
        if (base.scheme, base.netloc) == (place.scheme, place.netloc) and (place.path or "/").startswith(folder):
            return True
    return False


def fetch_referred(documents: Iterable[tuple[str, Document]], fetch: Fetch, allowed: list[str]) -> Iterator[
    tuple[str, bytes | str]
]:  # fmt: skip
    """(address, its bytes or why there are none) of all that documents refer to by address, and of what
    that refers to in turn.

    documents: (base address or empty, document). Addresses that are not allowed are not asked for.
    """
    waiting = [(base, ref) for base, document in documents for ref in references_of(document)]
    seen: set[str] = {base for base, _ in waiting if base}
    size = 0
    while waiting:
        base, reference = waiting.pop(0)
        address = join_address(base, reference) if base else reference
        if address in seen or not is_allowed(address, allowed):
            continue
        seen.add(address)
        if len(seen) > MAX_DOCUMENTS or size > MAX_BYTES:
            yield address, f"more than {MAX_DOCUMENTS} documents or {MAX_BYTES // 2**20} MiB are referred to"
            return
        try:
            data = fetch(address)
            document = read_document(address, data)
        except (FetchFailed, UnreadableText) as error:
            yield address, str(error)
            continue
        size += len(data)
        yield address, data
        waiting += [(address, ref) for ref in references_of(document)]
