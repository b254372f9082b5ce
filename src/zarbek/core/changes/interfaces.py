"""What is different about an operation, a message or a schema, by the direction in which values go."""

from __future__ import annotations

from collections.abc import Iterator

from zarbek.core.changes.change import Detail
from zarbek.core.changes.schemas import SchemaUse, compare_schemas, sides_of
from zarbek.core.model.interface import Answer, Body, Interface, Media, NamedValue, Operation, Particle, Service
from zarbek.core.model.symbol import Symbol

SENT, RECEIVED = SchemaUse(True, False), SchemaUse(False, True)
_WORDS = {"sequence": "in this order", "choice": "one of these", "all": "all of these"}


def compare_interfaces(old: Symbol, new: Symbol) -> list[Detail]:
    """Every difference that who calls, answers or reads may notice; empty for other symbols."""
    before, after = old.interface, new.interface
    if before is None or after is None:
        return []
    return [*_all(before, after, old.flags, new.flags), *_required(old, new)]


def _all(before: Interface, after: Interface, flags_before: list[str], flags_after: list[str]) -> Iterator[Detail]:
    if before.operation is not None and after.operation is not None:
        yield from _operations(before.operation, after.operation)
    if before.answer is not None:
        yield from _answer(before.answer, after.answer, RECEIVED, "") if after.answer is not None else ()
    elif before.schema is not None and after.schema is not None:
        yield from compare_schemas(before.schema, after.schema, sides_of(flags_before, flags_after))
    if before.slot is not None and after.slot is not None:
        yield from _slot(before.slot, after.slot, SENT)
    if before.content is not None or after.content is not None:
        yield from _content(before.content, after.content)
    if before.service is not None and after.service is not None:
        yield from _servers(before.service, after.service)


def _servers(before: Service, after: Service) -> Iterator[Detail]:
    known = {server.url for server in after.servers}
    for url in (s.url for s in before.servers if s.url not in known):
        yield Detail("server-removed", f"It is no longer served at {url}.", True, url, "")


def _required(old: Symbol, new: Symbol) -> Iterator[Detail]:
    """Elements and attributes of XML, fields of inputs: what must be there is a mark of their own."""
    if old.interface is not None and old.interface.schema is not None and old.kind == "schema":
        return
    if "required" in new.flags and "required" not in old.flags:
        yield Detail("required", "It must be there now.", True, "", "required")
    elif "required" in old.flags and "required" not in new.flags:
        yield Detail("optional", "It may be absent now.", True, "required", "")


# Operations -------------------------------------------------------------------------------


def _operations(old: Operation, new: Operation) -> Iterator[Detail]:
    sent, received = (RECEIVED, SENT) if new.incoming or new.method == "SEND" else (SENT, RECEIVED)
    if (old.method, old.path) != (new.method, new.path):
        before, after = f"{old.method} {old.path}", f"{new.method} {new.path}"
        yield Detail("address", f"It is asked for as {after} now.", True, before, after)
    yield from _slots(old.parameters, new.parameters, sent)
    yield from _bodies(old.body, new.body, sent)
    before_answers, after_answers = {a.status: a for a in old.answers}, {a.status: a for a in new.answers}
    for status, answer in before_answers.items():
        if status not in after_answers:
            breaks = status.startswith("2")
            yield Detail("status-removed", f"It no longer answers {status}.", breaks, f"{status} {answer.text}".strip())
        else:
            yield from _answer(answer, after_answers[status], received, f"The answer {status}")
    for status, answer in after_answers.items():
        if status not in before_answers:
            told = f"{status} {answer.text}".strip()
            yield Detail("status-added", f"It may answer {status} now.", False, "", told)
    yield from _security(old, new)


def _security(old: Operation, new: Operation) -> Iterator[Detail]:
    def words(operation: Operation) -> set[str]:
        return {" and ".join(n.scheme for n in needs) for needs in operation.security or ()}

    before, after = words(old), words(new)
    if before == after:
        return
    if not before - {""} or "" in before:
        if "" not in after:
            told = " or ".join(sorted(after))
            yield Detail("security", f"It asks who the caller is now: {told}.", True, "", told)
    else:
        gone = before - after
        told = " or ".join(sorted(after - {""})) or "nothing"
        yield Detail("security", f"It asks for {told} now.", bool(gone) and bool(after - {""}) and "" not in after,
                     " or ".join(sorted(before)), told)  # fmt: skip


