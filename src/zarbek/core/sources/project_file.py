"""``zarbek.toml``: what a project may say about itself. Every key is optional."""

from __future__ import annotations

import re
import tomllib
from dataclasses import dataclass
from typing import Any

import msgspec
from rapidfuzz import process

from zarbek.core.errors import ProjectFileError
from zarbek.core.model.edition import Edition
from zarbek.core.model.limits import Address, File, Label, Namespace, Owner, Purl, Title
from zarbek.core.model.source_text import Shown
from zarbek.core.sources.datamodels.settings import NO_DATA, DataSettings, wrong_dialect
from zarbek.core.sources.examples.settings import NO_EXAMPLES, ExampleSettings
from zarbek.core.sources.guides.guide_order import wrong_contents
from zarbek.core.sources.htmltrees.discovery import TreeHints
from zarbek.core.sources.htmltrees.selectors import is_compound, is_selector
from zarbek.core.sources.supplements.settings import NO_SUPPLEMENTS, SupplementSettings

FILE_NAME = "zarbek.toml"
_TOO_LONG = re.compile(r"Expected `str` of length <= (\d+)")


@dataclass(frozen=True, slots=True)
class Option:
    """One key of the project file, for people who list or search them."""

    key: str
    type: str
    default: str
    meaning: str
    example: str


