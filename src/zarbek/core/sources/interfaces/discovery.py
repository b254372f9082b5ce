"""Which files of a source describe interfaces, in which format, and what each of them is called."""

from __future__ import annotations

import posixpath
import re
from collections import Counter
from collections.abc import Callable, Iterable
from hashlib import sha256
from pathlib import PurePosixPath

from zarbek.core.sources.interfaces.document_set import folder_name, module_name, plain_name
from zarbek.core.sources.languages.reading import SourceFile

#: File of the source to its bytes, or to its first ones.
Load = Callable[[str], bytes]
INTERFACES = ("openapi", "asyncapi", "json-schema", "graphql", "protobuf", "xsd", "wsdl")
_DATA = (".json", ".yaml", ".yml")
_BY_SUFFIX = {".graphql": "graphql", ".graphqls": "graphql", ".gql": "graphql", ".proto": "protobuf", ".xsd": "xsd",
              ".wsdl": "wsdl"}  # fmt: skip
_HEAD_BYTES = 4096
_ROOT_KEY = re.compile(rb"""(?m)(?:^|[{,]\s*)["']?(openapi|swagger|asyncapi|overlay)["']?\s*:\s*["']?(\d+(?:\.\d+)*)""")
_JSON_SCHEMA = re.compile(rb"""(?m)(?:^|[{,]\s*)["']?\$schema["']?\s*:\s*["']?https?://json-schema\.org/""")
_TITLE = re.compile(rb"""(?m)^[ \t]*["']?title["']?\s*:\s*["']?([^"'\n,]+)""")
_SAMPLES = "samples"
_STEM_NUMBER = re.compile(r"[-_.]?\d+$")
#: Formats whose files refer to one another.
_TOGETHER = ("openapi", "asyncapi", "json-schema")
_NOT_DATA = frozenset(("package.json", "package-lock.json", "tsconfig.json", "composer.json", "jsconfig.json"))


def locate_interfaces(
    files: list[str],
    load: Load,
    languages: Iterable[str],
    *,
    remote: dict[str, str] | None = None,
    inside: Callable[[str], bool] = lambda file: True,
) -> list[SourceFile]:
    """The descriptions of a source, sorted by file; files that belong together are read together.

    files: all of the source. languages: those wanted, empty for all. inside: whether a file lies in the
    project's own folders. remote: URI to the file that holds it.
    """
    wanted = set(languages)
    data = list(filter(_is_data, files))
    heads = {f: load(f)[:_HEAD_BYTES] for f in data}
    kinds = _kinds(files, heads)
    beside = _digest([*data, *_of_kind(kinds, "xsd", "wsdl", "protobuf")], load, kinds)
    titled = {f: _module(f, heads[f]) for f in _of_kind(kinds, "openapi", "asyncapi")}
    options = {
        "beside": [beside], "entries": [f"{file}={module}" for file, module in titled.items()],
        "roots": _of_kind(kinds, "json-schema"), "overlays": _of_kind(kinds, "overlay"),
        "remote": [f"{uri}={file}" for uri, file in sorted((remote or {}).items())],
    }  # fmt: skip
    crowded = Counter((PurePosixPath(f).parent, k) for f, k in kinds.items())
    found = [
        SourceFile(file, kind, titled.get(file) or _place(file, kind, crowded),
                   options=options if kind in _TOGETHER else {})
        for file, kind in sorted(kinds.items()) if inside(file) and kind not in ("overlay", "protobuf")
    ]  # fmt: skip
    if protos := list(filter(inside, _of_kind(kinds, "protobuf"))):
        found.append(SourceFile(protos[0], "protobuf", options={"files": protos, "beside": [beside]}))
    found += _samples(list(filter(inside, files)), kinds, load)
    return sorted((s for s in found if not wanted or s.language in wanted), key=lambda s: s.file)


def _is_data(file: str) -> bool:
    return posixpath.splitext(file)[1].lower() in _DATA and file.rpartition("/")[2] not in _NOT_DATA


def _kinds(files: list[str], heads: dict[str, bytes]) -> dict[str, str]:
    """File to its format: data by how it begins, others by the ending of their names."""
    kinds = {f: kind for f, head in heads.items() if (kind := _kind_of(head, f))}
    named = ((f, _BY_SUFFIX.get(posixpath.splitext(f)[1].lower(), "")) for f in files)
    return kinds | {f: kind for f, kind in named if kind}


def _of_kind(kinds: dict[str, str], *wanted: str) -> list[str]:
    return sorted(f for f, kind in kinds.items() if kind in wanted)


def _kind_of(head: bytes, file: str) -> str:
    match = _ROOT_KEY.search(head)
    if match:
        return {b"openapi": "openapi", b"swagger": "openapi", b"asyncapi": "asyncapi", b"overlay": "overlay"}[match[1]]
    named = file.endswith((".schema.json", ".schema.yaml", ".schema.yml"))
    return "json-schema" if named or _JSON_SCHEMA.search(head) else ""


def _module(file: str, head: bytes) -> str:
    title = _TITLE.search(head)
    return module_name(file, title[1].decode(errors="replace").strip() if title else "")


def _place(file: str, kind: str, crowded: Counter[tuple[PurePosixPath, str]]) -> str:
    """The module of a file without a title of its own: its folder's, where several of its kind are.

    crowded: how many files of a kind a folder has.
    """
    path = PurePosixPath(file)
    is_one = kind != "json-schema" and crowded[path.parent, kind] == 1
    return module_name(file, "") if is_one else folder_name(path)


def _digest(files: list[str], load: Load, kinds: dict[str, str]) -> str:
    """Of all that descriptions may refer to, so that a reading is made anew when any of it differs."""
    if not kinds:
        return ""
    made = sha256()
    for file in sorted(set(files)):
        made.update(file.encode() + b"\0" + sha256(load(file)).digest())
    return made.hexdigest()[:16]


def _samples(files: list[str], kinds: dict[str, str], load: Load) -> list[SourceFile]:
    """Sample documents in folders of that name: of one thing where their names differ only in a number."""
    groups: dict[tuple[str, str], list[str]] = {}
    for file in files:
        suffix = posixpath.splitext(file)[1].lower()
        if suffix not in (".json", ".xml") or file in kinds:
            continue
        path = PurePosixPath(file)
        if _SAMPLES in path.parts[:-1]:
            stem = _STEM_NUMBER.sub("", path.stem) or path.stem
            name = stem if suffix == ".json" else ""
            groups.setdefault((f"{path.parent}{suffix}", name), []).append(file)
    schemas = sorted(f for f, k in kinds.items() if k == "xsd")
    return [
        SourceFile(
            own[0],
            "xml-samples" if own[0].endswith(".xml") else "json-samples",
            folder_name(PurePosixPath(own[0]).parent, _SAMPLES),
            options={
                "files": own,
                "name": [plain_name(name)],
                "schemas": schemas,
                "beside": [sha256(b"".join(sha256(load(f)).digest() for f in [*own, *schemas])).hexdigest()[:16]],
            },
        )
        for (_, name), own in sorted(groups.items())
    ]
