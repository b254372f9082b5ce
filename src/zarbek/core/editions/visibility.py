"""Which symbols readers of a release see, by its project's own options."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from zarbek.core.linking.index import SymbolEntry
from zarbek.core.model.visibility import shown_levels


@dataclass(frozen=True, slots=True)
class Audience:
    """levels: visibilities shown. special: whether undocumented special methods are shown too."""

    levels: tuple[str, ...] = ("public", "protected")
    special: bool = False

    def sees(self, entry: SymbolEntry) -> bool:
        """Bare attributes, which nobody has described or typed, are no part of a reference;
        special methods are, once someone has documented them."""
        if "bare" in entry.flags:
            return False
        if entry.visibility == "special":
            return self.special or bool(entry.summary)
        return entry.visibility in self.levels


def audience_of(options: Mapping[str, str]) -> Audience:
    """options: of a manifest; unknown levels are as public."""
    return Audience(shown_levels(options), options.get("special_members") == "true")
