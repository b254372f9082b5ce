"""Parts of operations that OpenAPI 3.x describes: parameters, bodies, answers, security, servers.

Source: OpenAPI Specification 3.2.0, section 4 (and 3.0.4, 3.1.1 where they differ).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from zarbek.core.model.interface import (
    Answer,
    Body,
    Example,
    Media,
    NamedValue,
    OperationLink,
    SecurityRequirement,
    SecurityScheme,
    Server,
)
from zarbek.core.sources.interfaces.document_set import OUTSIDE
from zarbek.core.sources.interfaces.documents import Document, Pointer
from zarbek.core.sources.interfaces.symbol_builder import SymbolBuilder, example_of, is_json_type, items, mapping

METHODS = ("get", "put", "post", "delete", "options", "head", "patch", "trace", "query")


class OpenApi3Parts:
    """Reads the parts of one description into values; what they mention goes to the builder."""

    def __init__(self, builder: SymbolBuilder) -> None:
        self.builder = builder

    def follow(
        self, value: Any, document: Document, pointer: Pointer, field: str
    ) -> tuple[Any, Document, Pointer, str]:
        """(value, its document and pointer, path of the shared part that it is or empty) after ``$ref``."""
        ref = ""
        for _ in range(20):
            if not isinstance(value, dict) or not isinstance(value.get("$ref"), str):
                break
            written = value["$ref"]
            found = self.builder.documents.find(written, document.file)
            self.builder.field = field
            if isinstance(found, str):
                meant = self.builder.documents.path_meant(written, document.file) or written.lstrip("#/")
                name = written if found == OUTSIDE else f"api:{meant}"
                self.builder.add_mention(written, name, "schema", document, (*pointer, "$ref"))
                return {}, document, pointer, ref
            named = self.builder.documents.path_of(found)
            if named is not None and not named[1] and field != "example":
                self.builder.add_mention(written, f"api:{named[0]}", "schema", document, (*pointer, "$ref"))
                ref = ref or named[0]
            said = {k: value[k] for k in ("description", "summary") if k in value}
            document, pointer = found
            value = document.at(pointer)
            if said and isinstance(value, dict):
                value = {**value, **said}
        return value, document, pointer, ref

    # Parameters and headers ---------------------------------------------------------------

    def parameters(
        self, value: Any, document: Document, pointer: Pointer, *, shared: Sequence[NamedValue] = ()
    ) -> list[NamedValue]:
        """Those of the operation, which go before those that all operations of a path share."""
        own = [s for n, p in enumerate(items(value)) if (s := self.slot(p, document, (*pointer, n))) is not None]
        known = {(s.place, s.name) for s in own}
        return [*(s for s in shared if (s.place, s.name) not in known), *own]

    def slot(
        self, value: Any, document: Document, pointer: Pointer, name: str = "", place: str = ""
    ) -> NamedValue | None:
        """A parameter or header; name, place: where the value does not say them (Parameter and Header Object)."""
        value, document, pointer, ref = self.follow(value, document, pointer, f"parameter:{name}")
        with self.builder.muted(bool(ref)):
            return self._slot(mapping(value), document, pointer, name, place, ref)

    def _slot(
        self, found: dict[str, Any], document: Document, pointer: Pointer, name: str, place: str, ref: str
    ) -> NamedValue | None:
        name = name or str(found.get("name", ""))
        place = place or str(found.get("in", ""))
        if not name or place not in ("path", "query", "header", "cookie", "querystring"):
            return None
        field = f"parameter:{name}"
        media = next(iter(mapping(found.get("content")).items()), None)
        if media is not None:
            inner, at = mapping(media[1]), (*pointer, "content", media[0])
        else:
            inner, at = found, pointer
        schema = self.builder.schema(inner.get("schema"), (*at, "schema"), field, document)
        self.text(found, document, pointer, field)
        style = str(found.get("style", ""))
        return NamedValue(
            name, place, schema, str(found.get("description") or "").strip(),
            required=found.get("required") is True or place == "path", deprecated=found.get("deprecated") is True,
            style=style, explode=bool(found.get("explode", style in ("", "form"))),
            media_type=media[0] if media else "", examples=self.examples(inner, document, at, is_json=True), ref=ref,
        )  # fmt: skip

    def text(self, found: dict[str, Any], document: Document, pointer: Pointer, field: str) -> None:
        """Read the mentions of a description; field: whom they belong to."""
        if isinstance(found.get("description"), str):
            self.builder.field = field
            self.builder.read_text(found["description"], document, (*pointer, "description"))

    # Bodies -------------------------------------------------------------------------------

    def body(self, value: Any, document: Document, pointer: Pointer) -> Body | None:
        """A request's body; None for none (Request Body Object)."""
        value, document, pointer, ref = self.follow(value, document, pointer, "request")
        found = mapping(value)
        if not found:
            return None
        self.text(found, document, pointer, "request")
        media = self.media(found.get("content"), document, (*pointer, "content"), "request")
        return Body(media, str(found.get("description") or "").strip(), found.get("required") is True, ref)

    def media(self, value: Any, document: Document, pointer: Pointer, field: str) -> list[Media]:
        """A body's forms by media type; of a stream the schema of one item (Media Type Object)."""
        made = []
        for name, entry in mapping(value).items():
            entry, where, at, _ = self.follow(entry, document, (*pointer, name), field)
            holder = mapping(entry)
            key = "itemSchema" if "itemSchema" in holder and "schema" not in holder else "schema"
            schema = self.builder.schema(holder.get(key), (*at, key), field, where)
            if key == "itemSchema":
                schema = {"type": "array", "items": schema}
            made.append(Media(str(name), schema, self.examples(holder, where, at, is_json=is_json_type(str(name)))))
        return made

    def examples(self, holder: dict[str, Any], document: Document, pointer: Pointer, *, is_json: bool) -> list[Example]:
        """The examples of a parameter or media type (Example Object). is_json: values are shown as JSON."""
        return [
            example_of(value, name, text, is_json=is_json)
            for value, name, text, _ in iter_examples(self, holder, document, pointer)
        ]

    # Answers ------------------------------------------------------------------------------

    def answers(self, value: Any, document: Document, pointer: Pointer) -> list[Answer]:
        """An operation's answers by status, the default last (Responses Object)."""
        found = [
            self.answer(str(status), entry, document, (*pointer, status))
            for status, entry in mapping(value).items() if not str(status).startswith("x-")
        ]  # fmt: skip
        return sorted(found, key=lambda a: (a.status == "default", a.status))

    def answer(self, status: str, value: Any, document: Document, pointer: Pointer) -> Answer:
        """One answer; status: a code, a range such as 4XX, or default (Response Object)."""
        field = f"response:{status}"
        value, document, pointer, ref = self.follow(value, document, pointer, field)
        with self.builder.muted(bool(ref)):
            return self._answer(status, mapping(value), document, pointer, ref)

    def _answer(self, status: str, found: dict[str, Any], document: Document, pointer: Pointer, ref: str) -> Answer:
        field = f"response:{status}"
        self.text(found, document, pointer, field)
        said = str(found.get("description") or found.get("summary") or "").strip()
        headers = [
            slot for name, entry in mapping(found.get("headers")).items()
            if (slot := self.slot(entry, document, (*pointer, "headers", name), str(name), "header")) is not None
        ]  # fmt: skip
        media = self.forms(found, document, pointer, field)
        return Answer(status, said, headers, media, self.followups(found.get("links"), document, pointer), ref)

    def forms(self, found: dict[str, Any], document: Document, pointer: Pointer, field: str) -> list[Media]:
        """The forms in which an answer's body comes."""
        return self.media(found.get("content"), document, (*pointer, "content"), field)

    def followups(self, value: Any, document: Document, pointer: Pointer) -> list[OperationLink]:
        """What may be called with an answer (Link Object)."""
        made = []
        for name, entry in mapping(value).items():
            entry, _, _, _ = self.follow(entry, document, (*pointer, "links", name), "response")
            found = mapping(entry)
            target = str(found.get("operationId") or found.get("operationRef") or "")
            values = {str(k): str(v) for k, v in mapping(found.get("parameters")).items()}
            made.append(OperationLink(str(name), target, str(found.get("description") or "").strip(), values))
        return made


