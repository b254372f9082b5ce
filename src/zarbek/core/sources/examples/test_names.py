"""How tests are called: for readers, and in what runs them."""

from __future__ import annotations

import re

_PART = re.compile(r"[A-Za-z0-9_]+")
_HUMP = re.compile(r"(?<=[a-z0-9])(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z])")
_BEGINS = re.compile(r"^(?:tests?|it|should|example)(?=[\s_]|$)[\s_]*", re.IGNORECASE)
#: What runners put behind a name: the parameters of one run of it.
_PARAMETERS = re.compile(r"\s*[\[({<].*$", re.DOTALL)


def title_of(name: str) -> str:
    """A title made of the name of a test: ``test_rest_is_kept`` and ``restIsKept`` are *Rest is kept*."""
    words = _HUMP.sub(" ", name) if " " not in name else name
    words = " ".join(words.replace("_", " ").split())
    if words != words.upper():
        words = (
            " ".join(w if w.isupper() and len(w) > 1 else w.lower() for w in words.split())
            if " " not in name
            else words
        )
    plain = _BEGINS.sub("", words) or words
    return plain[:1].upper() + plain[1:]


def keys_of(name: str) -> list[str]:
    """The parts of a name of a test, in small letters: of ``crew.RestTest.keeps(int)[2]`` those of the first three."""
    return [part.casefold() for part in _PART.findall(_PARAMETERS.sub("", name))]
