"""Bytes of a page to text. Source: HTML Living Standard, section 13.2.3; labels: Encoding Standard (WHATWG)."""

from __future__ import annotations

import codecs
import re

import charset_normalizer
import webencodings

_MARKS = ((codecs.BOM_UTF8, "utf-8"), (codecs.BOM_UTF16_BE, "utf-16be"), (codecs.BOM_UTF16_LE, "utf-16le"))
#: Where a page says its encoding.
_PRESCANNED = 1024
_META = re.compile(rb"<meta\b[^>]*?charset\s*=\s*[\"']?\s*([\w.:-]+)", re.IGNORECASE)
_XML = re.compile(rb"<\?xml\b[^>]*?\bencoding\s*=\s*[\"']([\w.:-]+)[\"']")
#: So much of a page that says nothing is looked at.
_GUESSED = 64 * 1024


def decode_page(data: bytes) -> str:
    """A page's text: by its byte order mark, by what it says, as UTF-8, else as its bytes look. Bytes that its encoding
    has not become U+FFFD, as browsers show them."""
    for mark, name in _MARKS:
        if data.startswith(mark):
            return data[len(mark) :].decode(name, errors="replace")
    head = data[:_PRESCANNED]
    said = _META.search(head) or _XML.match(head)
    encoding = webencodings.lookup(said[1].decode("ascii")) if said else None
    if encoding is not None and encoding.name in ("utf-16be", "utf-16le", "x-user-defined"):
        encoding = webencodings.UTF8  # As the standard says: it was read as ASCII.
    if encoding is not None:
        return _decoded(data, encoding)
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError:
        best = charset_normalizer.from_bytes(data[:_GUESSED]).best()
        found = webencodings.lookup(best.encoding.replace("_", "-")) if best is not None else None
        return _decoded(data, found or "windows-1252")


def _decoded(data: bytes, encoding: webencodings.Encoding | str) -> str:
    text: str = webencodings.decode(data, encoding)[0]
    return text
