"""Text that XML can hold."""

from __future__ import annotations


def xml_text(text: str) -> str:
    """Without characters that XML 1.0 (section 2.2) does not know."""
    return "".join(c for c in text if c in "\t\n" or " " <= c <= "\ud7ff" or "\ue000" <= c <= "\ufffd" or c > "\uffff")