OPTIONS = (
    Option("slug", "text", "the folder's name", "The project's short name in addresses.", 'slug = "tidebook"'),
    Option("title", "text", "the slug", "The name that readers see.", 'title = "Tide tables"'),
    Option("summary", "text", "from the manifest", "One sentence on what the project is for.", 'summary = "Tide tables and sailing windows."'),
    Option("version", "text", "from the manifest", "The release's version, when no manifest says it.", 'version = "2.1.0"'),
    Option("owner", "text", "nobody", "The team that findings go to.", 'owner = "Nautical data"'),
    Option("owners", "table", "the owner", "Team by pattern of files, as in gitignore; the last that fits wins.", '[owners]\n"src/tidebook/harmonics/**" = "Tide models"'),
    Option("supported", "list", "the newest line", "Lines of releases besides the newest whose references are still judged.", 'supported = ["1.x"]'),
    Option("languages", "list", "detected", "The languages to read.", 'languages = ["python"]'),
    Option("paths", "list", "the whole folder", "Folders that hold the sources, relative to this file.", 'paths = ["src"]'),
    Option("include", "list", "all but tests", "Patterns, as in gitignore, of files to read.", 'include = ["src/**/*.py"]'),
    Option("exclude", "list", "nothing", "Patterns of files to leave out.", 'exclude = ["src/tidebook/_tables.py"]'),
    Option("visibility", "public, internal or private", "public", "How much readers see.", 'visibility = "internal"'),
    Option("special_members", "true or false", "false", "Show special methods such as __iter__.", "special_members = true"),
    Option("namespaces", "list", "the top-level packages", "Top-level names that belong to this project.", 'namespaces = ["tidebook"]'),
    Option("macros", "list", "recognised", "C and C++ macros that expand to nothing a reader needs; NAME=text replaces one.", 'macros = ["HULL_API", "HULL_OPEN=namespace hull {"]'),
    Option("generated", "true or false", "true", "Read files that a tool has written, too.", "generated = false"),
    Option("guides.folder", "text", "docs or guides", "The folder that holds guides.", '[guides]\nfolder = "guides"'),
    Option("guides.contents", "list", "the folder's order", "The table of contents: page paths in order; a list in the list nests.", '[guides]\ncontents = ["index", "reading-a-table"]'),
    Option("guides.numbered", "true or false", "false", "Number chapters, their parts, figures, tables, listings and examples; a guide may say otherwise.", "[guides]\nnumbered = true"),
    Option("dependencies", "table", "from the manifest", "Package URL to version range, when no manifest declares them.", '[dependencies]\n"pkg:pypi/tidebook" = ">=2,<3"'),
    Option("prefixes", "table", "none", "What a leading name in a mention stands for.", '[prefixes]\n_tb = "tidebook"'),
    Option("outside", "table", "none", "Address pattern for a namespace outside the portal; {name} is the full name.", '[outside]\nzoneinfo = "https://docs.example.org/zoneinfo#{name}"'),
    Option("servers", "list", "none", "Servers that readers may send requests to from the pages of operations.", 'servers = ["https://quayside.halmere.example"]'),
    Option("remote", "list", "none", "Addresses below which schemas that are referred to may be fetched while gathering.", 'remote = ["https://schemas.halmere.example/"]'),
    Option("services", "table", "none", "Where the gateway has a service: server is the address that callers use; strip is the beginning of the service's own paths that the gateway adds.", '[services.sailings]\nserver = "https://gate.halmere.example/sailings"\nstrip = "/internal"'),
    Option("trees", "table", "recognised", "Folders of HTML that another program has written. address is where one is published; language that of its code; title, body, navigation, symbol and kind are selectors of CSS.", '[trees."reference/1.x"]\naddress = "https://docs.halmere.example/pontoon/1.x/"'),
    Option("data", "table", "recognised", "The data model: dialect, place, definitions, queries, macros, places, calls, values, descriptions, results and catalog, as told in data-models.md.", '[data]\ndialect = "mariadb"\nplace = "logbook"\nqueries = ["queries/**/*.sql"]'),
    Option("examples", "table", "recognised", "Tests as examples: tests, patterns of files that hold some; shown, names of those that are examples without a mark; results, patterns of JUnit files that say how they went.", '[examples]\nshown = ["tests.test_rest.*"]\nresults = ["reports/*.xml"]'),
    Option("supplements", "table", "the folder supplements, add", "Texts for elements that stand outside of their source: folder, and how, which is add, fill or replace, for parts that do not say so.", '[supplements]\nhow = "fill"'),
    Option("source", "all, public or none", "all", "Which gathered files readers may look into: all, those that declare something public, or none.", 'source = "public"'),
    Option("flags", "table", "none", "Flag to patterns of elements and guides that have it; what lies in them has it, too.", '[flags]\ninternal = ["tidebook.harmonics", "ops/*"]'),
    Option("editions", "table", "one for all", "Views of a release: title, readers (public, inside, teams), without and only, which are flags, and visibility.", '[editions.outside]\nreaders = "public"\nwithout = ["internal"]'),
    Option("repository", "text", "from the manifest", "Where the source can be browsed.", 'repository = "https://git.halmere.example/tidebook"'),
)  # fmt: skip


