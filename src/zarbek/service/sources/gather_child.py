"""The process in which a source is fetched and gathered. It knows no database and no secrets; what
it may take is bounded, and whoever started it ends it when its time is over.

A request comes as JSON on standard input; answers go as lines of JSON to standard output.
"""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx
import msgspec

from zarbek.core.errors import ZarbekError
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.material.git_repository import export_commit, reach
from zarbek.core.material.processes import Bounds, hold_to
from zarbek.core.model.database_catalog import DatabaseCatalog
from zarbek.core.sources.interfaces.remote_documents import MAX_BYTES, Fetch, FetchFailed
from zarbek.service.common.egress import EgressTransport, get_bounded


class Request(msgspec.Struct, kw_only=True):
    """folder: an empty one to work in, or one that holds the material. address: of a repository to fetch
    first, with its ref, and the folder inside of it; empty for what lies in ``folder`` already. archive: a file to be
    gathered in its place. catalog: what the project's database says of itself."""

    folder: str
    out: str
    slug: str
    version: str
    address: str = ""
    ref: str = ""
    inside: str = ""
    archive: str = ""
    is_partial: bool = False
    catalog: DatabaseCatalog | None = None
    local_sources: list[str] = []
    allowed_private: list[str] = []
    git_hosts: list[str] = []
    url_timeout_s: float = 15.0
    time_s: float = 1800.0
    memory_mib: int = 4096
    files_mib: int = 4096


class Answer(msgspec.Struct, omit_defaults=True):
    """One line. done, total: files read so far. commit: the end. refused: why there is no bundle."""

    done: int = 0
    total: int = 0
    is_made: bool = False
    refused: str = ""


def main() -> None:
    """Gather what standard input asks for, within its bounds; the outcome goes to standard output."""
    request = msgspec.json.decode(sys.stdin.buffer.read(), type=Request)
    hold_to(
        Bounds(time_s=request.time_s, memory_bytes=request.memory_mib * 2**20, file_bytes=request.files_mib * 2**20)
    )
    tempfile.tempdir = os.environ["TMPDIR"] = request.folder
    try:
        _work(request)
    except ZarbekError as error:
        _say(Answer(refused=_without_places(str(error), request)))
    except MemoryError:
        _say(Answer(refused=f"Gathering it takes more than {request.memory_mib} MiB of memory"))
    else:
        _say(Answer(is_made=True))


def _without_places(text: str, request: Request) -> str:
    """Where the server keeps a local repository, or works, is nobody's business."""
    if request.address.startswith("/"):
        text = text.replace(request.address, Path(request.address).name)
    if request.archive:
        text = text.replace(Path(request.archive).name, "The archive")
    return text.replace(request.folder, "")


def _work(request: Request) -> None:
    source, commit = Path(request.archive or request.folder), ""
    if request.address:
        source = Path(request.folder, "source")
        source.mkdir()
        remote = reach(request.address, request.local_sources, allowed=request.git_hosts)
        commit = export_commit(remote, request.ref, source)
    options = GatherOptions(
        slug=request.slug,
        version=request.version,
        commit=commit,
        use_cache=False,
        is_partial=request.is_partial,
        is_guarded=True,
        catalog=request.catalog,
    )
    with outward_fetch(request) as fetch:
        gather(
            source / request.inside, Path(request.out), options,
            progress=lambda _stage, done, total: _say(Answer(done, total)), fetch=fetch,
        )  # fmt: skip


@contextmanager
def outward_fetch(request: Request) -> Iterator[Fetch]:
    """Fetches schemas from outside, never from private networks that the settings do not allow."""
    with httpx.Client(transport=EgressTransport(request.allowed_private), timeout=request.url_timeout_s) as http:

        def fetch(address: str) -> bytes:
            try:
                answer = get_bounded(http, address, limit=MAX_BYTES)
            except (httpx.HTTPError, httpx.InvalidURL) as error:
                raise FetchFailed(str(error)) from error
            if answer.status_code != 200:
                raise FetchFailed(f"it answers {answer.status_code}")
            return answer.content

        yield fetch


def _say(answer: Answer) -> None:
    sys.stdout.buffer.write(msgspec.json.encode(answer) + b"\n")
    sys.stdout.buffer.flush()


if __name__ == "__main__":
    main()
