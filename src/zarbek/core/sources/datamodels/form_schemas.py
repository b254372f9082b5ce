"""Our own forms of descriptions and of results of checks as JSON Schema 2020-12, made from the types that read them."""

from __future__ import annotations

from typing import Any

import msgspec

from zarbek.core.sources.datamodels.check_results import ResultsForm
from zarbek.core.sources.datamodels.descriptions import ModelForm


def model_schema() -> dict[str, Any]:
    """Of ``*.model.yaml``."""
    return _schema(ModelForm, "Descriptions of a data model")


def results_schema() -> dict[str, Any]:
    """Of files with results of checks."""
    return _schema(ResultsForm, "Results of checks")


def _schema(form: type, title: str) -> dict[str, Any]:
    (found,), components = msgspec.json.schema_components([form], ref_template="#/$defs/{name}")
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": title, **found, "$defs": components}
