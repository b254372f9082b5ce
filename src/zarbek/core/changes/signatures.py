"""What is different about a symbol's declaration, and whether that breaks callers."""

from __future__ import annotations

import re
from collections.abc import Iterator

from zarbek.core.changes.change import Detail
from zarbek.core.changes.compatibility_rules import CompatibilityRules, callers_of
from zarbek.core.changes.data_models import compare_data
from zarbek.core.changes.interfaces import compare_interfaces
from zarbek.core.changes.parameters import VALUES, compare_parameters, listed
from zarbek.core.changes.schemas import words_of
from zarbek.core.changes.types import direction_of, spelt, without_arguments
from zarbek.core.model.symbol import Symbol
from zarbek.core.model.visibility import LEVELS

_THROWS = re.compile(r"\bthrows\s+([\w.,\s]+?)\s*(?:\{|$|;)")
#: What a compiler copies into callers: literals, and sums of them.
_PART = r"\(*[-+~]?(?:\d[\w.']*|\"(?:[^\"\\]|\\.)*\"|'(?:[^'\\]|\\.)*'|true|false)\)*"
_LITERAL = re.compile(rf"{_PART}(?:\s*(?:<<|>>|[-+*/|&])\s*{_PART})*")
#: What callers use alike before and after.
_HARMLESS_KINDS = frozenset(
    {
        ("attribute", "property"),
        ("property", "attribute"),
        ("variable", "constant"),
        ("variable", "class"),
        ("class", "exception"),
    }
)
#: Bases that tell readers of types something, and give no members.
_BASES_OF_TYPES = frozenset({"object", "Generic", "Protocol"})
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
    "unsafe": ("Callers must vouch for what it asks of them now: it is unsafe.", ""),
}


def compare_declarations(old: Symbol, new: Symbol, aliases: frozenset[str] = frozenset()) -> list[Detail]:
    """Every difference that a caller, an implementer or a heir may notice, in reading order.

    aliases: names of types, of either release, that stand for others.
    """
    callers = callers_of(new.language, aliases)
    return [
        *_visibility(old, new), *_kind(old, new, callers), *compare_parameters(old, new, callers),
        *_returns(old, new, callers), *_type_parameters(old, new, callers), *_value(old, new, callers),
        *_bases(old, new, callers), *_flags(old, new), *_errors(old, new, callers), *compare_interfaces(old, new),
        *compare_data(old, new),
    ]  # fmt: skip


def declaration_of(symbol: Symbol) -> str:
    """The declaration on one line in the language's own form; a value's with its value."""
    if symbol.signatures:
        signature = symbol.signatures[0]
        return signature.text or f"{symbol.name}{listed(signature)}"
    if symbol.kind in VALUES:
        typed = f"{symbol.name}: {symbol.type}" if symbol.type else symbol.name
        return f"{typed} = {symbol.value}" if symbol.value else typed
    if symbol.interface is not None and symbol.interface.schema is not None and symbol.kind == "schema":
        return f"{symbol.name}: {words_of(symbol.interface.schema)}"
    return f"{symbol.kind} {symbol.name}" + (f"({', '.join(symbol.bases)})" if symbol.bases else "")


def _visibility(old: Symbol, new: Symbol) -> Iterator[Detail]:
    before, after = LEVELS.index(old.visibility), LEVELS.index(new.visibility)
    if before != after:
        breaks = after > before and "unlisted" not in new.flags
        yield Detail("visibility", f"It is {new.visibility} now; it was {old.visibility}.", breaks,
                     old.visibility, new.visibility)  # fmt: skip


def _kind(old: Symbol, new: Symbol, callers: CompatibilityRules) -> Iterator[Detail]:
    if old.kind != new.kind:
        is_alike = callers.structural and {old.kind, new.kind} <= _CALLED_ALIKE
        breaks = (old.kind, new.kind) not in _HARMLESS_KINDS and new.kind != "type" and not is_alike
        told = f"It is {_one(new.kind)} now; it was {_one(old.kind)}."
        yield Detail("kind", told, breaks, old.kind, new.kind)


def _one(kind: str) -> str:
    return f"an {kind}" if kind[0] in "aeio" else f"a {kind}"


def _returns(old: Symbol, new: Symbol, callers: CompatibilityRules) -> Iterator[Detail]:
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