def iter_examples(
    parts: OpenApi3Parts, holder: dict[str, Any], document: Document, pointer: Pointer
) -> Iterator[tuple[Any, str, str, Pointer]]:
    """(value, name, text, pointer) of the written examples of a body or parameter."""
    if "example" in holder:
        yield holder["example"], "", "", (*pointer, "example")
    named = holder.get("examples")
    if isinstance(named, list):
        for index, value in enumerate(named):
            yield value, "", "", (*pointer, "examples", index)
        return
    for name, entry in mapping(named).items():
        entry, _, at, _ = parts.follow(entry, document, (*pointer, "examples", name), "example")
        found = mapping(entry)
        text = str(found.get("summary") or found.get("description") or "").strip()
        for key in ("value", "dataValue", "serializedValue"):
            if key in found:
                yield found[key], str(name), text, (*at, key)
                break


# What a whole description says ------------------------------------------------------------


def read_servers(value: Any) -> list[Server]:
    """Where an API runs, with the defaults of its variables in place (Server Object)."""
    made = []
    for entry in items(value):
        found = mapping(entry)
        variables = {
            str(name): str(mapping(v).get("default", "")) for name, v in mapping(found.get("variables")).items()
        }
        made.append(Server(str(found.get("url", "/")), str(found.get("description") or "").strip(), variables))
    return made


