"""A request of HTTP put together from an operation and values, before anything is sent.

Sources: RFC 9110 (HTTP semantics), RFC 3986 (addresses), RFC 6265 (cookies); OpenAPI 3.2.0, section
4.12.6 "Style Values" for how lists and objects are written.
"""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from typing import Any
from urllib.parse import quote

import msgspec

from zarbek.core.jsonschema.example_generation import example_for
from zarbek.core.jsonschema.validation import Find
from zarbek.core.model.interface import NamedValue, Operation, SecurityScheme, Server

_BRACES = re.compile(r"\{([^{}]+)\}")
#: What a caller may not set: it belongs to the connection, not to the request (RFC 9110, section 7.6).
FORBIDDEN_HEADERS = frozenset(
    "host connection keep-alive proxy-authenticate proxy-authorization te trailer transfer-encoding upgrade "
    "content-length expect forwarded x-forwarded-for x-forwarded-host x-forwarded-proto via".split()
)
_TOKEN = re.compile(r"[!#$%&'*+.^_`|~0-9A-Za-z-]+\Z")
#: Visible characters and blanks (RFC 9110, section 5.5).
_FIELD_VALUE = re.compile(r"[\t\x20-\x7e\xa0-\xff]*")
SECRET = "YOUR-SECRET"
#: Of an example in code: longer ones bury the code.
_MAX_BODY = 8000
_MAX_VALUES = 120


class Call(msgspec.Struct, frozen=True, omit_defaults=True):
    """A request as it goes out. headers: in order. body: text, empty for none."""

    method: str
    url: str
    headers: list[tuple[str, str]] = []
    body: str = ""


class CallRefused(ValueError):
    """Values from which no request can be made; ``str()`` says which and why."""


def server_address(server: Server, base: str = "") -> str:
    """The address of a server with its variables' defaults, made absolute by where its description lies."""
    url = _BRACES.sub(lambda m: server.variables.get(m[1], m[1]), server.url)
    if "://" in url or not base:
        return url.rstrip("/")
    return (base.rstrip("/") + "/" + url.lstrip("/")).rstrip("/")


def build_call(
    operation: Operation,
    address: str,
    values: Mapping[str, Mapping[str, Any]],
    body: str = "",
    media_type: str = "",
) -> Call:
    """values: place (path, query, header, cookie) to name to value, as text or as JSON value; what is
    not described may be given, too.

    Raises CallRefused: a path parameter without a value, a path that leaves its server's, a header that
    is none or not a caller's.
    """
    path = "/".join(_segment(part, values.get("path") or {}) for part in operation.path.split("/"))
    query = _query_of(operation, values.get("query") or {})
    url = address.rstrip("/") + path + (f"?{query}" if query else "")
    headers = _headers_of(operation, values, media_type if body else "")
    for name, value in headers:
        if not is_header(name, value):
            raise CallRefused(f"{name!r} is no header that can be sent.")
        if name.lower() in FORBIDDEN_HEADERS:
            raise CallRefused(f"The header {name} belongs to the connection and cannot be set.")
    return Call(operation.method, url, headers, body)


def _query_of(operation: Operation, values: Mapping[str, Any]) -> str:
    known = {s.name: s for s in operation.parameters if s.place == "query"}
    given = ((name, value) for name, value in values.items() if value not in (None, ""))
    return "&".join(part for name, value in given for part in _query(name, value, known.get(name)))


def _headers_of(
    operation: Operation, values: Mapping[str, Mapping[str, Any]], media_type: str
) -> list[tuple[str, str]]:
    """What is given, and what follows from the body and the answers where it is not."""
    headers = [(name, _plain(value)) for name, value in (values.get("header") or {}).items() if value not in (None, "")]
    cookies = [f"{name}={quote(_plain(v), safe='')}" for name, v in (values.get("cookie") or {}).items() if v]
    accepted = list(dict.fromkeys(m.type for a in operation.answers for m in a.media))
    implied = (("Content-Type", media_type), ("Accept", ", ".join(accepted[:4])))
    if cookies:
        headers.append(("Cookie", "; ".join(cookies)))
    given = {name.lower() for name, _ in headers}
    return headers + [(name, value) for name, value in implied if value and name.lower() not in given]