class Guides(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Where the guides are. contents: their order, lists within for what stands below; None for that of the files.
    numbered: whether chapters, parts and what has a caption are numbered."""

    folder: str = ""
    contents: list[str | list[Any]] | None = None
    numbered: bool = False


class ServicePlace(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Where callers reach a service; ``server`` and ``strip`` as in ``gateways.put_behind``."""

    server: str = ""
    strip: str = ""


class ProjectFile(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The parsed project file; fields as in OPTIONS."""

    slug: Label = ""
    title: Title = ""
    summary: Title = ""
    version: Label = ""
    owner: Owner = ""
    owners: dict[str, Owner] = {}
    supported: list[str] = []
    languages: list[str] = []
    paths: list[str] = []
    include: list[str] = []
    exclude: list[str] = []
    visibility: str = "public"
    special_members: bool = False
    namespaces: list[Namespace] = []
    macros: list[str] = []
    generated: bool = True
    guides: Guides = Guides()
    dependencies: dict[Purl, str] = {}
    prefixes: dict[str, str] = {}
    outside: dict[str, str] = {}
    servers: list[str] = []
    remote: list[str] = []
    services: dict[str, ServicePlace] = {}
    trees: dict[File, TreeHints] = {}
    data: DataSettings = NO_DATA
    examples: ExampleSettings = NO_EXAMPLES
    supplements: SupplementSettings = NO_SUPPLEMENTS
    source: Shown = "all"
    flags: dict[Label, list[str]] = {}
    editions: dict[Label, Edition] = {}
    repository: Address = ""


#: Tables whose keys are those of a struct.
_TABLES: dict[str, type[msgspec.Struct]] = {
    "data": DataSettings, "examples": ExampleSettings, "supplements": SupplementSettings,
}  # fmt: skip


#: Tables that hold such tables by names of the project's own.
_TABLES_OF_TABLES: dict[str, type[msgspec.Struct]] = {"trees": TreeHints, "editions": Edition}


def read_project_file(text: str) -> ProjectFile:
    """Raises ProjectFileError: bad TOML, a wrong type, or an unknown key with the nearest known one."""
    try:
        raw = tomllib.loads(text)
    except (tomllib.TOMLDecodeError, RecursionError) as error:
        told = "nests too deeply" if isinstance(error, RecursionError) else f"is no TOML: {error}"
        raise ProjectFileError("the file", told) from error
    known = [option.key for option in OPTIONS]
    _refuse_unknown(raw, {key.partition(".")[0] for key in known}, "")
    if isinstance(raw.get("guides"), dict):
        _refuse_unknown(raw["guides"], {k[7:] for k in known if k.startswith("guides.")}, "guides.")
    _refuse_unknown_in_tables(raw)
    try:
        parsed = msgspec.convert(raw, ProjectFile)
    except msgspec.ValidationError as error:
        message, _, where = str(error).partition(" - at ")
        message = _TOO_LONG.sub(r"may have \1 characters at most", message)
        raise ProjectFileError(where.strip("`$.") or "the file", message) from error
    _refuse_bad_values(parsed)
    return parsed


def _refuse_unknown_in_tables(raw: dict[str, Any]) -> None:
    for name, settings in _TABLES.items():
        if isinstance(raw.get(name), dict):
            _refuse_unknown(raw[name], set(settings.__struct_fields__), f"{name}.")
    for name, settings in _TABLES_OF_TABLES.items():
        for key, inner in raw[name].items() if isinstance(raw.get(name), dict) else ():
            if isinstance(inner, dict):
                _refuse_unknown(inner, set(settings.__struct_fields__), f"{name}.{key}.")


def _refuse_bad_values(parsed: ProjectFile) -> None:
    if told := wrong_contents(parsed.guides.contents or []):
        raise ProjectFileError("guides.contents", told)
    if told := wrong_dialect(parsed.data):
        raise ProjectFileError("data.dialect", told)
    for folder, hints in parsed.trees.items():
        _refuse_bad_tree(folder, hints)
    if parsed.visibility not in ("public", "internal", "private"):
        raise ProjectFileError("visibility", "must be public, internal or private")


def _refuse_bad_tree(folder: str, hints: TreeHints) -> None:
    if ".." in folder.split("/") or folder.startswith("/"):
        raise ProjectFileError(f"trees.{folder}", "a tree is a folder of the source, by its path below that")
    if hints.body and not is_compound(hints.body):
        raise ProjectFileError(f"trees.{folder}.body", f"{hints.body!r} is no selector of one element, as main#content")
    for name in ("title", "navigation", "symbol", "kind"):
        if (selector := getattr(hints, name)) and not is_selector(selector):
            told = "is no selector that can be used: one element, or one within another, as dl.member > dt"
            raise ProjectFileError(f"trees.{folder}.{name}", f"{selector!r} {told}")


def _refuse_unknown(raw: dict[str, object], known: set[str], prefix: str) -> None:
    for key in raw:
        if key not in known:
            near = process.extractOne(key, sorted(known))
            hint = f"; the nearest known key is {prefix}{near[0]}" if near else ""
            raise ProjectFileError(prefix + key, f"is not a known key{hint}")
