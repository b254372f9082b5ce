"""A source folder to a bundle."""

from __future__ import annotations

import mimetypes
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path, PurePosixPath

import msgspec

from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.gathering.cache import cache_path, load_cache, save_cache
from zarbek.core.gathering.pythonfiles import FileReading, read_files
from zarbek.core.material.bundlefile import write_bundle
from zarbek.core.material.folder import Folder, list_files, open_folder
from zarbek.core.model.bundle import FORMAT_VERSION, Alias, Dependency, Manifest
from zarbek.core.model.finding import Finding
from zarbek.core.model.page import Page
from zarbek.core.sources.guides.contents import order_pages
from zarbek.core.sources.guides.reader import read_guide
from zarbek.core.sources.languages.python.exports import ModuleExports, resolve_aliases
from zarbek.core.sources.languages.python.modules import ModuleFile, locate_modules
from zarbek.core.sources.manifests.pyproject import PackageFacts, read_pyproject
from zarbek.core.sources.projectfile import FILE_NAME, ProjectFile, read_project_file

Progress = Callable[[str, int, int], None]
MAX_GUIDE_BYTES = 4 * 2**20
MAX_ASSET_BYTES = 20 * 2**20


@dataclass(frozen=True, slots=True, kw_only=True)
class GatherOptions:
    """What the caller decides; empty means: as the project file or the manifest says."""

    slug: str = ""
    version: str = ""
    commit: str = ""
    use_cache: bool = True


@dataclass(frozen=True, slots=True)
class Gathered:
    """What a gather made. findings: sorted by place."""

    path: Path
    manifest: Manifest
    findings: tuple[Finding, ...]


def _silent(_stage: str, _done: int, _total: int) -> None:
    return None


def gather(source: Path, out: Path, options: GatherOptions, *, progress: Progress = _silent) -> Gathered:
    """Read a source folder and write its bundle to ``out``.

    Raises SourceNotFound, ProjectFileError. Files that cannot be read become findings.
    """
    folder = open_folder(source)
    project = read_project_file(_text(folder, FILE_NAME))
    facts = read_pyproject(_text(folder, "pyproject.toml"))
    files = list_files(folder, include=project.include, exclude=project.exclude)
    readings = _read_python(folder, files, project, options, progress)
    pages, page_findings = _read_pages(folder, files, project)
    findings = [f for r in readings for f in r.findings] + page_findings + _manifest_findings(facts)
    findings = sorted(map(_stamped, findings), key=Finding.sort_key)
    manifest = _manifest(project, facts, options, readings, pages, folder)
    encode = msgspec.json.Encoder().encode
    aliases = _aliases(readings)
    members = {
        "symbols.jsonl": _sorted_symbols(readings, aliases),
        "aliases.jsonl": [encode(alias) for alias in aliases],
        "scopes.jsonl": [encode(r.scope) for r in sorted(readings, key=lambda r: r.scope.file)],
        "pages.jsonl": [encode(page) for page in pages],
        "findings.jsonl": [encode(finding) for finding in findings],
    }
    manifest = write_bundle(out, manifest, members, _assets(folder, pages))
    return Gathered(out, manifest, tuple(findings))


def _text(folder: Folder, file: str) -> str:
    return folder.read(file).decode("utf-8", errors="replace") if folder.exists(file) else ""


def _read_python(
    folder: Folder, files: list[str], project: ProjectFile, options: GatherOptions, progress: Progress
) -> list[FileReading]:
    if project.languages and "python" not in project.languages:
        return []
    wanted = [p.strip("/") + "/" for p in project.paths if p.strip("/.")]
    python = [f for f in files if not wanted or f.startswith(tuple(wanted))]
    modules = _prefer_sources(locate_modules(python))
    path = cache_path(folder.root)
    cache = load_cache(path) if options.use_cache else {}
    readings, kept = read_files(folder.root, modules, cache, progress=lambda d, t: progress("reading", d, t))
    if options.use_cache and kept.keys() != cache.keys():
        save_cache(path, kept)
    return readings


def _prefer_sources(modules: list[ModuleFile]) -> list[ModuleFile]:
    """One file a module: a source before its stub, for the source has the documentation."""
    chosen: dict[str, ModuleFile] = {}
    for module in sorted(modules, key=lambda m: (m.is_stub, not m.is_package, m.file)):
        chosen.setdefault(module.module, module)
    return sorted(chosen.values(), key=lambda m: m.file)


