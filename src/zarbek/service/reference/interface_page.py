"""The page of an operation, a schema, a message or an API, in words and with examples."""

from __future__ import annotations

import json
from collections.abc import Callable
from functools import cached_property, lru_cache
from typing import Any
from urllib.parse import quote

from zarbek.core.jsonschema.example_generation import example_for
from zarbek.core.jsonschema.schema_rows import Row, TypePart, limits_in_words, tree_of, type_words
from zarbek.core.jsonschema.validation import Direction, SchemaError, SchemaSet
from zarbek.core.linking.index import SymbolEntry
from zarbek.core.model.interface import (
    Answer,
    Body,
    Example,
    Interface,
    Media,
    NamedValue,
    Operation,
    Particle,
    Schema,
    SecurityRequirement,
    Service,
)
from zarbek.core.model.symbol import Symbol
from zarbek.core.requests.code_snippets import snippets_of
from zarbek.core.requests.http_request import CallRefused, example_call, example_of_slot, is_any_text, server_address
from zarbek.core.writing.html import NO_HTML, SafeHtml, highlight_code
from zarbek.core.writing.type_text import Piece
from zarbek.service.catalog.models import Release
from zarbek.service.content.interface_lookup import InterfaceLookup
from zarbek.service.content.queries import find_entry, find_exact, find_unit_of, get_contents
from zarbek.service.links.documents import LinkMap
from zarbek.service.links.queries import get_link_map, links_in, list_referrers
from zarbek.service.reference.interface_page_data import (
    AnswerView,
    BodyView,
    ExampleView,
    FollowupView,
    GroupView,
    InterfaceView,
    LinkView,
    MediaView,
    NeedView,
    OperationView,
    ParticleView,
    RowView,
    ServiceView,
    SlotView,
)  # fmt: skip
from zarbek.service.reference.linked_texts import UNLINKED, Texts
from zarbek.service.tryit.allowed_servers import allowed_servers, is_allowed
from zarbek.service.tryit.status_texts import status_words

_MAX_USED = 60
_MAX_LISTED = 250
_OPEN_LEVELS = 3
_MAX_PAGE_ROWS = 240
_MAX_CODE = 16_000
_MAX_EXAMPLE = 60_000
#: What a service asks of its users: webhooks and callbacks.
_INCOMING = "What it calls"


def get_interface_view(release: Release, symbol: Symbol, texts: Texts) -> InterfaceView:
    """What the symbol's interface says."""
    return _Page(release, symbol, texts).view(symbol.interface or Interface())


