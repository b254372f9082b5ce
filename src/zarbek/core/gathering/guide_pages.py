"""The guides of a source: its files to pages in their order, and what is wrong with them as a whole."""

from __future__ import annotations

import mimetypes
import re
from collections.abc import Callable, Iterable, Iterator
from itertools import chain
from pathlib import PurePosixPath
from typing import TypeVar

import msgspec

from zarbek.core.errors import TakesTooLong
from zarbek.core.material.folder import Folder, list_named, list_root
from zarbek.core.material.worker_pool import time_limit
from zarbek.core.model.finding import Finding
from zarbek.core.model.page import Page, label_key
from zarbek.core.sources.guides.guide_order import order_pages
from zarbek.core.sources.guides.parts import CodePlace, Parts
from zarbek.core.sources.guides.reader import read_markdown_guide
from zarbek.core.sources.guides.rst_reader import read_rst_guide
from zarbek.core.sources.project_file import Guides
from zarbek.core.sources.source_text import FALLS

T = TypeVar("T")
MAX_GUIDE_BYTES = 4 * 2**20
MAX_GUIDE_S = 30
#: Ends of names of guides to what reads them.
_READERS = {".md": read_markdown_guide, ".markdown": read_markdown_guide, ".rst": read_rst_guide}
#: Files that may name pictures.
_TELLS = re.compile(r"\.(?:md|markdown|rst|txt|inc|html?|css|s[ac]ss|js|ts|py|toml|cfg|ini|json|ya?ml|xml|svg|j2|in)$")
MAX_ASSET_BYTES = 20 * 2**20


def read_guides(
    folder: Folder, files: list[str], settings: Guides, symbols: list[bytes]
) -> tuple[list[Page], list[Finding]]:
    """The guides in the order of their contents. files: of the source. symbols: of the project, of which guides may
    show the code. Findings: guides that cannot be read, what they take that is not there, addresses and labels that
    two have, pictures that none shows, pages that the contents do not reach."""
    base = settings.folder.strip("/") or next(
        (name for name in ("guides", "docs") if any(f.startswith(name + "/") for f in files)), ""
    )
    if not base:
        return [], []
    parts = Parts(lambda name: _part(folder, name), _CodePlaces(symbols).find)
    pages: dict[str, Page] = {}
    findings: list[Finding] = []
    for file in files:
        address = _address_of(file, base)
        if not address:
            continue
        if address in pages:
            findings.append(_double(address, file, pages[address].file))
            continue
        page, wrong = _read(folder, file, address, parts, settings.numbered)
        findings += wrong
        if page is not None:
            pages[address] = page
    ordered, unreached = order_pages(list(pages.values()), settings.contents)
    own = {page.file for page in ordered}
    ordered = [_without_files(page, folder, own) for page in ordered]
    findings += [*unreached, *_doubled_labels(ordered), *_unused_assets(folder, files, base, ordered)]
    return ordered, findings


def _address_of(file: str, base: str) -> str:
    """A guide's path; empty for what is none. What begins with an underscore is a part of others."""
    path = PurePosixPath(file)
    if path.suffix.lower() not in _READERS or not file.startswith(base + "/") or "/_" in file:
        return ""
    return str(path.relative_to(base).with_suffix(""))


def _read(
    folder: Folder, file: str, address: str, parts: Parts, is_numbered: bool
) -> tuple[Page | None, list[Finding]]:
    read = _READERS[PurePosixPath(file).suffix.lower()]
    made, wrong = read_bounded(
        folder, file, address, "guide",
        lambda text: read(text, file=file, path=address, parts=parts, numbered=is_numbered),
    )  # fmt: skip
    page, own = made or (None, [])
    return page, [*own, *wrong]


def read_bounded(
    folder: Folder, file: str, path: str, kind: str, read: Callable[[str], T]
) -> tuple[T | None, list[Finding]]:
    """What is read from a text within bounds, or what is wrong with it. path: of the page. kind: what it is, for
    people. read: may raise ValueError with a sentence for them."""
    try:
        if folder.size(file) > MAX_GUIDE_BYTES:
            raise ValueError(f"it is larger than {MAX_GUIDE_BYTES // 2**20} MiB")
        with time_limit(MAX_GUIDE_S, TakesTooLong(f"reading it takes longer than {MAX_GUIDE_S} s")):
            return read(folder.read(file).decode("utf-8")), []
    except (*FALLS, TakesTooLong) as error:
        message = f"The {kind} was left out: {error}."
        return None, [Finding("text/unreadable", "warning", path, message, subject_kind="page", file=file, line=1)]


