"""Fingerprints of findings: equal while the same thing is wrong in the same symbol."""

from __future__ import annotations

from hashlib import sha256


def fingerprint(rule: str, subject: str, text: str) -> str:
    """16 hexadecimal digits. Lines, columns and the words around play no part, so that the
    print survives moves and edits nearby; a second equal mention in one symbol shares it."""
    return sha256(f"{rule}\0{subject}\0{' '.join(text.split())}".encode()).hexdigest()[:16]