def _type_parameters(old: Symbol, new: Symbol, callers: CompatibilityRules) -> Iterator[Detail]:
    before = old.signatures[0].type_parameters if old.signatures else []
    after = new.signatures[0].type_parameters if new.signatures else []
    if before != after:
        is_alike = callers.structural and old.kind != new.kind
        breaks = len(before) != len(after) and not is_alike  # Bounds may stand elsewhere, too.
        yield Detail("type-parameters", "Its type parameters are others.", breaks,
                     ", ".join(before), ", ".join(after))  # fmt: skip


def _value(old: Symbol, new: Symbol, callers: CompatibilityRules) -> Iterator[Detail]:
    if old.kind not in (*VALUES, "macro", "type") and new.kind not in VALUES:
        return
    yield from _type(old, new, callers)
    if old.value != new.value:
        is_literal = all(_LITERAL.fullmatch(value) for value in (old.value, new.value))
        breaks = callers.inlines and old.kind in ("constant", "member", "macro") and is_literal
        text = "Its value is another" + ("; callers have the old one compiled in." if breaks else ".")
        yield Detail("value", text, breaks, old.value, new.value)
    was_optional, is_optional = "optional" in old.flags, "optional" in new.flags
    if was_optional and not is_optional:
        yield Detail("optional", "It must be there now.", True)
    elif is_optional and not was_optional:
        yield Detail("optional", "It may be absent now.", True)


def _type(old: Symbol, new: Symbol, callers: CompatibilityRules) -> Iterator[Detail]:
    direction = direction_of(old.type, new.type, callers)
    if direction == "told":
        text = "Its type is told now." if new.type else "Its type is no longer told."
        yield Detail("type", text, False, old.type, new.type)
    elif direction != "same":
        is_input = callers.union == "!"  # Inputs of GraphQL may take more.
        breaks = direction != "unsure" and not (is_input and direction == "wider")
        yield Detail("type", "Its type is another.", breaks, old.type, new.type)


def _bases(old: Symbol, new: Symbol, callers: CompatibilityRules) -> Iterator[Detail]:
    if new.kind == "type":
        return  # Another name of what it stands for.
    before, after = ([without_arguments(spelt(b, callers)) for b in side.bases] for side in (old, new))
    lost = [b for b in before if b not in after and b not in _BASES_OF_TYPES]
    won = [b for b in after if b not in before and b not in _BASES_OF_TYPES]
    if lost:  # What it derives from now may derive from that.
        yield Detail("base-removed", f"It no longer derives from {', '.join(lost)}.", not won, ", ".join(lost), "")
    if won:
        yield Detail("base-added", f"It derives from {', '.join(won)} now.", False, "", ", ".join(won))


def _flags(old: Symbol, new: Symbol) -> Iterator[Detail]:
    for flag, (come, gone) in _FLAGS.items():
        if flag == "async" and new.language == "csharp":
            continue  # Its result says whether it is awaited (C# specification, 15.15).
        if flag in new.flags and flag not in old.flags:
            breaks = flag != "final" or old.kind not in VALUES
            yield Detail(flag, come, breaks, "", flag)
        elif flag in old.flags and flag not in new.flags and gone:
            yield Detail(flag, gone, True, flag, "")


def _errors(old: Symbol, new: Symbol, callers: CompatibilityRules) -> Iterator[Detail]:
    before, after = _raised(old, callers), _raised(new, callers)
    # What takes the place of another may be one of its kind.
    breaks = callers.checks_errors and not before - after
    for name in sorted(after - before):
        yield Detail(
            "error-added", f"It may fail with {name} now.", breaks and not name.startswith("Unchecked"), "", name
        )
    for name in sorted(before - after):
        yield Detail("error-removed", f"It no longer fails with {name}.", False, name, "")


def _raised(symbol: Symbol, callers: CompatibilityRules) -> set[str]:
    """Declared errors where the language has them, else documented ones."""
    if callers.checks_errors:
        text = symbol.signatures[0].text if symbol.signatures else ""
        match = _THROWS.search(text)
        return {name.strip() for name in match[1].split(",")} if match else set()
    return {f.name for f in symbol.doc.raises if f.name} if symbol.doc else set()
