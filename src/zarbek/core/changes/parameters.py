"""What is different about the parameters of a function, and whether that breaks callers."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec.structs import replace
from rapidfuzz import fuzz

from zarbek.core.changes.change import Detail
from zarbek.core.changes.compatibility_rules import CompatibilityRules
from zarbek.core.changes.types import direction_of
from zarbek.core.linking.targets import TYPE_KINDS
from zarbek.core.model.naming import CONSTRUCTORS
from zarbek.core.model.symbol import Parameter, Signature, Symbol

VALUES = ("constant", "variable", "field", "attribute", "property", "member")
_OPEN_KINDS = ("variadic", "keywords")
#: Per cent of two names that must be equal for one that may be left out to be taken for the other.
_ALIKE = 50


def listed(signature: Signature) -> str:
    """The parameters in brackets, and what is given back, in Python's own form."""
    parts: list[str] = []
    marks = {"variadic": "*", "keywords": "**"}
    previous = ""
    for p in signature.parameters:
        if previous == "positional-only" and p.kind != previous:
            parts.append("/")
        if p.kind == "keyword-only" and previous not in ("keyword-only", "variadic"):
            parts.append("*")
        typed = f"{marks.get(p.kind, '')}{p.name}" + (f": {p.type}" if p.type else "")
        parts.append(typed + (f" = {p.default}" if p.default and p.type else f"={p.default}" if p.default else ""))
        previous = p.kind
    if previous == "positional-only":
        parts.append("/")
    return f"({', '.join(parts)})" + (f" -> {signature.returns}" if signature.returns else "")


def compare_parameters(old: Symbol, new: Symbol, callers: CompatibilityRules) -> Iterator[Detail]:
    """Every difference that a caller may notice, in reading order. Of several ways of calling, what the new ones
    take in any order is no change."""
    if not _is_called(old, new, callers):
        return
    gone = [s for s in old.signatures if s not in new.signatures]
    come = [s for s in new.signatures if s not in old.signatures]
    if len(old.signatures) == 1 == len(new.signatures) or len(gone) == 1 == len(come):
        yield from (d for left, right in zip(gone, come, strict=True) for d in _one(left, right, callers))
    elif old.signatures and new.signatures:
        yield from _ways(gone, come, old, new, callers)


def _ways(
    gone: list[Signature], come: list[Signature], old: Symbol, new: Symbol, callers: CompatibilityRules
) -> Iterator[Detail]:
    for told in (listed(s) for s in gone if not _can_be_called(s, new.signatures, callers)):
        yield Detail("overload-removed", f"It can no longer be called as {new.name}{told}.", True, told, "")
    for told in (listed(s) for s in come if not _can_be_called(s, old.signatures, callers)):
        yield Detail("overload-added", f"It can be called as {new.name}{told} too.", False, "", told)


def _is_called(old: Symbol, new: Symbol, callers: CompatibilityRules) -> bool:
    """Whether its own signature, not another's or its type, says how it is called."""
    is_made = callers.constructs and new.kind in TYPE_KINDS
    if old.kind in TYPE_KINDS and not is_made:
        return False
    is_told_by_type = callers.constructs and old.name in CONSTRUCTORS
    is_told_by_value = new.kind in VALUES and callers.structural
    return old.kind != "operation" and not is_told_by_type and not is_told_by_value


def _can_be_called(old: Signature, ways: list[Signature], callers: CompatibilityRules) -> bool:
    """Whether some way takes all calls of an old one, or one those that leave out what may be, and one the others."""
    if any(_takes(way, old, ways, callers) for way in ways):
        return True
    least = replace(old, parameters=[p for p in old.parameters if not p.default])
    most = replace(old, parameters=[replace(p, default="") for p in old.parameters])
    return all(any(_takes(way, call, ways, callers) for way in ways) for call in (least, most))


def _takes(new: Signature, old: Signature, ways: list[Signature], callers: CompatibilityRules) -> bool:
    """Whether what was called in one way can be called in another one, which is one of several."""
    return not any(d.breaks and not _is_taken(d, ways, callers) for d in _one(old, new, callers))


