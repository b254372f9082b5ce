"""Objective-C among the declarations of a C or C++ header: left out, so that the rest can be read."""

from __future__ import annotations

import re

from zarbek.core.sources.languages.preprocessor import blanked

_PARTS = re.compile(
    rb"/\*.*?(?:\*/|\Z)|//[^\n]*|\"(?:\\.|[^\"\\\n])*\""
    rb"|(?P<declared>^[ \t]*@(?:class|import|protocol)\b[^;@{}]*;)"
    rb"|(?P<whole>^[ \t]*@(?:interface|protocol|implementation)\b.*?(?:^[ \t]*@end\b|\Z))",
    re.DOTALL | re.MULTILINE,
)


def without_objective_c(data: bytes) -> tuple[bytes, int]:
    """The text with an empty statement in the place of each such declaration, and the line of the first, 0
    where there is none. Offsets and lines stay. A comment that starts a line with ``@class`` is a comment."""
    first = 0

    def leave_out(match: re.Match[bytes]) -> bytes:
        nonlocal first
        if match.lastgroup is None:
            return match[0]
        at = match.start() + match[0].index(b"@")
        first = first or data.count(b"\n", 0, at) + 1
        blank = blanked(match[0])
        return blank[: at - match.start()] + b";" + blank[at - match.start() + 1 :]

    return (_PARTS.sub(leave_out, data), first) if b"@" in data else (data, 0)
