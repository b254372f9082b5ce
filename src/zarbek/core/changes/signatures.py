"""What is different about a symbol's declaration, and whether that breaks callers."""

from __future__ import annotations

import re
from collections.abc import Iterator

from zarbek.core.changes.callers import Callers, callers_of
from zarbek.core.changes.change import Detail
from zarbek.core.changes.interfaces import compare_interfaces
from zarbek.core.changes.schemas import words_of
from zarbek.core.changes.types import direction_of, spelt, without_arguments
from zarbek.core.linking.targets import TYPE_KINDS
from zarbek.core.model.symbol import Parameter, Signature, Symbol
from zarbek.core.model.visibility import LEVELS

_OPEN_KINDS = ("variadic", "keywords")
_THROWS = re.compile(r"\bthrows\s+([\w.,\s]+?)\s*(?:\{|$|;)")
#: What a compiler copies into callers: literals, and sums of them.
_PART = r"\(*[-+~]?(?:\d[\w.']*|\"(?:[^\"\\]|\\.)*\"|'(?:[^'\\]|\\.)*'|true|false)\)*"
_LITERAL = re.compile(rf"{_PART}(?:\s*(?:<<|>>|[-+*/|&])\s*{_PART})*")
_MAKERS = ("__init__", "__new__")
_VALUES = ("constant", "variable", "field", "attribute", "property", "member")
#: What callers use alike before and after.
_HARMLESS_KINDS = frozenset({("attribute", "property"), ("variable", "constant"), ("class", "exception")})
#: What is called alike where types are by structure.
_CALLED_ALIKE = frozenset({"method", "property", "function", "constant", "variable"})
#: Flag to what its coming takes away from callers, and what its going does.
_FLAGS = {
    "static": (
        "It belongs to the type now, no longer to a value.",
        "It belongs to a value now, no longer to the type.",
    ),
    "abstract": ("It must be implemented now.", ""),
    "final": ("It can no longer be overridden or extended.", ""),
    "async": ("Its result must be awaited now.", "Its result is there at once now; it can no longer be awaited."),
    "readonly": ("It can no longer be assigned.", ""),
}


def compare_declarations(old: Symbol, new: Symbol, aliases: frozenset[str] = frozenset()) -> list[Detail]:
    """Every difference that a caller, an implementer or a heir may notice, in reading order.

    aliases: names of types, of either release, that stand for others.
    """
    callers = callers_of(new.language, aliases)
    return [
        *_visibility(old, new), *_kind(old, new, callers), *_parameters(old, new, callers),
        *_returns(old, new, callers), *_type_parameters(old, new, callers), *_value(old, new, callers),
        *_bases(old, new, callers), *_flags(old, new), *_errors(old, new, callers), *compare_interfaces(old, new),
    ]  # fmt: skip


def declaration_of(symbol: Symbol) -> str:
    """The declaration on one line in the language's own form; a value's with its value."""
    if symbol.signatures:
        signature = symbol.signatures[0]
        return signature.text or f"{symbol.name}{_listed(signature)}"
    if symbol.kind in _VALUES:
        typed = f"{symbol.name}: {symbol.type}" if symbol.type else symbol.name
        return f"{typed} = {symbol.value}" if symbol.value else typed
    if symbol.interface is not None and symbol.interface.schema is not None and symbol.kind == "schema":
        return f"{symbol.name}: {words_of(symbol.interface.schema)}"
    return f"{symbol.kind} {symbol.name}" + (f"({', '.join(symbol.bases)})" if symbol.bases else "")


def _listed(signature: Signature) -> str:
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


def _visibility(old: Symbol, new: Symbol) -> Iterator[Detail]:
    before, after = LEVELS.index(old.visibility), LEVELS.index(new.visibility)
    if before != after:
        breaks = after > before and "unlisted" not in new.flags
        yield Detail("visibility", f"It is {new.visibility} now; it was {old.visibility}.", breaks,
                     old.visibility, new.visibility)  # fmt: skip


def _kind(old: Symbol, new: Symbol, callers: Callers) -> Iterator[Detail]:
    if old.kind != new.kind:
        is_alike = callers.structural and {old.kind, new.kind} <= _CALLED_ALIKE
        breaks = (old.kind, new.kind) not in _HARMLESS_KINDS and new.kind != "type" and not is_alike
        yield Detail("kind", f"It is a {new.kind} now; it was a {old.kind}.", breaks, old.kind, new.kind)