def _is_taken(detail: Detail, ways: list[Signature], callers: CompatibilityRules) -> bool:
    """Whether all ways of calling together take what a parameter was given."""
    if detail.kind != "parameter-type" or callers.union != "|":
        return False
    types = [p.type for way in ways for p in way.parameters if p.name == detail.name and p.type]
    return direction_of(detail.before, " | ".join(types), callers) not in ("narrower", "other")


def _one(old: Signature, new: Signature, callers: CompatibilityRules) -> Iterator[Detail]:
    """What differs between two ways of calling."""
    before, after = ([_told_kind(p, callers) for p in side.parameters if p.name not in ("self", "cls")]
                     for side in (old, new))  # fmt: skip
    if before == after:
        return
    renamed = _renamed(before, after, callers)
    named_after = {q.name: q for q in after}
    opened = [p for p in before if p.kind in _OPEN_KINDS and renamed.get(p.name, p.name) not in named_after]
    is_told_by_name = len(after) > len(before) - len(opened)
    for p in before:
        now = named_after.get(renamed.get(p.name, p.name))
        if now is not None:
            yield from _kept(p, now, callers)
        elif p in opened and is_told_by_name:
            told = f"What {p.name} takes is told by name now."
            yield Detail("parameter-removed", told, False, _written(p), name=p.name)
        else:
            yield _gone(p, after)
    yield from _all_come(before, after, {renamed.get(p.name, p.name) for p in before}, callers)
    yield from _order(before, after, renamed)


def _all_come(
    before: list[Parameter], after: list[Parameter], kept: set[str], callers: CompatibilityRules
) -> Iterator[Detail]:
    is_open = any(p.kind in _OPEN_KINDS for p in before)
    for p in (q for q in after if q.name not in kept):
        come = _come(p, after, kept, callers)
        yield replace(come, breaks=False) if is_open else come  # Those may have taken it.


def _kept(old: Parameter, new: Parameter, callers: CompatibilityRules) -> Iterator[Detail]:
    if new.name != old.name:
        yield _new_name(old, new, callers)
    yield from _same_parameter(old, new, callers)


def _told_kind(p: Parameter, callers: CompatibilityRules) -> Parameter:
    """A name that begins with two underscores is given by position (PEP 484, "Positional-only arguments")."""
    if callers.constructs and p.kind == "positional" and p.name.startswith("__") and not p.name.endswith("__"):
        return replace(p, kind="positional-only")
    return p


def _renamed(before: list[Parameter], after: list[Parameter], callers: CompatibilityRules) -> dict[str, str]:
    """Old name to new one, for parameters that are the same but for their name, in the same place; where nobody
    calls by name, for all."""
    if not callers.names:
        pairs = zip(before, after, strict=True) if len(before) == len(after) else ()
        return {p.name: q.name for p, q in pairs}
    gone, come = _without(before, after), _without(after, before)
    found = {p.name: q.name for p in gone for q in come if p.kind == q.kind and p.kind in _OPEN_KINDS}
    is_rest_there = len(before) == len(after)
    for p in gone:
        same = [q for q in come if before.index(p) == after.index(q) and _may_be(p, q, is_rest_there)]
        found.update((p.name, q.name) for q in same)
    return found


def _without(parameters: list[Parameter], others: list[Parameter]) -> list[Parameter]:
    names = {p.name for p in others}
    return [p for p in parameters if p.name not in names]


def _may_be(p: Parameter, q: Parameter, is_rest_there: bool) -> bool:
    """Whether a parameter in the place of another may be that under another name."""
    if {p.kind, q.kind} & {*_OPEN_KINDS} or (p.kind != q.kind and p.kind != "positional") or not is_rest_there:
        return False
    if not p.default and not q.default and p.kind != "keyword-only":
        return True  # The place says what it is.
    is_alike = p.default == q.default and (p.type == q.type or not p.type or not q.type)
    return is_alike and fuzz.ratio(p.name, q.name) >= _ALIKE


