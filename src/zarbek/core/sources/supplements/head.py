"""What stands at the top of a supplement, and its JSON Schema."""

from __future__ import annotations

import re
from typing import Annotated, Any

import msgspec

from zarbek.core.model.limits import MAX_LABEL, Address, Label, Title
from zarbek.core.model.supplement import How, Part

#: Of one file.
MAX_TARGETS, MAX_KEYWORDS = 100, 100

_Targets = Annotated[list[Address], msgspec.Meta(min_length=1, max_length=MAX_TARGETS)]
#: A version may look like a number in YAML.
_Version = Annotated[str, msgspec.Meta(max_length=MAX_LABEL)] | int | float


class Head(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Front matter of a supplement.

    targets (in the file ``for``): one or several addresses, ``api://PROJECT/PATH``, in which ``*`` stands for anything.
    how: of all parts, or by part. keywords: words by which search finds the element. language: of a translation (BCP
    47). written: the release for which it was written. flags: by which editions have the elements or not.
    """

    targets: Address | _Targets = msgspec.field(name="for")
    how: How | dict[Part, How] = {}
    keywords: Annotated[list[Title], msgspec.Meta(max_length=MAX_KEYWORDS)] = []
    language: Label = ""
    written: _Version = ""
    flags: Annotated[list[Label], msgspec.Meta(max_length=MAX_KEYWORDS)] = []


def known_keys() -> frozenset[str]:
    """What may stand there."""
    return frozenset(field.encode_name for field in msgspec.structs.fields(Head))


def read_head(metadata: dict[str, Any]) -> Head:
    """Raises ValueError with a sentence for people."""
    try:
        return msgspec.convert(metadata, Head)
    except msgspec.ValidationError as error:
        message, _, where = str(error).partition(" - at ")
        told = message.replace("Object missing required field `for`", "it does not say what it is for")
        told = re.sub(r"Invalid enum value '(.*)'", r"\1 is neither add, fill nor replace", told)
        raise ValueError(f"{told[:1].lower()}{told[1:]}" + (f" ({where.strip('`$.')})" if where else "")) from error


def head_schema() -> dict[str, Any]:
    """The front matter as JSON Schema 2020-12."""
    (found,), components = msgspec.json.schema_components([Head], ref_template="#/$defs/{name}")
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Front matter of a supplement", **found,
        "$defs": components,
    }  # fmt: skip
