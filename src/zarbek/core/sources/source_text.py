"""Bytes of a source file to text. Source: PEP 263 for Python's encoding declaration."""

from __future__ import annotations

import io
import tokenize


class UnreadableText(Exception):
    """Bytes that are no text. ``line`` is where it was noticed, from 1."""

    def __init__(self, reason: str, line: int) -> None:
        super().__init__(reason)
        self.reason, self.line = reason, line

    def __str__(self) -> str:
        return self.reason


def decode_python(data: bytes) -> str:
    """Raises UnreadableText for binary data, an unknown encoding, or bytes that break it."""
    if b"\0" in data:
        raise UnreadableText("it is binary", data.count(b"\n", 0, data.index(b"\0")) + 1)
    try:
        encoding, _ = tokenize.detect_encoding(io.BytesIO(data).readline)
        text = data.decode(encoding)
    except (SyntaxError, LookupError) as error:
        raise UnreadableText(f"its encoding is not known: {error}", 1) from error
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise UnreadableText(f"it is not valid {error.encoding}", line) from error
    return text.replace("\r\n", "\n").replace("\r", "\n").replace("\f", " ").removeprefix("\ufeff")