def _sorted_symbols(readings: list[FileReading], aliases: list[Alias]) -> list[bytes]:
    """Encoded symbols by path, without the variables that are aliases of something."""
    names = {alias.name for alias in aliases}
    rows = [row for r in readings for row in zip(r.paths, r.kinds, r.symbols, strict=True)]
    rows.sort(key=lambda row: row[0])
    return [s for path, kind, s in rows if path not in names or kind not in ("variable", "attribute")]


def _aliases(readings: list[FileReading]) -> list[Alias]:
    paths = {path: kind for r in readings for path, kind in zip(r.paths, r.kinds, strict=True)}
    exports = [
        ModuleExports(
            r.module, r.is_package, tuple(r.defined), tuple(r.aliases), tuple(r.scope.wildcards),
            None if r.exported is None else tuple(r.exported),
        )
        for r in readings
    ]  # fmt: skip
    return resolve_aliases(exports, paths)


def _read_pages(folder: Folder, files: list[str], project: ProjectFile) -> tuple[list[Page], list[Finding]]:
    base = project.guides.folder.strip("/") or next(
        (name for name in ("guides", "docs") if any(f.startswith(name + "/") for f in files)), ""
    )
    pages: list[Page] = []
    findings: list[Finding] = []
    if not base:
        return [], []
    for file in files:
        path = PurePosixPath(file)
        if path.suffix.lower() not in (".md", ".markdown") or not file.startswith(base + "/"):
            continue
        address = str(path.relative_to(base).with_suffix(""))
        try:
            if folder.size(file) > MAX_GUIDE_BYTES:
                raise ValueError(f"it is larger than {MAX_GUIDE_BYTES // 2**20} MiB")
            pages.append(read_guide(folder.read(file).decode("utf-8"), file=file, path=address))
        except ValueError as error:
            findings.append(
                Finding("text/unreadable", "warning", address, f"The guide was left out: {error}.",
                        subject_kind="page", file=file, line=1)
            )  # fmt: skip
    ordered, unreached = order_pages(pages, project.guides.contents)
    return ordered, findings + unreached


def _assets(folder: Folder, pages: list[Page]) -> dict[str, bytes]:
    """Images that guides show, by path; what is missing or no picture dangles later."""
    assets: dict[str, bytes] = {}
    for page in pages:
        for mention in page.mentions:
            name = mention.name
            kind = mimetypes.guess_type(name)[0] or ""
            if mention.origin != "asset" or name.startswith(("..", "/")) or not kind.startswith("image/"):
                continue
            if folder.exists(name) and folder.size(name) <= MAX_ASSET_BYTES:
                assets[name] = folder.read(name)
    return assets


def _manifest_findings(facts: PackageFacts) -> list[Finding]:
    return [
        Finding("text/unreadable", "warning", "", f"pyproject.toml: {line} could not be read.",
                subject_kind="page", file="pyproject.toml", line=1, text=line)
        for line in facts.unreadable
    ]  # fmt: skip


def _stamped(finding: Finding) -> Finding:
    if finding.fingerprint:
        return finding
    return msgspec.structs.replace(finding, fingerprint=fingerprint(finding.rule, finding.subject, finding.text))


def _manifest(
    project: ProjectFile, facts: PackageFacts, options: GatherOptions, readings: list[FileReading],
    pages: list[Page], folder: Folder,
) -> Manifest:  # fmt: skip
    slug = options.slug or project.slug or facts.name or folder.root.name.lower()
    roots = sorted({r.module.partition(".")[0] for r in readings})
    declared = [Dependency(purl, range) for purl, range in sorted(project.dependencies.items())]
    return Manifest(
        format=FORMAT_VERSION, project=slug, version=options.version or project.version or facts.version,
        title=project.title or slug, summary=project.summary or facts.summary, owner=project.owner,
        purl=facts.purl, commit=options.commit, repository=project.repository or facts.repository,
        languages=["python"] if readings else [], namespaces=project.namespaces or roots,
        dependencies=declared or facts.dependencies, prefixes=project.prefixes, outside=project.outside,
        options={"visibility": project.visibility, "special_members": str(project.special_members).lower()},
    )  # fmt: skip