def _double(address: str, file: str, other: str) -> Finding:
    return Finding("text/duplicate-page", "warning", address,
                   f"{file} has the address {address}, which is that of {other}; it is not shown.",
                   subject_kind="page", file=file, line=1, text=address)  # fmt: skip


def _doubled_labels(pages: list[Page]) -> Iterator[Finding]:
    """Labels that stand at several places, where somebody refers to them: nobody can say which is meant."""
    used = {label_key(m.name) for page in pages for m in page.mentions if m.origin == "label"}
    first: dict[str, Page] = {}
    for page, label in ((each, label) for each in pages for label in each.labels):
        key = label_key(label.name)
        if key in used and key in first:
            name = label.name.removeprefix("term:")
            message = f"{name} is a label here and in {first[key].file}: references to it lead there."
            yield Finding("dangling/label", "error", page.path, message, subject_kind="page", file=page.file,
                          line=page.line, text=name, target=first[key].path)  # fmt: skip
        first.setdefault(key, page)


def _unused_assets(folder: Folder, files: list[str], base: str, pages: list[Page]) -> Iterator[Finding]:
    """Pictures among the guides that nothing there, and no file beside, names in whatever way."""
    shown = {m.name for page in pages for m in page.mentions if m.origin == "asset"}
    beside = [file for file in files if file.startswith(base + "/")]
    spare = [file for file in beside if file not in shown and _is_picture(file)]
    if not spare:
        return
    words = "\n".join(chain((page.text for page in pages), _texts_around(folder, base)))
    for file in spare:
        name = file.rpartition("/")[2]
        if name not in words:
            yield Finding("text/unused-asset", "note", "", f"No guide shows the picture {file}.",
                          subject_kind="project", file=file, line=1, text=name)  # fmt: skip


def _texts_around(folder: Folder, base: str) -> Iterator[str]:
    """What stands in the folder of the guides, and right in the source's root."""
    for file in (*list_named(folder, _TELLS), *list_root(folder)):
        if (file.startswith(base + "/") or "/" not in file) and _may_name(folder, file):
            yield folder.read_text(file)


def _is_picture(name: str) -> bool:
    return (mimetypes.guess_type(name)[0] or "").startswith("image/")


def _may_name(folder: Folder, file: str) -> bool:
    """Whether a file is a text that may show a picture: styles, templates, parts of guides, settings."""
    return bool(_TELLS.search(file)) and folder.exists(file) and folder.size(file) <= MAX_GUIDE_BYTES


def _part(folder: Folder, name: str) -> str | None:
    """A file that a guide takes a part of; none that is hidden, or leads out of the source."""
    if any(part.startswith(".") for part in name.split("/")):
        return None
    data = folder.read_within(name, MAX_GUIDE_BYTES)
    return data.decode("utf-8", errors="replace") if data is not None else None


class _Placed(msgspec.Struct):
    """Of a symbol, where it stands and what it is called."""

    path: str
    names: list[str] = []
    file: str = ""
    line: int = 0
    end_line: int = 0


class _CodePlaces:
    """Where the elements of a project stand, looked up once somebody asks."""

    def __init__(self, symbols: list[bytes]) -> None:
        self._symbols = symbols
        self._known: dict[str, CodePlace] | None = None

    def find(self, name: str) -> CodePlace | None:
        """By a path or another public name; an overload by its name without parameters, too."""
        if self._known is None:
            self._known = {}
            for symbol in map(msgspec.json.Decoder(_Placed).decode, self._symbols):
                place = CodePlace(symbol.file, symbol.line, symbol.end_line)
                for known in (symbol.path, *symbol.names, symbol.path.partition("(")[0]):
                    self._known.setdefault(known, place)
        return self._known.get(name)


def _without_files(page: Page, folder: Folder, pages: set[str]) -> Page:
    """A page without its links to files of the repository that are no pages: they hold, or lead out of it."""

    def holds(name: str) -> bool:
        return name.startswith("..") or (bool(name) and name not in pages and folder.has(name))

    kept = [m for m in page.mentions if m.origin != "page" or not holds(m.name.partition("#")[0])]
    return page if len(kept) == len(page.mentions) else msgspec.structs.replace(page, mentions=kept)


def shown_assets(folder: Folder, pages: Iterable[Page]) -> set[str]:
    """Pictures that guides show; what is missing or no picture dangles later."""
    names = {m.name for page in pages for m in page.mentions if m.origin == "asset"}
    return {
        name for name in names
        if not name.startswith(("..", "/")) and _is_picture(name) and folder.exists(name)
        and folder.size(name) <= MAX_ASSET_BYTES
    }  # fmt: skip
