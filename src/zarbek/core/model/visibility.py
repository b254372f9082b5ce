"""Who sees what: the levels that a project shows to its readers."""

from __future__ import annotations

from collections.abc import Mapping

#: From what all see to what nobody does.
LEVELS = ("public", "special", "protected", "internal", "private")
#: Shown where a project says so only.
KEPT_LEVELS = ("internal", "private")
#: What a project says of itself to the levels that its readers see.
SHOWN = {
    "public": ("public", "protected"),
    "internal": ("public", "protected", "internal"),
    "private": ("public", "protected", "internal", "private"),
}


def kept_marks(level: str) -> frozenset[str]:
    """What marks that only those read something who see a level, ``=LEVEL``: with those of all levels that they see
    then, so that what several have says for whom all of them are. Empty for what all readers see."""
    return (
        frozenset(f"={kept}" for kept in KEPT_LEVELS[: KEPT_LEVELS.index(level) + 1])
        if level in KEPT_LEVELS
        else frozenset()
    )


def shown_levels(options: Mapping[str, str]) -> tuple[str, ...]:
    """The levels that readers see, by a manifest's options; unknown ones are as public."""
    return SHOWN.get(options.get("visibility", ""), SHOWN["public"])
