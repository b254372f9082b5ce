"""A source folder to a bundle."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass
from hashlib import sha256
from itertools import chain
from operator import itemgetter
from pathlib import Path
from typing import IO

import msgspec

from zarbek.core.errors import SourceRefused
from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.gathering.example_tests import find_test_sources, join_examples
from zarbek.core.gathering.file_reading import FileReading, KnownReadings, is_kept, read_files
from zarbek.core.gathering.file_selection import compiled_modules, list_source_files
from zarbek.core.gathering.flags import FlagRules, flag_supplements, flagged_pages, flagged_symbols
from zarbek.core.gathering.guide_pages import read_guides, shown_assets
from zarbek.core.gathering.included_docs import with_included
from zarbek.core.gathering.known_source import KnownSource
from zarbek.core.gathering.redeclarations import without_known_elsewhere
from zarbek.core.gathering.remote_schemas import bring_remote
from zarbek.core.gathering.source_texts import source_lines
from zarbek.core.gathering.supplement_pages import described_by, read_supplements
from zarbek.core.gathering.symbol_merging import MergedSymbols, merge_symbols, with_modules
from zarbek.core.gathering.tree_pages import TreePages, find_trees, read_trees
from zarbek.core.gathering.tree_symbols import join_symbols, roots_of
from zarbek.core.gathering.undocumented import list_undocumented
from zarbek.core.gathering.unknown_parameters import list_decided
from zarbek.core.material.archives import unpacked
from zarbek.core.material.bundle_file import MAX_LINE_BYTES, write_bundle
from zarbek.core.material.folder import Folder, list_root, open_folder
from zarbek.core.material.reading_cache import cache_path, load_cache, save_cache
from zarbek.core.material.scratch import open_spool, scratch_folder
from zarbek.core.model.bundle import FORMAT_VERSION, Dependency, Manifest, Scope
from zarbek.core.model.database_catalog import DatabaseCatalog
from zarbek.core.model.finding import Finding
from zarbek.core.model.limits import MAX_LABEL, MAX_NAMESPACE, MAX_PATH
from zarbek.core.model.naming import key_of
from zarbek.core.model.page import Page
from zarbek.core.sources.datamodels.discovery import locate_model
from zarbek.core.sources.htmltrees.discovery import Tree
from zarbek.core.sources.interfaces.discovery import locate_interfaces
from zarbek.core.sources.interfaces.remote_documents import Fetch
from zarbek.core.sources.languages.discovery import locate_sources
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.manifests.facts import PackageFacts, bounded_facts
from zarbek.core.sources.manifests.locks import LOCK_FILES
from zarbek.core.sources.manifests.reading import BUILD_FILES, ROOT_MANIFESTS, read_manifests
from zarbek.core.sources.manifests.sboms import is_sbom
from zarbek.core.sources.project_file import FILE_NAME, ProjectFile, read_project_file

Progress = Callable[[str, int, int], None]
_FEW_NAMES = 200
#: Languages in which a package or namespace is owned by itself.
_WHOLE = ("java", "kotlin", "csharp")
#: Beginnings of the names that come with a language.
_PLATFORM = ("System", "Microsoft", "java", "javax", "jdk", "sun", "kotlin", "android")
#: Rules about texts that are for readers of a reference.
_OF_READERS = frozenset({"text/wrong-comment"})


BundleWriter = Callable[
    [Path, Manifest, Mapping[str, Iterable[bytes]], Collection[str], Callable[[str], bytes]], Manifest
]


@dataclass(frozen=True, slots=True, kw_only=True)
class GatherOptions:
    """What the caller decides; empty means: as the project file or the manifest says."""

    slug: str = ""
    version: str = ""
    commit: str = ""
    use_cache: bool = True
    #: Whether the source is a part of its project, so that the rest is to be looked for in its newest release.
    is_partial: bool = False
    #: Whether nobody vouches for the source: every file is read in a process that can be ended.
    is_guarded: bool = False
    #: Takes what a bundle holds, and gives the manifest as it is then: ``write_bundle`` or something like it.
    write: BundleWriter = write_bundle
    #: What was read of the source before, where one process gathers it again and again.
    known: KnownSource | None = None
    #: What the database of its data model says of itself.
    catalog: DatabaseCatalog | None = None


@dataclass(frozen=True, slots=True)
class Gathered:
    """What a gather made. findings: sorted by place."""

    path: Path
    manifest: Manifest
    findings: tuple[Finding, ...]


def _silent(_stage: str, _done: int, _total: int) -> None:
    return None


def gather(
    source: Path, out: Path, options: GatherOptions, *, progress: Progress = _silent, fetch: Fetch | None = None
) -> Gathered:
    """Read a source folder, or an archive of one, and write its bundle to ``out``.

    fetch: brings schemas from the addresses that the project file allows; without it none is asked for.
    Raises SourceNotFound, SourceRefused, ProjectFileError. Files that cannot be read become findings.
    """
    if source.is_file():
        with unpacked(source) as inside:
            return gather(inside, out, options, progress=progress, fetch=fetch)
    if max(len(options.slug), len(options.version)) > MAX_LABEL:
        raise SourceRefused(f"A project's name and version may have {MAX_LABEL} characters at most.")
    folder, known = open_folder(source), options.known or KnownSource()
    project = read_project_file(folder.read_text(FILE_NAME))
    files, unfit = list_source_files(folder, project)
    facts = bounded_facts(read_manifests(_with_manifests(folder, files), folder.read_text))
    sources = _locate(folder, files, project, options)
    trees = find_trees(folder, project, sources)
    files = [file for file in files if not _is_in(file, trees)]
    sources = _outside(trees, sources)
    tests = _outside(trees, find_test_sources(folder, project, files))
    with scratch_folder("remote") as beside:
        remote_findings: list[Finding] = []
        if fetch is not None and project.remote:
            remote, remote_findings = bring_remote(folder, sources, project.remote, fetch, beside)
            sources = [_with_remote(s, remote, folder) for s in sources]
        readings, test_readings = _read_sources(folder, sources, tests, options, known.readings, progress)
    settled = merge_symbols(readings, known.names)
    pages, page_findings = _read_pages(folder, files, project, settled.symbols)
    slug = options.slug or project.slug or facts.name or folder.root.name.lower()
    findings = _of_readings(readings, settled, described_by(pages, slug))
    findings += page_findings + remote_findings + _manifest_findings(facts)
    test_readings = with_modules(test_readings, [*readings, *test_readings])
    examples = join_examples(folder, project.examples, test_readings, (scope.file for scope in settled.scopes))
    findings += examples.findings
    flags = FlagRules(project.flags)
    flag_supplements(flags, pages, slug)
    flagged = flagged_symbols([*settled.symbols, *examples.symbols], flags)
    symbols, too_long = _fitting_symbols(flagged)
    pages = flagged_pages(pages, flags, slug, flagged)
    with open_spool() as spool:
        read = read_trees(folder, trees, spool, lambda d, t: progress("pages", d, t), is_guarded=options.is_guarded,
                          first_order=len(pages))  # fmt: skip
        findings += [*read.findings, *unfit, *too_long]
        findings = sorted(map(_stamped, filter(is_kept, findings)), key=Finding.sort_key)
        manifest = _manifest(project, facts, options, readings, sources, folder)
        manifest = _with_trees(manifest, project, read)
        shown_sources = _shown_sources(sources, tests, examples.symbols)
        members = {
            **_names(settled, files, examples.scopes), "symbols.jsonl": join_symbols(symbols, read.symbols),
            "pages.jsonl": chain(map(_ENCODE, pages), _lines(spool)), "findings.jsonl": map(_ENCODE, findings),
            "sources.jsonl": source_lines(folder, shown_sources, symbols, project.source, known.texts),
            "verdicts.jsonl": map(_ENCODE, examples.verdicts),
        }  # fmt: skip
        assets = shown_assets(folder, pages) | read.files
        manifest = options.write(out, manifest, members, assets, folder.read)
    return Gathered(out, manifest, tuple(findings))


def _read_pages(
    folder: Folder, files: list[str], project: ProjectFile, symbols: list[bytes]
) -> tuple[list[Page], list[Finding]]:
    """The guides in their order, then the supplements."""
    base = project.supplements.folder.strip("/") + "/"
    guides = [file for file in files if not file.startswith(base)]
    pages, findings = read_guides(folder, guides, project.guides, symbols)
    supplements, wrong = read_supplements(folder, files, project.supplements)
    return [*pages, *supplements], [*findings, *wrong]


def _shown_sources(sources: list[SourceFile], tests: list[SourceFile], examples: list[bytes]) -> list[SourceFile]:
    """Files that readers may look into: of tests those that have examples."""
    decode = msgspec.json.Decoder(_Names).decode
    shown = {decode(line).file for line in examples}
    return [*sources, *(test for test in tests if test.file in shown)]


def _of_readings(
    readings: list[FileReading], settled: MergedSymbols, is_told: Callable[[str], bool]
) -> list[Finding]:  # fmt: skip
    """What is wrong in the texts of the sources. is_told: whether something besides says what an element is."""
    own = list(without_known_elsewhere((f for r in readings for f in r.findings), readings))
    own += list_decided(readings, settled.targets)
    return [*_public_findings(own, settled), *list_undocumented(readings, settled.names, settled.hidden, is_told)]


_ENCODE = msgspec.json.Encoder().encode


def _names(settled: MergedSymbols, files: list[str], others: list[Scope]) -> dict[str, Iterable[bytes]]:
    """What symbols are called besides, and what names mean in each file."""
    aliases = (a for a in settled.aliases if max(len(a.name), len(a.path)) <= MAX_PATH)
    scopes = (s for s in [*settled.scopes, *compiled_modules(files), *others] if len(s.module) <= MAX_PATH)
    return {"aliases.jsonl": map(_ENCODE, aliases), "scopes.jsonl": map(_ENCODE, scopes)}


def _public_findings(findings: Iterable[Finding], settled: MergedSymbols) -> Iterator[Finding]:
    """Findings of a file under the names by which its symbols are known; texts that nobody sees have none."""
    for finding in findings:
        if finding.rule in _OF_READERS and finding.subject in settled.hidden:
            continue
        name = settled.names.get(finding.subject)
        yield msgspec.structs.replace(finding, subject=name) if name else finding


class _Names(msgspec.Struct):
    """Of a symbol, what must be short enough to be found by."""

    path: str
    name: str
    module: str
    parent: str = ""
    file: str = ""
    line: int = 0


def _fitting_symbols(lines: list[bytes]) -> tuple[list[bytes], list[Finding]]:
    """Those whose names the portal can keep, and what is said of the others."""
    decode = msgspec.json.Decoder(_Names).decode
    kept: list[bytes] = []
    findings: list[Finding] = []
    for line in lines:
        why = _unfit(line, decode)
        if why is not None:
            findings.append(why)
        else:
            kept.append(line)
    return kept, findings


def _unfit(line: bytes, decode: Callable[[bytes], _Names]) -> Finding | None:
    """Why an element cannot be kept."""
    if len(line) <= MAX_PATH:
        return None
    names = decode(line)
    if max(map(len, (names.path, names.name, names.module, names.parent))) > MAX_PATH:
        why = f"its name is longer than {MAX_PATH} characters"
    elif len(line) > MAX_LINE_BYTES:
        why = f"what is written of it is longer than {MAX_LINE_BYTES // 2**20} MiB"
    else:
        return None
    return Finding("text/unreadable", "note", names.path[:100], f"An element was left out: {why}.", file=names.file,
                   line=names.line, text=names.name[:100])  # fmt: skip


def _with_manifests(folder: Folder, files: list[str]) -> list[str]:
    """Manifests count even where a project reads only some of its files."""
    names = {*ROOT_MANIFESTS, *LOCK_FILES}
    return sorted({*files, *(name for name in list_root(folder) if name in names or is_sbom(name))})


def _locate(folder: Folder, files: list[str], project: ProjectFile, options: GatherOptions) -> list[SourceFile]:
    wanted = [p.strip("/") + "/" for p in project.paths if p.strip("/.")]
    inside = [f for f in files if not wanted or f.startswith(tuple(wanted)) or f.rpartition("/")[2] in BUILD_FILES]
    given = {"macros": project.macros} if project.macros else {}
    if not project.generated:
        given["generated"] = ["no"]
    found = locate_sources(inside, folder.read_text, project.languages, given)
    own = set(inside)
    described = locate_interfaces(files, folder.read, project.languages, inside=own.__contains__)
    found = [with_included(folder, s) if s.language == "rust" else s for s in found]
    found += [_behind_gateway(s, project) for s in described]
    place = (project.slug or options.slug or folder.root.name.lower()).replace("-", "_")
    return found + locate_model(
        files, folder.read, project.data, project.languages, place, is_alone=not found, project_file=FILE_NAME,
        catalog=options.catalog,
    )  # fmt: skip


def _behind_gateway(source: SourceFile, project: ProjectFile) -> SourceFile:
    """What the project file says of the service that a description is of."""
    service = project.services.get(source.module)
    if service is None or source.language != "openapi":
        return source
    return msgspec.structs.replace(
        source, options={**source.options, "server": [service.server], "strip": [service.strip]}
    )


def _with_remote(source: SourceFile, remote: dict[str, str], folder: Folder) -> SourceFile:
    if "entries" not in source.options or not remote:
        return source
    listed = [f"{address}={file}" for address, file in sorted(remote.items())]
    digests = [sha256(folder.read(file)).hexdigest()[:16] for file in remote.values()]
    options = {**source.options, "remote": listed, "remote_digests": sorted(digests)}
    return msgspec.structs.replace(source, options=options)


def _read_sources(
    folder: Folder,
    sources: list[SourceFile],
    tests: list[SourceFile],
    options: GatherOptions,
    known: KnownReadings,
    progress: Progress,
) -> tuple[list[FileReading], list[FileReading]]:
    """What the sources and the tests have."""
    path, is_cached = cache_path(folder.root), options.use_cache
    if is_cached and not known.encoded:
        known.encoded = load_cache(path)
    else:
        is_cached &= options.known is None  # A process that has them needs no file at each save.
    before = set(known.encoded)
    readings, keys = read_files(
        folder.root, sources, known, progress=lambda d, t: progress("reading", d, t), is_guarded=options.is_guarded
    )
    examples, of_tests = read_files(
        folder.root, tests, known, progress=lambda d, t: progress("tests", d, t), is_guarded=options.is_guarded
    )
    known.keep({*keys, *of_tests})
    if is_cached and known.encoded.keys() != before:
        save_cache(path, known.encoded)
    return readings, examples


def _outside(trees: list[Tree], sources: Iterable[SourceFile]) -> list[SourceFile]:
    return [source for source in sources if not _is_in(source.file, trees)]


def _is_in(file: str, trees: list[Tree]) -> bool:
    return any(file.startswith(tree.folder) for tree in trees)


def _lines(spool: IO[bytes]) -> Iterator[bytes]:
    spool.seek(0)
    return (line.rstrip(b"\n") for line in spool)


def _manifest_findings(facts: PackageFacts) -> list[Finding]:
    return [
        Finding("text/unreadable", "warning", "", f"{facts.file}: {line} could not be read.",
                subject_kind="page", file=facts.file, line=1, text=line)
        for line in facts.unreadable
    ]  # fmt: skip


def _stamped(finding: Finding) -> Finding:
    if finding.fingerprint:
        return finding
    return msgspec.structs.replace(finding, fingerprint=fingerprint(finding.rule, finding.subject, finding.text))


def _manifest(
    project: ProjectFile, facts: PackageFacts, options: GatherOptions, readings: list[FileReading],
    sources: list[SourceFile], folder: Folder,
) -> Manifest:  # fmt: skip
    slug = options.slug or project.slug or facts.name or folder.root.name.lower()[:MAX_LABEL]
    provides = _provided(readings, sources)
    if project.namespaces:
        provides = dict.fromkeys(provides, project.namespaces) or {"python": project.namespaces}
    return Manifest(
        format=FORMAT_VERSION, project=slug, version=options.version or project.version or facts.version,
        title=project.title or slug, summary=project.summary or facts.summary, owner=project.owner,
        purl=facts.purl, commit=options.commit, repository=project.repository or facts.repository,
        languages=sorted({r.language for r in readings}),
        namespaces=sorted({name for names in provides.values() for name in names}), provides=provides,
        dependencies=_dependencies(project, facts), prefixes=project.prefixes, outside=project.outside,
        supported=project.supported, owners=project.owners, servers=project.servers, editions=project.editions,
        options={"visibility": project.visibility, "special_members": str(project.special_members).lower(),
                 **({"partial": "true"} if options.is_partial else {})},
    )  # fmt: skip


def _with_trees(manifest: Manifest, project: ProjectFile, read: TreePages) -> Manifest:
    """The same with the trees, and what those document."""
    documented = roots_of(read.symbols)
    provides = {
        language: sorted({*manifest.provides.get(language, ()), *(project.namespaces or documented.get(language, []))})
        for language in {**manifest.provides, **documented}
    }
    return msgspec.structs.replace(
        manifest, trees=read.facts, provides=provides, languages=sorted({*manifest.languages, *provides}),
        namespaces=sorted({name for names in provides.values() for name in names}),
    )  # fmt: skip


def _dependencies(project: ProjectFile, facts: PackageFacts) -> list[Dependency]:
    """Those of the project file, where it has any, at the versions that are locked."""
    if not project.dependencies:
        return facts.dependencies
    exact = {d.purl: d.exact for d in facts.dependencies}
    return [Dependency(purl, range, exact.get(purl, "")) for purl, range in sorted(project.dependencies.items())]


def _provided(readings: list[FileReading], sources: list[SourceFile]) -> dict[str, list[str]]:
    """Language to the names below which all symbols are this project's."""
    found: dict[str, set[str]] = {}
    foreign = _foreign_roots(readings)
    written = {r.language for r in readings if not r.is_generated}
    for source, reading in zip(sources, readings, strict=True):
        names = found.setdefault(reading.language, set())
        if reading.language in ("c", "cpp") or (reading.is_generated and reading.language in written):
            continue  # Tools write into the packages of others, too.
        if "root" in source.options:
            names.update(source.options["root"])
        else:
            names.update([*_identities(reading), *_module_roots(reading, foreign)])
    for language in ("c", "cpp"):
        if language in found:
            found[language] = _main_namespaces(readings)
    return {
        language: sorted(name for name in names if len(name) <= MAX_NAMESPACE)
        for language, names in sorted(found.items())
    }


