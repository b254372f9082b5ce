"""Who takes the lines."""

from __future__ import annotations


def hands_for(lines: int, night: bool = False) -> int:
    """How many hands a berthing takes.

    Lines are those that ``halmere::Deck::moor`` lays; a line is let go by [cast_off](api://pontoon/halmere::Line::cast_off).

    Args:
        lines: Between the ship and the deck.
        night: Whether it is dark.

    Returns:
        Hands on deck and ashore together.
    """
    return lines // 2 + (2 if night else 1)