# Parameters -------------------------------------------------------------------------------


def _parameters(old: Symbol, new: Symbol, callers: Callers) -> Iterator[Detail]:
    is_made = callers.constructs and new.kind in TYPE_KINDS
    is_told_by_type = callers.constructs and old.name in _MAKERS
    if (old.kind in TYPE_KINDS and not is_made) or old.kind == "operation" or is_told_by_type:
        return
    if new.kind in _VALUES and callers.structural:
        return  # Its type says how it is called.
    gone = [s for s in old.signatures if s not in new.signatures]
    come = [s for s in new.signatures if s not in old.signatures]
    if len(old.signatures) == 1 == len(new.signatures) or len(gone) == 1 == len(come):
        yield from (d for left, right in zip(gone, come, strict=True) for d in _one(left, right, callers))
        return
    # Of several ways of calling, what the new ones take in any order is no change.
    if old.signatures and new.signatures:
        for signature in gone:
            if not any(not any(d.breaks for d in _one(signature, other, callers)) for other in new.signatures):
                told = _listed(signature)
                yield Detail("overload-removed", f"It can no longer be called as {new.name}{told}.", True, told, "")
        for signature in come:
            if not any(not any(d.breaks for d in _one(other, signature, callers)) for other in old.signatures):
                told = _listed(signature)
                yield Detail("overload-added", f"It can be called as {new.name}{told} too.", False, "", told)


def _one(old: Signature, new: Signature, callers: Callers) -> Iterator[Detail]:
    """What differs between two ways of calling."""
    before = [p for p in old.parameters if p.name not in ("self", "cls")]
    after = [p for p in new.parameters if p.name not in ("self", "cls")]
    if before == after:
        return
    renamed = _renamed(before, after, callers)
    kept = {renamed.get(p.name, p.name) for p in before}
    for p in before:
        now = next((q for q in after if q.name == renamed.get(p.name, p.name)), None)
        if now is None:
            yield _gone(p, after)
        else:
            if now.name != p.name:
                yield _new_name(p, now, callers)
            yield from _same_parameter(p, now, callers)
    for p in after:
        if p.name not in kept:
            yield _come(p, after, kept, callers)
    yield from _order(before, after, renamed)


def _renamed(before: list[Parameter], after: list[Parameter], callers: Callers) -> dict[str, str]:
    """Old name to new one, for parameters that are the same but for their name, in the same place; where nobody
    calls by name, for all."""
    names_before, names_after = {p.name for p in before}, {p.name for p in after}
    if len(before) != len(after):
        return {}
    if not callers.names:
        return {p.name: q.name for p, q in zip(before, after, strict=True)}
    return {
        p.name: q.name for p, q in zip(before, after, strict=True)
        if p.name not in names_after and q.name not in names_before and (p.kind, p.type) == (q.kind, q.type)
    }  # fmt: skip


def _gone(p: Parameter, after: list[Parameter]) -> Detail:
    swallowed = any(q.kind == "keywords" for q in after) and p.kind == "keyword-only"
    return Detail("parameter-removed", f"The parameter {p.name} is gone.", not swallowed, _written(p), name=p.name)


def _come(p: Parameter, after: list[Parameter], kept: set[str], callers: Callers) -> Detail:
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


def _new_name(p: Parameter, now: Parameter, callers: Callers) -> Detail:
    breaks = callers.names and p.kind not in ("positional-only", *_OPEN_KINDS)
    why = "; calls by name fail" if breaks else ""
    return Detail(
        "parameter-renamed", f"The parameter {p.name} is called {now.name} now{why}.", breaks, p.name, now.name, p.name
    )


def _same_parameter(p: Parameter, now: Parameter, callers: Callers) -> Iterator[Detail]:
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


# The rest of a declaration -----------------------------------------------------------------