def read_security(value: Any) -> list[list[SecurityRequirement]] | None:
    """Alternatives, each of which needs all its schemes; None where nothing is said (Security Requirement Object)."""
    if not isinstance(value, list):
        return None
    return [
        [SecurityRequirement(str(name), [str(s) for s in items(scopes)]) for name, scopes in mapping(entry).items()]
        for entry in value
    ]


def read_schemes(value: Any) -> list[SecurityScheme]:
    """How callers prove who they are, by name (Security Scheme Object)."""
    return [_scheme(str(name), mapping(entry)) for name, entry in mapping(value).items()]


def _scheme(name: str, found: dict[str, Any]) -> SecurityScheme:
    kind = str(found.get("type", ""))
    place, field = str(found.get("in", "")), str(found.get("name", ""))
    scopes: dict[str, str] = {str(k): str(v) for k, v in mapping(found.get("scopes")).items()}
    for flow in mapping(found.get("flows")).values():
        scopes.update({str(k): str(v) for k, v in mapping(mapping(flow).get("scopes")).items()})
    if kind == "apiKey":
        word = {"query": "query parameter"}.get(place, place)
        words = f"A key in the {word} {field}." if field else "A key that comes with the user name."
    elif kind == "http" or kind == "basic":
        scheme = str(found.get("scheme", "basic")).lower()
        words = {
            "bearer": "A bearer token in the header Authorization.",
            "basic": "User name and password in the header Authorization.",
        }.get(scheme, f"The scheme {scheme} in the header Authorization.")
        place, field = "header", "Authorization"
    elif kind in ("oauth2", "openIdConnect"):
        words = "An OAuth 2.0 access token." if kind == "oauth2" else "A token of OpenID Connect."
        place, field = "header", "Authorization"
    elif kind == "mutualTLS":
        words = "A certificate of the caller (mutual TLS)."
    else:
        words = f"{kind or 'Something'} that the description does not explain."
    return SecurityScheme(name, kind, words, str(found.get("description") or "").strip(), place, field, scopes)
