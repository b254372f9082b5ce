"""Sending a reader's request to a server that the project allows, and judging the answer.

Nothing of a request is kept: headers and bodies may hold secrets, which come from the reader's
browser with each request and go on to the server alone.
"""

from __future__ import annotations

import time
from collections.abc import Mapping
from typing import Annotated, Any

import httpx
import msgspec
from django.conf import settings

from zarbek.core.jsonschema.validation import SchemaError, SchemaSet
from zarbek.core.model.interface import Answer, Media, Operation
from zarbek.core.requests.code_snippets import Snippet, snippets_of
from zarbek.core.requests.http_request import Call, CallRefused, build_call, without_secrets
from zarbek.service.catalog.models import Release
from zarbek.service.common.api import Address, Line
from zarbek.service.common.egress import EgressRefused, EgressTransport
from zarbek.service.common.problems import NotAllowed, NotFound, Refused
from zarbek.service.content.interface_lookup import InterfaceLookup
from zarbek.service.content.queries import find_entry, read_symbol
from zarbek.service.tryit.allowed_servers import allowed_server
from zarbek.service.tryit.status_texts import status_words

MAX_ANSWER_BYTES = 512 * 2**10
MAX_BODY_CHARS = 512 * 2**10
TIMEOUT_S = 20.0


class CallBody(msgspec.Struct, forbid_unknown_fields=True):
    """server: one that the project allows. values: place to name to value. send: false to get the
    request and its snippets only."""

    operation: Annotated[str, msgspec.Meta(max_length=700)]
    server: Address
    values: dict[Line, dict[Line, Any]] = {}
    body: Annotated[str, msgspec.Meta(max_length=MAX_BODY_CHARS)] = ""
    media_type: Line = ""
    send: bool = True


class Given(msgspec.Struct, kw_only=True):
    """What came back. time_ms: until the last byte. described: whether the description has the
    status; fits: whether the body is what it describes, None where that cannot be judged."""

    status: int
    reason: str
    headers: list[tuple[str, str]]
    body: str
    time_ms: int
    truncated: bool
    described: bool
    fits: bool | None
    faults: list[str]


class CallResult(msgspec.Struct, kw_only=True):
    """answer: None where nothing was sent or nothing came back. problem: why, or empty."""

    method: str
    url: str
    snippets: list[Snippet]
    answer: Given | None = None
    problem: str = ""


def make_call(release: Release, wanted: CallBody, *, transport: httpx.BaseTransport | None = None) -> CallResult:
    """Raises NotFound for no such operation, Refused for values from which no request can be made,
    NotAllowed for a server that the project does not allow."""
    operation, module = _operation(release, wanted.operation)
    server = allowed_server(release, wanted.server)
    if len(wanted.body) > MAX_BODY_CHARS:
        raise Refused(f"A body has at most {MAX_BODY_CHARS:,} characters here.")
    service = InterfaceLookup(release.pk).service(module)
    shown_values = without_secrets(wanted.values, service.schemes if service else [])
    try:
        call = build_call(operation, server, wanted.values, wanted.body, wanted.media_type)
        shown = build_call(operation, server, shown_values, wanted.body, wanted.media_type)
    except CallRefused as error:
        raise Refused(str(error)) from error
    # People paste these into places where secrets have no business.
    result = CallResult(method=shown.method, url=shown.url, snippets=snippets_of(shown))
    if not wanted.send:
        return result
    try:
        result.answer = _send(call, operation, release, transport)
    except EgressRefused as error:
        raise NotAllowed(f"{error}. The portal does not send requests there.") from error
    except httpx.TimeoutException:
        result.problem = f"The server did not answer within {TIMEOUT_S:g} s."
    except (httpx.HTTPError, httpx.InvalidURL) as error:
        result.problem = f"The server could not be reached: {error or type(error).__name__}."
    return result


def _operation(release: Release, path: str) -> tuple[Operation, str]:
    """With the module whose service it belongs to."""
    entry = find_entry(release.pk, path)
    interface = read_symbol(entry).interface if entry is not None else None
    operation = interface.operation if interface is not None else None
    if entry is None or operation is None or operation.incoming or operation.method in ("SEND", "RECEIVE", "CALL"):
        raise NotFound(f"{release.project.slug} {release.version} has no operation {path} that can be called.")
    return operation, entry.symbol.module


def _send(call: Call, operation: Operation, release: Release, transport: httpx.BaseTransport | None) -> Given:
    transport = transport or EgressTransport(settings.ALLOWED_PRIVATE, total_s=TIMEOUT_S)
    started = time.monotonic()
    with (
        httpx.Client(transport=transport, timeout=TIMEOUT_S, follow_redirects=False) as http,
        http.stream(call.method, call.url, headers=call.headers, content=call.body.encode() or None) as response,
    ):
        data, truncated = bytearray(), False
        for chunk in response.iter_bytes():
            data += chunk
            if len(data) > MAX_ANSWER_BYTES:
                truncated = True
                break
            if time.monotonic() - started > TIMEOUT_S:
                raise httpx.ReadTimeout("too slow")
    elapsed = int((time.monotonic() - started) * 1000)
    body = bytes(data[:MAX_ANSWER_BYTES]).decode(response.encoding or "utf-8", errors="replace")
    described, fits, faults = _judged(operation, response, body, truncated, release)
    phrase = response.reason_phrase or status_words(str(response.status_code))
    return Given(
        status=response.status_code, reason=phrase, headers=list(response.headers.multi_items()), body=body,
        time_ms=elapsed, truncated=truncated, described=described, fits=fits, faults=faults,
    )  # fmt: skip


def _judged(
    operation: Operation, response: httpx.Response, body: str, truncated: bool, release: Release
) -> tuple[bool, bool | None, list[str]]:
    answer = answer_for(operation.answers, response.status_code)
    if answer is None:
        listed = ", ".join(a.status for a in operation.answers) or "none"
        return False, None, [f"The description has no answer {response.status_code}; it has {listed}."]
    kind = response.headers.get("content-type", "").partition(";")[0].strip().lower()
    if not answer.media:
        return True, None if not body else False, [] if not body else ["The description gives this answer no body."]
    media = media_for(answer.media, kind)
    if media is None:
        told = ", ".join(m.type for m in answer.media)
        return True, False, [f"The body is {kind or 'of no named type'}; the description has {told}."]
    if truncated or "json" not in kind:
        return True, None, []
    return True, *_fits(body, media, release)


def _fits(body: str, media: Media, release: Release) -> tuple[bool | None, list[str]]:
    try:
        value = msgspec.json.decode(body)
    except msgspec.MsgspecError as error:
        return False, [f"The body is no JSON: {error}."]
    try:
        misfits = SchemaSet({}, InterfaceLookup(release.pk).schema).misfits(value, media.schema, "response")
    except SchemaError as error:
        return None, [f"The schema cannot be used: {error}."]
    return not misfits, [f"{m.path}: {m.message}" if m.path else m.message for m in misfits]


def answer_for(answers: list[Answer], status: int) -> Answer | None:
    """The description of a status: by its code, its range, or what holds for all others."""
    by_status: Mapping[str, Answer] = {a.status.upper(): a for a in answers}
    return by_status.get(str(status)) or by_status.get(f"{status // 100}XX") or by_status.get("DEFAULT")


def media_for(media: list[Media], kind: str) -> Media | None:
    """By the most specific of the types that fit (OpenAPI 3.2.0, "Media Type Object")."""
    plain = {m.type.partition(";")[0].strip().lower(): m for m in media}
    return plain.get(kind) or plain.get(kind.partition("/")[0] + "/*") or plain.get("*/*")