def _module_roots(reading: FileReading, foreign: set[str]) -> Iterator[str]:
    """The names of a file's modules, or their roots where a language's packages hold one another."""
    whole = reading.language in _WHOLE
    for module in (key_of(part.scope.module) for part in reading.parts):
        if module and not (whole and _root_of(module, reading.language) in foreign):
            yield module if whole else module.partition(".")[0]


def _root_of(module: str, language: str) -> str:
    parts = module.split(".")
    return ".".join(parts[: 1 if language == "csharp" else 2])


def _foreign_roots(readings: list[FileReading]) -> set[str]:
    """Beginnings of packages and namespaces to which a project adds a little, which does not make them its."""
    roots = ({_root_of(key_of(p.scope.module), r.language) for p in r.parts} for r in readings if r.language in _WHOLE)
    counts = Counter(root for found in roots for root in found)
    main, most = max(counts.items(), key=itemgetter(1), default=("", 0))
    if main.startswith(_PLATFORM):
        return set()  # The platform's own sources.
    return {root for root, count in counts.items() if count * 20 < most and root.startswith(_PLATFORM)}


def _identities(reading: FileReading) -> set[str]:
    """URIs that schemas are known by, with what they share before their last part."""
    known = {name for name, _ in reading.names if "://" in name and "#" not in name}
    return {name.rpartition("/")[0] for name in known} | (known if len(known) <= _FEW_NAMES else set())


def _main_namespaces(readings: list[FileReading]) -> set[str]:
    """The outermost namespaces of C++ that are the project's own: a project may add a little to
    those of others, which does not make them its."""
    known = {
        path for r in readings if r.language in ("c", "cpp")
        for path, kind in zip(r.paths, r.kinds, strict=True) if kind == "namespace" and "::" not in path
    }  # fmt: skip
    paths = (path.partition("::")[0] for r in readings if r.language in ("c", "cpp") for path in r.paths)
    counts = Counter(name for name in paths if name in known)
    most = max(counts.values(), default=0)
    return {name for name, count in counts.items() if count * 20 >= most}
