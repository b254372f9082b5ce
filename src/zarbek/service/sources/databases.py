"""Databases that projects have the tables of: asked for their catalogues, which are gathered with what is written."""

from __future__ import annotations

import subprocess
import sys
from functools import lru_cache
from pathlib import Path

import msgspec
import tomli_w
from django.conf import settings
from django.core.files.storage import default_storage

from zarbek.core.errors import CatalogRefused
from zarbek.core.material.catalogs.connections import parse_address
from zarbek.core.material.catalogs.reading import LIMIT_S, CatalogQuestion, password_from
from zarbek.core.material.network_addresses import HostRefused, resolve
from zarbek.core.material.processes import kill_group, start_bound
from zarbek.core.model.database_catalog import CatalogTable, DatabaseCatalog
from zarbek.service.catalog.models import Project
from zarbek.service.publishing.actions.runs import start_run
from zarbek.service.publishing.models import Run
from zarbek.service.sources.catalog_child import CatalogAnswer
from zarbek.service.sources.models import Database
from zarbek.service.sources.running_services import RUNNING, known_of

_COMMAND = [sys.executable, "-m", "zarbek.service.sources.catalog_child"]
#: Of its process, beyond what the database itself may take.
_GRACE_S = 30.0


def ask_database(database: Database) -> CatalogAnswer:
    """Ask a database what it has, in a process of its own. Touches no database of ours."""
    try:
        host = host_of(database.address)
        password = password_from(database.password_from)
        if password is None:
            return CatalogAnswer(refused=f"the portal's environment has no {database.password_from}")
        question = CatalogQuestion(
            database.address, password, database.schemas, resolve(host, settings.ALLOWED_PRIVATE)
        )
    except (CatalogRefused, HostRefused) as error:
        return CatalogAnswer(refused=error.reason if isinstance(error, CatalogRefused) else str(error))
    return _ask_apart(question)


def host_of(address: str) -> str:
    """The host of a database that a portal may ask. Raises CatalogRefused: for what is no file of the portal's own, and
    no socket of its machine, may be asked over the net only."""
    url = parse_address(address)
    if not url.host or url.drivername == "sqlite" or "unix_socket" in url.query:
        raise CatalogRefused(str(url), "the portal asks databases over the net only; give a host")
    return url.host


def _ask_apart(question: CatalogQuestion) -> CatalogAnswer:
    child = start_bound(_COMMAND, environment={"PATH": "/usr/local/bin:/usr/bin:/bin", "LANG": "C.UTF-8"})
    try:
        said, _ = child.communicate(msgspec.json.encode(question), timeout=LIMIT_S + _GRACE_S)
    except subprocess.TimeoutExpired:
        return CatalogAnswer(refused=f"it did not answer within {LIMIT_S:g} s")
    finally:
        kill_group(child)
    if child.returncode or not said:
        return CatalogAnswer(refused="reading it took more than it may")
    return msgspec.json.decode(said, type=CatalogAnswer)


def load_catalog(slug: str) -> DatabaseCatalog | None:
    """What the database of a project said last."""
    database = Database.objects.filter(project__slug=slug).exclude(material="").first()
    if database is None:
        return None
    return _by_place(database.material)[0]


def seen_in_database(slug: str, path: str) -> tuple[int | None, str, str] | None:
    """About how many rows a table has, when they changed last, and when the database said so; None where it does not
    say anything of it. path: of the table in the model."""
    database = Database.objects.filter(project__slug=slug).exclude(material="").first()
    if database is None:
        return None
    catalog, tables = _by_place(database.material)
    seen = database.fetched_at.strftime("%Y-%m-%dT%H:%M:%SZ") if database.fetched_at is not None else catalog.read_at
    place, _, name = path.rpartition(".")
    for schema in catalog.schemas:
        lies_there = ".".join(catalog.place_of(schema, place.split("."))) == place
        if lies_there and (found := tables.get((schema, name.casefold()))) is not None:
            return found.rows, found.changed, seen
    return None


@lru_cache(maxsize=8)
def _by_place(material: str) -> tuple[DatabaseCatalog, dict[tuple[str, str], CatalogTable]]:
    """What a database said, by schema and name in small letters. material: which never changes."""
    with default_storage.open(material) as file:
        catalog = msgspec.json.decode(file.read(), type=DatabaseCatalog)
    return catalog, {(table.schema, table.name.casefold()): table for table in catalog.tables}


def write_project_file(project: Project, folder: Path) -> None:
    """What the portal knows of a project, for a catalogue beside which nothing is written."""
    (folder / "zarbek.toml").write_text(tomli_w.dumps(known_of(project)), encoding="utf-8")


def publish_stored(project: Project, *, actor: str) -> Run:
    """Gather what the database said last, with what the project's repository has to say of it, as the preview that
    follows what runs."""
    source = project.sources.order_by("pk").first()
    origin: dict[str, object] = {"database": "now"}
    if source is not None:
        ref = source.branch or str(source.ahead.get("branch") or "HEAD")
        origin = {"address": source.address, "ref": ref, "folder": source.folder}
    elif project.services.exclude(material="").exists():
        origin = {"services": "all"}
    run, _ = start_run(project=project.slug, version=RUNNING, is_preview=True, actor=actor, origin=origin)
    return run
