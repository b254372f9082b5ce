"""Answers that hold HTML: what has not passed the sanitiser cannot be put into them."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import msgspec
from msgspec import UNSET, UnsetType

from zarbek.core.writing.html import SafeHtml

#: As JSON Schema 2020-12 (validation, section 8.4) says that a text is HTML.
HTML_SCHEMA = {"type": "string", "contentMediaType": "text/html"}


#: For a field that is left out of the answer where there is no text; its default is UNSET.
OptionalHtml = SafeHtml | UnsetType


class HtmlHolder(msgspec.Struct):
    """A struct whose fields of type SafeHtml take nothing else. Raises TypeError when made or
    replaced with a plain text in one."""

    def __post_init__(self) -> None:
        for name, is_optional in html_fields(type(self)):
            value = getattr(self, name)
            if is_optional and not value:
                setattr(self, name, UNSET)
            elif not isinstance(value, SafeHtml):
                raise TypeError(f"{type(self).__name__}.{name} takes sanitised HTML only")


@lru_cache(maxsize=256)
def html_fields(kind: type) -> tuple[tuple[str, bool], ...]:
    """Names of a struct's fields of HTML, each with whether it may be left out."""
    fields = msgspec.structs.fields(kind)
    return tuple((f.name, f.type is not SafeHtml) for f in fields if f.type in (SafeHtml, OptionalHtml))


def html_schema(kind: type) -> dict[str, Any]:
    """The schema hook of msgspec. Raises NotImplementedError for other types, as msgspec asks."""
    if kind is SafeHtml:
        return dict(HTML_SCHEMA)
    raise NotImplementedError
