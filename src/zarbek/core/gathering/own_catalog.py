"""The catalogue of the database that a source's project file names."""

from __future__ import annotations

from pathlib import Path

from zarbek.core.errors import CatalogRefused, ProjectFileError
from zarbek.core.material.archives import unpacked
from zarbek.core.material.catalogs.reading import CatalogQuestion, password_from, read_catalog
from zarbek.core.material.folder import open_folder
from zarbek.core.model.database_catalog import DatabaseCatalog
from zarbek.core.sources.datamodels.settings import CatalogPlace
from zarbek.core.sources.project_file import FILE_NAME, read_project_file


def read_own_catalog(source: Path) -> DatabaseCatalog:
    """Ask the database of a source's folder, or of an archive of one, for its catalogue.

    Raises SourceNotFound, ProjectFileError where the project file names no database, CatalogRefused.
    """
    if source.is_file():
        with unpacked(source) as inside:
            return read_own_catalog(inside)
    place = read_project_file(open_folder(source).read_text(FILE_NAME)).data.catalog
    if place is None:
        raise ProjectFileError("data.catalog", "says of no database; give its address, and password_from")
    return read_catalog(question_of(place))


def question_of(place: CatalogPlace, host: str = "") -> CatalogQuestion:
    """What to ask a database, with its password from the environment. host: where to connect in the place of the
    address's own host. Raises CatalogRefused where the environment does not have it."""
    password = password_from(place.password_from)
    if password is None:
        raise CatalogRefused(place.address, f"the environment has no {place.password_from} with its password")
    return CatalogQuestion(place.address, password, place.schemas, host)