def _segment(template: str, values: Mapping[str, Any]) -> str:
    """One part of a path with its values, each of which stays one: dots do not lead up (RFC 3986,
    section 5.2.4), strokes do not lead down."""
    if template in (".", ".."):
        raise CallRefused("The path of the operation leads out of its server's.")

    def value_of(match: re.Match[str]) -> str:
        value = values.get(match[1])
        if value in (None, ""):
            raise CallRefused(f"The path needs a value for {match[1]}.")
        return quote(_plain(value), safe="")

    made = _BRACES.sub(value_of, template)
    return made.replace(".", "%2E") if made in (".", "..") else made


def is_header(name: str, value: str) -> bool:
    """Whether a field can be sent at all (RFC 9110, section 5)."""
    return bool(_TOKEN.match(name) and _FIELD_VALUE.fullmatch(value))


def without_secrets(
    values: Mapping[str, Mapping[str, Any]], schemes: list[SecurityScheme]
) -> dict[str, dict[str, Any]]:
    """The values with a mark in the place of each that a scheme names, of Authorization and of cookies."""
    fields = {(s.place, s.field.lower()) for s in schemes} | {("header", "authorization"), ("header", "cookie")}
    return {
        place: {n: SECRET if v and (place == "cookie" or (place, n.lower()) in fields) else v for n, v in given.items()}
        for place, given in values.items()
    }


def _plain(value: Any) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, list):
        return ",".join(_plain(v) for v in value)
    return value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)


def _query(name: str, value: Any, slot: NamedValue | None) -> list[str]:
    key = quote(name, safe="[]")
    if isinstance(value, list):
        explode = slot.explode if slot is not None else True
        if explode:
            return [f"{key}={quote(_plain(v), safe='')}" for v in value]
        joint = {"spaceDelimited": "%20", "pipeDelimited": "|"}.get(slot.style if slot else "", ",")
        return [f"{key}={joint.join(quote(_plain(v), safe='') for v in value)}"]
    if isinstance(value, dict):
        if slot is not None and slot.style == "deepObject":
            return [f"{key}[{quote(str(k))}]={quote(_plain(v), safe='')}" for k, v in value.items()]
        return [f"{quote(str(k))}={quote(_plain(v), safe='')}" for k, v in value.items()]
    return [f"{key}={quote(_plain(value), safe='')}"]


def example_call(operation: Operation, address: str, find: Find, schemes: list[SecurityScheme]) -> Call:
    """A request with an example of everything that must be given, and a mark in the place of secrets."""
    values: dict[str, dict[str, Any]] = {}
    for slot in operation.parameters:
        if slot.required or slot.examples:
            values.setdefault(slot.place, {})[slot.name] = example_of_slot(slot, find)
    body, media_type = example_body(operation, find)
    call = build_call(operation, address, values, body, media_type)
    secrets = _secret_headers(operation, schemes)
    return msgspec.structs.replace(call, headers=[*secrets, *call.headers])


def _secret_headers(operation: Operation, schemes: list[SecurityScheme]) -> list[tuple[str, str]]:
    by_name = {s.name: s for s in schemes}
    needs = next(iter(operation.security or ()), [])
    made = []
    for need in needs:
        scheme = by_name.get(need.scheme)
        if scheme is not None and scheme.place == "header" and scheme.field:
            is_token = scheme.field == "Authorization" and scheme.type != "apiKey"
            word = "Basic " if "password" in scheme.words else "Bearer " if is_token else ""
            made.append((scheme.field, word + SECRET))
    return made


def example_of_slot(slot: NamedValue, find: Find) -> Any:
    """A written example, else one made from the schema."""
    if slot.examples:
        return _value_of(slot.examples[0].content)
    return slot.name if is_any_text(slot) else example_for(slot.schema, find, "request")


def is_any_text(slot: NamedValue) -> bool:
    """Whether nothing is known of a parameter's values but that they are texts."""
    said = slot.schema.keys() - {"description", "title", "type", "minLength", "maxLength"}
    return not slot.examples and not said and slot.schema.get("type", "string") == "string"


def _value_of(content: str) -> Any:
    try:
        return json.loads(content)
    except ValueError:
        return content


def example_body(operation: Operation, find: Find) -> tuple[str, str]:
    """(body, media type) of the first form in which a body may be sent; empty for none."""
    media = next(iter(operation.body.media), None) if operation.body else None
    if media is None:
        return "", ""
    if media.examples and len(media.examples[0].content) <= _MAX_BODY:
        return media.examples[0].content, media.type
    value = example_for(media.schema, find, "request", _MAX_VALUES)
    if media.type.startswith("application/x-www-form-urlencoded") and isinstance(value, dict):
        return "&".join(p for k, v in value.items() for p in _query(str(k), v, None)), media.type
    return json.dumps(value, indent=2, ensure_ascii=False), media.type
