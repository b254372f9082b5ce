"""Which symbols readers of a release see, by its project's own options."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass

from zarbek.core.linking.index import SymbolEntry
from zarbek.core.model.edition import Edition
from zarbek.core.model.visibility import KEPT_LEVELS, shown_levels


@dataclass(frozen=True, slots=True)
class Audience:
    """levels: visibilities shown. special: whether undocumented special methods are shown too. edition: that they read;
    None for all of a release."""

    levels: tuple[str, ...] = ("public", "protected")
    special: bool = False
    edition: Edition | None = None

    def sees(self, entry: SymbolEntry) -> bool:
        """Bare attributes, which nobody has described or typed, are no part of a reference;
        special methods are, once someone has documented them."""
        if "bare" in entry.flags or not self.has(entry.variants):
            return False
        if entry.visibility == "special":
            return self.special or bool(entry.summary)
        return entry.visibility in self.levels

    def has(self, variants: Collection[str]) -> bool:
        """Whether what has some flags is in the edition that they read. variants: with ``=LEVEL`` for what only those
        see who see that level."""
        flags = [v for v in variants if not v.startswith("=")]
        is_seen = len(flags) == len(variants) or all(v[1:] in self.levels for v in variants if v.startswith("="))
        return is_seen and (self.edition is None or self.edition.has(flags))

    def keeps(self, entry: SymbolEntry) -> bool:
        """Whether an element is kept from them: by its level, or by its flags."""
        return (entry.visibility in KEPT_LEVELS and entry.visibility not in self.levels) or not self.has(entry.variants)


def edition_mark(name: str) -> str:
    """What marks documents of search of what an edition has."""
    return f"in:{name}"


def audience_of(options: Mapping[str, str], edition: Edition | None = None) -> Audience:
    """options: of a manifest; unknown levels are as public."""
    levels = shown_levels(options)
    own = edition.levels(levels) if edition is not None else levels
    return Audience(own, options.get("special_members") == "true", edition)