def _gone(p: Parameter, after: list[Parameter]) -> Detail:
    swallowed = any(q.kind == "keywords" for q in after) and p.kind == "keyword-only"
    return Detail("parameter-removed", f"The parameter {p.name} is gone.", not swallowed, _written(p), name=p.name)


def _come(p: Parameter, after: list[Parameter], kept: set[str], callers: CompatibilityRules) -> Detail:
    if p.kind in _OPEN_KINDS:
        return Detail("parameter-added", f"It takes any further {p.name} now.", False, "", _written(p), p.name)
    optional = bool(p.default) and callers.defaults
    if not optional:
        return Detail("parameter-added", f"It needs a new parameter {p.name}.", True, "", _written(p), p.name)
    later = after[after.index(p) + 1 :]
    shifts = p.kind in ("positional", "positional-only") and any(
        q.name in kept and q.kind in ("positional", "positional-only") for q in later
    )
    if shifts:
        text = f"The new optional parameter {p.name} stands before others, which calls by position now miss."
        return Detail("parameter-added", text, True, "", _written(p), p.name)
    return Detail("parameter-added", f"It takes a new optional parameter {p.name}.", False, "", _written(p), p.name)


def _new_name(p: Parameter, now: Parameter, callers: CompatibilityRules) -> Detail:
    breaks = callers.names and p.kind not in ("positional-only", *_OPEN_KINDS)
    why = "; calls by name fail" if breaks else ""
    return Detail(
        "parameter-renamed", f"The parameter {p.name} is called {now.name} now{why}.", breaks, p.name, now.name, p.name
    )


def _same_parameter(p: Parameter, now: Parameter, callers: CompatibilityRules) -> Iterator[Detail]:
    if p.kind != now.kind:
        narrower = {
            ("positional", "keyword-only"): "can only be given by name now",
            ("positional", "positional-only"): "can only be given by position now",
        }.get((p.kind, now.kind))
        if narrower:
            yield Detail("parameter-kind", f"The parameter {p.name} {narrower}.", True, p.kind, now.kind, p.name)
        elif now.kind == "positional":
            yield Detail("parameter-kind", f"The parameter {p.name} can be given by position and by name now.", False,
                         p.kind, now.kind, p.name)  # fmt: skip
        else:
            yield Detail("parameter-kind", f"The parameter {p.name} is {now.kind} now; it was {p.kind}.", True,
                         p.kind, now.kind, p.name)  # fmt: skip
    direction = direction_of(p.type, now.type, callers)
    if direction == "told" and p.type and not now.type:
        yield Detail("parameter-type", f"The type of {p.name} is no longer told.", False, p.type, "", p.name)
    elif direction == "told":
        yield Detail("parameter-type", f"The type of {p.name} is told now.", False, "", now.type, p.name)
    elif direction != "same":
        text = {"wider": "takes more than before", "narrower": "takes less than before"}.get(
            direction, "has another type"
        )
        breaks = direction not in ("wider", "unsure")
        yield Detail("parameter-type", f"The parameter {p.name} {text}.", breaks, p.type, now.type, p.name)
    if p.default and not now.default:
        yield Detail("default-removed", f"The parameter {p.name} must be given now.", True, p.default, "", p.name)
    elif not p.default and now.default:
        yield Detail("default-added", f"The parameter {p.name} may be left out now.", False, "", now.default, p.name)
    elif p.default != now.default:
        yield Detail("default-changed", f"{p.name} is {now.default} if left out; it was {p.default}.", False,
                     p.default, now.default, p.name)  # fmt: skip


def _order(before: list[Parameter], after: list[Parameter], renamed: dict[str, str]) -> Iterator[Detail]:
    positional = ("positional", "positional-only")
    left = [renamed.get(p.name, p.name) for p in before if p.kind in positional]
    right = [p.name for p in after if p.kind in positional]
    common = [n for n in left if n in right]
    now = [n for n in right if n in left]
    if common != now:
        yield Detail(
            "parameter-order", "Its parameters stand in another order.", True, ", ".join(common), ", ".join(now)
        )


def _written(p: Parameter) -> str:
    return p.name + (f": {p.type}" if p.type else "") + (f" = {p.default}" if p.default else "")