def _returns(old: Symbol, new: Symbol, callers: Callers) -> Iterator[Detail]:
    if not old.signatures or not new.signatures:
        return
    before, after = old.signatures[0].returns, new.signatures[0].returns
    direction = direction_of(before, after, callers)
    if direction in ("same", "told"):
        if direction == "told":
            yield Detail("return-type", "The type of its result is told now." if after else
                         "The type of its result is no longer told.", False, before, after)  # fmt: skip
        return
    text = {"wider": "It may give more than before.", "narrower": "It gives less than before."}.get(
        direction, "It gives something else."
    )
    yield Detail("return-type", text, direction not in ("narrower", "unsure"), before, after)


def _type_parameters(old: Symbol, new: Symbol, callers: Callers) -> Iterator[Detail]:
    before = old.signatures[0].type_parameters if old.signatures else []
    after = new.signatures[0].type_parameters if new.signatures else []
    if before != after:
        is_alike = callers.structural and old.kind != new.kind
        breaks = len(before) != len(after) and not is_alike  # Bounds may stand elsewhere, too.
        yield Detail("type-parameters", "Its type parameters are others.", breaks,
                     ", ".join(before), ", ".join(after))  # fmt: skip


def _value(old: Symbol, new: Symbol, callers: Callers) -> Iterator[Detail]:
    if old.kind not in (*_VALUES, "macro", "type") and new.kind not in _VALUES:
        return
    direction = direction_of(old.type, new.type, callers)
    if direction not in ("same", "told"):
        is_input = callers.union == "!"  # Inputs of GraphQL may take more.
        breaks = direction != "unsure" and not (is_input and direction == "wider")
        yield Detail("type", "Its type is another.", breaks, old.type, new.type)
    elif direction == "told":
        yield Detail("type", "Its type is told now." if new.type else "Its type is no longer told.", False,
                     old.type, new.type)  # fmt: skip
    if old.value != new.value and (old.value or new.value):
        is_literal = all(_LITERAL.fullmatch(value) for value in (old.value, new.value))
        is_compiled_in = old.kind in ("constant", "member", "macro") and is_literal
        breaks = callers.inlines and is_compiled_in
        text = "Its value is another" + ("; callers have the old one compiled in." if breaks else ".")
        yield Detail("value", text, breaks, old.value, new.value)
    flags_before, flags_after = "optional" in old.flags, "optional" in new.flags
    if flags_before and not flags_after:
        yield Detail("optional", "It must be there now.", True)
    elif flags_after and not flags_before:
        yield Detail("optional", "It may be absent now.", True)


def _bases(old: Symbol, new: Symbol, callers: Callers) -> Iterator[Detail]:
    if new.kind == "type":
        return  # Another name of what it stands for.
    before, after = ([without_arguments(spelt(b, callers)) for b in side.bases if b != "object"] for side in (old, new))
    lost = [b for b in before if b not in after]
    won = [b for b in after if b not in before]
    if lost:  # What it derives from now may derive from that.
        yield Detail("base-removed", f"It no longer derives from {', '.join(lost)}.", not won, ", ".join(lost), "")
    if won:
        yield Detail("base-added", f"It derives from {', '.join(won)} now.", False, "", ", ".join(won))


def _flags(old: Symbol, new: Symbol) -> Iterator[Detail]:
    for flag, (come, gone) in _FLAGS.items():
        if flag in new.flags and flag not in old.flags:
            breaks = flag != "final" or old.kind not in _VALUES
            yield Detail(flag, come, breaks, "", flag)
        elif flag in old.flags and flag not in new.flags and gone:
            yield Detail(flag, gone, True, flag, "")


def _errors(old: Symbol, new: Symbol, callers: Callers) -> Iterator[Detail]:
    before, after = _raised(old, callers), _raised(new, callers)
    # What takes the place of another may be one of its kind.
    breaks = callers.checks_errors and not before - after
    for name in sorted(after - before):
        yield Detail(
            "error-added", f"It may fail with {name} now.", breaks and not name.startswith("Unchecked"), "", name
        )
    for name in sorted(before - after):
        yield Detail("error-removed", f"It no longer fails with {name}.", False, name, "")


def _raised(symbol: Symbol, callers: Callers) -> set[str]:
    """Declared errors where the language has them, else documented ones."""
    if callers.checks_errors:
        text = symbol.signatures[0].text if symbol.signatures else ""
        match = _THROWS.search(text)
        return {name.strip() for name in match[1].split(",")} if match else set()
    return {f.name for f in symbol.doc.raises if f.name} if symbol.doc else set()