class _Page:
    def __init__(self, release: Release, symbol: Symbol, texts: Texts) -> None:
        self.release, self.symbol, self.texts = release, symbol, texts
        self.lookup = InterfaceLookup(release.pk)
        self.rows_left, self.example_left = _MAX_PAGE_ROWS, _MAX_EXAMPLE
        self._joined: dict[str, Texts] = {}

    @property
    def find(self) -> Callable[[str], Schema | None]:
        return self.lookup.schema

    def view(self, interface: Interface) -> InterfaceView:
        schema = interface.schema if self.symbol.kind in ("schema", "parameter") else None
        facets = interface.schema if self.symbol.language in ("xsd", "wsdl") else None
        direction = self._direction()
        examples: list[ExampleView] = []
        if schema is not None:
            written = [*interface.examples, *(Example(_json(e)) for e in schema.get("examples") or ())]
            examples = self._examples(written, {"$ref": f"api:{self.symbol.path}"}, direction, "application/json")
        return InterfaceView(
            operation=self._operation(interface.operation) if interface.operation else None,
            service=self._service(interface.service) if interface.service else None,
            rows=self._rows(schema, levels=1, own=self.symbol.path) if schema is not None else [], examples=examples,
            content=self._particle(content) if (content := interface.content or self._content_of_type()) else None,
            slot=self._slot(interface.slot) if interface.slot else None,
            answer=self._answer(interface.answer, self._side_of_message()) if interface.answer else None,
            facets={k: _facet(v) for k, v in facets.items()} if facets else {},
            sides=self._sides(), evidence=interface.evidence, source=_code(interface.source, "xml"),
            used_by=self._used_by(),
        )  # fmt: skip

    def _content_of_type(self) -> Particle | None:
        """What an element holds by its type."""
        if self.symbol.kind != "element":
            return None
        targets = [m.name[4:] for m in self.symbol.mentions if m.text == self.symbol.type and m.name.startswith("api:")]
        found = self.lookup.interface(targets[0]) if targets else None
        return found.content if found is not None else None

    # Directions ---------------------------------------------------------------------------

    def _direction(self) -> Direction:
        flags = self.symbol.flags
        return "request" if "request" in flags and "response" not in flags else "response"

    def _side_of_message(self) -> Direction:
        return "" if self.symbol.kind == "message" else "response"

    def _sides(self) -> str:
        sent, received = "request" in self.symbol.flags, "response" in self.symbol.flags
        if self.symbol.kind != "schema" or not (sent or received):
            return ""
        return "You send it and receive it." if sent and received else "You send it." if sent else "You receive it."

    # Schemas ------------------------------------------------------------------------------

    def _rows(self, schema: Schema | None, *, levels: int = _OPEN_LEVELS, own: str = "") -> list[RowView]:
        if not schema or self.rows_left <= 0:
            return []
        rows = tree_of(schema, self.find, levels=levels, most=self.rows_left, own=own)
        self.rows_left -= len(rows)
        texts = self._texts_of_opened()
        if rows and not rows[0].words and len(rows) > 1 and "$ref" not in schema and schema.get("type") == "object":
            rows = rows[1:]  # That it is an object goes without saying.
        return [self._row(row, texts) for row in rows]

    def _texts_of_opened(self) -> Texts:
        """The page's own texts with those of the schemas that were opened in it."""
        joined = self.texts
        for path in self.lookup.opened():
            if path not in self._joined:
                self._joined[path] = self._texts_of(self.lookup.symbol(path))
            joined = joined.joined(self._joined[path])
        return joined

    def _texts_of(self, symbol: Symbol | None) -> Texts:
        """The texts of another symbol with its links; findings are told on its own page."""
        if symbol is None or not symbol.mentions:
            return UNLINKED
        unit = find_unit_of(get_contents(self.release.pk), symbol.path)
        return Texts(
            list(symbol.mentions), links_in(self.release, self._link_map.modules.get(unit, 0), symbol.path), []
        )

    @cached_property
    def _link_map(self) -> LinkMap:
        return get_link_map(self.release)

    def _row(self, row: Row, texts: Texts) -> RowView:
        return RowView(
            depth=row.depth, name=row.name, label=row.label, type=self._pieces(row.type), required=row.required,
            deprecated=row.deprecated, words=row.words, html=texts.block(row.text),
            example=row.example, anchor=row.anchor, folds=row.folds,
        )  # fmt: skip

    def _pieces(self, parts: list[TypePart]) -> list[Piece]:
        return [Piece(p.text, self._href(p.target), p.target) if p.target else Piece(p.text) for p in parts]

    def _href(self, target: str) -> str:
        """Where a schema stands: in this release, or at the address that its URI was resolved to."""
        if "://" in target or target.startswith("urn:"):
            return next((p.href for p in self.texts.name(target)), "")
        return _ref(self.release, target) if self.lookup.has(target) else ""

    # Examples -----------------------------------------------------------------------------

    def _examples(self, written: list[Example], schema: Schema, direction: Direction, kind: str) -> list[ExampleView]:
        """The written ones, each checked; where there is none, one made from the schema."""
        is_json = "json" in kind or kind == "*/*"
        if written:
            return [self._written(e, schema, direction, is_json=is_json) for e in written]
        if not schema or not is_json:
            return []
        value = example_for(schema, self.find, direction)
        raw = _json(value)
        if len(raw) > self.example_left:
            return []  # Nobody reads it, and whoever wants it has the schema.
        self.example_left -= len(raw)
        return [ExampleView(html=_code(raw, "json"), raw=raw, made=True)]

    def _written(self, example: Example, schema: Schema, direction: Direction, *, is_json: bool) -> ExampleView:
        faults: list[str] = []
        if is_json:
            try:
                value = json.loads(example.content)
                misfits = SchemaSet({}, self.find).misfits(value, schema, direction)
                faults = [f"{m.path}: {m.message}" if m.path else m.message for m in misfits[:5]]
            except (ValueError, SchemaError) as error:
                faults = [str(error)]
        language = "json" if is_json else "xml" if example.content.lstrip().startswith("<") else ""
        raw = example.content
        if len(raw) > self.example_left:
            raw = raw[: max(self.example_left, 200)] + "\n…"
        self.example_left -= min(len(raw), self.example_left)
        return ExampleView(name=example.name, text=example.text, html=_code(raw, language), raw=raw, faults=faults)

    def _media(self, media: Media, direction: Direction) -> MediaView:
        return MediaView(type=media.type, name=media.name, rows=self._rows(media.schema),
                         examples=self._examples(media.examples, media.schema, direction, media.type))  # fmt: skip

    # Operations ---------------------------------------------------------------------------

    def _operation(self, operation: Operation) -> OperationView:
        service = self.lookup.service(self.symbol.module)
        sent: Direction = "response" if operation.incoming or operation.method == "SEND" else "request"
        received: Direction = "request" if sent == "response" else "response"
        addresses = [server_address(s) for s in operation.servers or (service.servers if service else [])]
        callable_, snippets = self._asking(operation, addresses, service)
        return OperationView(
            method=operation.method,
            path=operation.path,
            id=operation.id,
            tags=operation.tags,
            incoming=operation.incoming,
            parameters=[self._slot(s) for s in operation.parameters],
            body=self._body(operation.body, sent) if operation.body else None,
            answers=[self._answer(a, received) for a in operation.answers],
            security=self._security(operation.security, service),
            servers=addresses,
            callable=callable_,
            callbacks=[LinkView(path, _ref(self.release, path)) for path in operation.callbacks],
            snippets=snippets,
        )

    def _body(self, body: Body, direction: Direction) -> BodyView:
        media = [self._media(m, direction) for m in body.media]
        return BodyView(html=self.texts.block(body.text), required=body.required, media=media)

    def _asking(
        self, operation: Operation, addresses: list[str], service: Service | None
    ) -> tuple[list[str], list[Any]]:
        """(servers that readers may ask, the request as code), both empty for what is no request of HTTP."""
        if operation.incoming or operation.method in ("SEND", "RECEIVE", "CALL"):
            return [], []
        allowed = allowed_servers(self.release)
        found = [a for a in addresses if is_allowed(a, allowed)]
        best = next(iter((*found, *addresses, *allowed)), "https://example.org")
        return found or allowed, self._snippets(operation, best, service)

    def _snippets(self, operation: Operation, address: str, service: Service | None) -> list[Any]:
        try:
            call = example_call(operation, address, self.find, service.schemes if service else [])
        except CallRefused:
            return []
        return snippets_of(call)

    def _security(
        self, security: list[list[SecurityRequirement]] | None, service: Service | None
    ) -> list[list[NeedView]] | None:
        return None if security is None else [[self._need(n, service) for n in needs] for needs in security]

    def _need(self, need: SecurityRequirement, service: Service | None) -> NeedView:
        scheme = next((s for s in service.schemes if s.name == need.scheme), None) if service else None
        if scheme is None:
            return NeedView(scheme=need.scheme, words="The description does not say how.", scopes=need.scopes)
        return NeedView(scheme=need.scheme, words=scheme.words, html=self.texts.line(scheme.text), scopes=need.scopes,
                        place=scheme.place, field=scheme.field)  # fmt: skip

    def _slot(self, slot: NamedValue) -> SlotView:
        is_shown = (slot.required and not is_any_text(slot)) or slot.examples
        value = example_of_slot(slot, self.find) if is_shown else ""
        enum = slot.schema.get("enum") or (self.find(slot.schema["$ref"][4:]) or {}).get("enum") if (
            "$ref" in slot.schema) else slot.schema.get("enum")  # fmt: skip
        return SlotView(
            name=slot.name,
            place=slot.place,
            type=self._pieces(type_words(slot.schema)),
            required=slot.required,
            deprecated=slot.deprecated,
            words=limits_in_words(slot.schema),
            html=self.texts.block(slot.text),
            value=value if isinstance(value, str) else json.dumps(value),
            href=_ref(self.release, slot.ref) if slot.ref else "",
            choices=[str(v) for v in enum][:50] if isinstance(enum, list) else [],
        )

    def _answer(self, answer: Answer, direction: Direction) -> AnswerView:
        return AnswerView(
            status=answer.status, words=status_words(answer.status), html=self.texts.block(answer.text),
            headers=[self._slot(h) for h in answer.headers], media=[self._media(m, direction) for m in answer.media],
            followups=[
                FollowupView(name=f.name, html=self.texts.line(f.text), target=f.target, values=f.values,
                             href=self._operation_href(f.target))
                for f in answer.followups
            ],
            href=_ref(self.release, answer.ref) if answer.ref else "",
        )  # fmt: skip

    def _operation_href(self, target: str) -> str:
        for path in (f"{self.symbol.module}.{target}", target):
            if target and self.lookup.has(path):
                return _ref(self.release, path)
        return ""

    # APIs ---------------------------------------------------------------------------------

    def _service(self, service: Service) -> ServiceView:
        groups: dict[str, list[LinkView]] = {tag: [] for tag in service.tags}
        for listed in service.operations:
            found = find_exact(self.release.pk, listed.path)
            if found is not None and found.symbol.kind == "operation":
                entry = found.symbol
                group = groups.setdefault(_INCOMING if listed.incoming else listed.tag, [])
                group.append(self._link(entry, listed.address))
        left = _MAX_LISTED
        shown = []
        for tag, links in groups.items():
            shown.append(GroupView(name=tag, html=self.texts.line(service.tags.get(tag, "")), total=len(links),
                                   operations=links[: max(left, 0)]))  # fmt: skip
            left -= len(links)
        return ServiceView(
            standard=service.standard, version=service.version, terms=service.terms, contact=service.contact,
            licence=service.licence, servers=[LinkView(server_address(s), "", text=s.text) for s in service.servers],
            schemes=[self._need(SecurityRequirement(s.name), service) for s in service.schemes],
            headers=[self._slot(h) for h in service.headers], groups=[g for g in shown if g.total],
            documents=service.documents,
        )  # fmt: skip

    # Content models -----------------------------------------------------------------------

    def _particle(self, particle: Particle, depth: int = 0) -> ParticleView:
        parts = particle.parts
        if particle.kind in ("element", "group") and particle.target and not parts and depth < 4:
            parts = self._of_target(particle.target, depth)
        return ParticleView(
            kind=particle.kind, name=particle.name, href=_ref(self.release, particle.target) if particle.target and
            self.lookup.has(particle.target) else "", type=particle.type, times=_times(particle.least, particle.most),
            optional=particle.least == 0, many=particle.most != 1,
            parts=[self._particle(p, depth + 1) for p in parts],
        )  # fmt: skip

    def _of_target(self, target: str, depth: int) -> list[Particle]:
        """What a referred element or group holds, one level further."""
        if depth >= 2:
            return []
        found = self.lookup.interface(target)
        return [found.content] if found is not None and found.content is not None else []

    def _link(self, entry: SymbolEntry, kind: str) -> LinkView:
        return LinkView(entry.name, _ref(self.release, entry.path), kind, html=UNLINKED.line(entry.summary),
                        deprecated=entry.deprecated is not None)  # fmt: skip

    def _used_by(self) -> list[LinkView]:
        if self.symbol.kind in ("operation", "api"):
            return []
        rows = list_referrers(self.release.project, self.symbol.path)
        own = [r for r in rows if r["project"] == self.release.project.slug and r["path"] != self.symbol.path]
        found = []
        for row in own[:_MAX_USED]:
            entry = find_entry(self.release.pk, row["path"]) if row["kind"] == "symbol" else None
            if entry is not None:
                found.append(self._link(entry.symbol, entry.symbol.kind))
        return sorted(found, key=lambda v: (v.kind, v.name))


def _ref(release: Release, path: str) -> str:
    return f"/ref/{quote(release.project.slug)}/{quote(release.version)}/{quote(path)}"


def _json(value: Any) -> str:
    return json.dumps(value, indent=2, ensure_ascii=False)


@lru_cache(maxsize=512)
def _code(text: str, language: str) -> SafeHtml:
    """Highlighted, but for texts that nobody reads to their end: those are shown as they are."""
    return highlight_code(text, language) if text and len(text) <= _MAX_CODE else NO_HTML


def _facet(value: Any) -> str:
    if not isinstance(value, list):
        return str(value)
    more = f" and {len(value) - _MAX_USED} more" if len(value) > _MAX_USED else ""
    return ", ".join(map(str, value[:_MAX_USED])) + more


def _times(least: int, most: int) -> str:
    if (least, most) == (1, 1):
        return ""
    if most == -1:
        return "any number" if least == 0 else f"{least} or more"
    return "may be left out" if (least, most) == (0, 1) else f"{least} to {most}"