def _slots(old: list[NamedValue], new: list[NamedValue], sides: SchemaUse) -> Iterator[Detail]:
    after = {(s.place, s.name.lower() if s.place == "header" else s.name): s for s in new}
    before = {(s.place, s.name.lower() if s.place == "header" else s.name): s for s in old}
    for key, slot in before.items():
        if key not in after:
            if slot.place != "path":
                yield Detail("parameter-removed", f"The {slot.place} parameter {slot.name} is no longer read.", True,
                             slot.name, "")  # fmt: skip
        else:
            yield from _slot(slot, after[key], sides)
    for key, slot in after.items():
        if key not in before and slot.place != "path":
            if slot.required:
                yield Detail(
                    "parameter-added", f"It needs a new {slot.place} parameter {slot.name}.", True, "", slot.name
                )
            else:
                yield Detail(
                    "parameter-added",
                    f"It takes a new optional {slot.place} parameter {slot.name}.",
                    False,
                    "",
                    slot.name,
                )


def _slot(old: NamedValue, new: NamedValue, sides: SchemaUse) -> Iterator[Detail]:
    if new.required and not old.required:
        yield Detail("required", f"The parameter {new.name} must be given now.", True, "", "required")
    elif old.required and not new.required:
        yield Detail("optional", f"The parameter {new.name} may be left out now.", False, "required", "")
    yield from compare_schemas(old.schema, new.schema, sides, new.name)


def _bodies(old: Body | None, new: Body | None, sides: SchemaUse) -> Iterator[Detail]:
    if old is None and new is not None:
        yield Detail("body", "It takes a body now.", new.required and sides.sent)
    elif new is None and old is not None:
        yield Detail("body", "It no longer takes a body.", True)
    elif old is not None and new is not None:
        if new.required and not old.required:
            yield Detail("required", "A body must be sent now.", sides.sent, "", "required")
        yield from _media(old.media, new.media, sides, "The body")


def _answer(old: Answer, new: Answer, sides: SchemaUse, it: str) -> Iterator[Detail]:
    it = it or "It"
    headers = {h.name.lower(): h for h in new.headers}
    for header in old.headers:
        if header.name.lower() not in headers:
            yield Detail("header-removed", f"{it} no longer has the header {header.name}.", True, header.name, "")
    known = {h.name.lower() for h in old.headers}
    for header in new.headers:
        if header.name.lower() not in known:
            yield Detail("header-added", f"{it} has a new header {header.name}.", False, "", header.name)
    yield from _media(old.media, new.media, sides, it)


def _media(old: list[Media], new: list[Media], sides: SchemaUse, it: str) -> Iterator[Detail]:
    after = {(m.type, m.name): m for m in new}
    before = {(m.type, m.name): m for m in old}
    for key, media in before.items():
        label = media.name or media.type
        if key not in after:
            yield Detail("media-removed", f"{it} is no longer {label}.", True, label, "")
        else:
            place = "" if it == "It" else it
            yield from compare_schemas(media.schema, after[key].schema, sides, place)
    for key, media in after.items():
        if key not in before:
            label = media.name or media.type
            yield Detail("media-added", f"{it} may be {label} now.", False, "", label)


# Content models ---------------------------------------------------------------------------


def _content(old: Particle | None, new: Particle | None) -> Iterator[Detail]:
    """Elements that a type holds itself are symbols of their own; what is told here is how they stand."""
    before, after = _elements(old), _elements(new)
    for name, (least, most) in before.items():
        if name not in after:
            yield Detail("element-removed", f"It no longer holds {name}.", True, name, "")
            continue
        now = after[name]
        if now == (least, most):
            continue
        was, is_now = _times(least, most), _times(*now)
        yield Detail(
            "times", f"{name} stands {is_now} now; it was {was}.", now[0] > least or _fewer(now[1], most), was, is_now
        )
    for name, (least, most) in after.items():
        if name not in before:
            yield Detail("element-added", f"It holds {name} now, {_times(least, most)}.", least > 0, "", name)
    if old is not None and new is not None and old.kind != new.kind:
        yield Detail("order", f"What it holds stands {_WORDS.get(new.kind, new.kind)} now.", True,
                     _WORDS.get(old.kind, old.kind), _WORDS.get(new.kind, new.kind))  # fmt: skip


def _elements(particle: Particle | None, optional: bool = False, many: bool = False) -> dict[str, tuple[int, int]]:
    if particle is None:
        return {}
    if particle.kind in ("element", "group", "any"):
        least = 0 if optional else particle.least
        return {particle.name: (least, -1 if many else particle.most)}
    found: dict[str, tuple[int, int]] = {}
    for part in particle.parts:
        loose = optional or particle.least == 0 or (particle.kind == "choice" and len(particle.parts) > 1)
        found.update(_elements(part, loose, many or particle.most != 1))
    return found


def _fewer(now: int, before: int) -> bool:
    return now != -1 and (before == -1 or now < before)


def _times(least: int, most: int) -> str:
    if (least, most) == (1, 1):
        return "once"
    if (least, most) == (0, 1):
        return "once or not at all"
    if most == -1:
        return "any number of times" if least == 0 else f"{least} or more times"
    return f"{least} to {most} times"
