"""How long texts and how large numbers of a bundle may be: what the portal can keep and find again.

A bundle that goes beyond is refused where it is read, with the place; gathering leaves such elements out.
"""

from __future__ import annotations

from typing import Annotated

import msgspec

MAX_PATH = 700
#: Of a project's slug.
MAX_SLUG = 100
MAX_LABEL, MAX_OWNER, MAX_PURL, MAX_NAMESPACE, MAX_TITLE, MAX_ADDRESS = 100, 200, 300, 300, 2000, 2000
MAX_FILE = 500

#: Names by which something is found: a symbol, its module, its parent.
Path = Annotated[str, msgspec.Meta(max_length=MAX_PATH)]
#: A file of the source, a page of the guides.
File = Annotated[str, msgspec.Meta(max_length=MAX_FILE)]
#: A line or column of a file, a place in an order.
Number = Annotated[int, msgspec.Meta(ge=-1, le=2**31 - 1)]
#: The same where it may be counted from the line of its symbol, up or down.
Offset = Annotated[int, msgspec.Meta(ge=-(2**31), le=2**31 - 1)]
Count = Annotated[int, msgspec.Meta(ge=0, le=2**53)]
Title = Annotated[str, msgspec.Meta(max_length=MAX_TITLE)]
Label = Annotated[str, msgspec.Meta(max_length=MAX_LABEL)]
Owner = Annotated[str, msgspec.Meta(max_length=MAX_OWNER)]
Purl = Annotated[str, msgspec.Meta(max_length=MAX_PURL)]
Namespace = Annotated[str, msgspec.Meta(max_length=MAX_NAMESPACE)]
Commit = Annotated[str, msgspec.Meta(max_length=64)]
Address = Annotated[str, msgspec.Meta(max_length=MAX_ADDRESS)]
RuleId = Annotated[str, msgspec.Meta(max_length=60, pattern="^[a-z0-9/-]+$")]
Fingerprint = Annotated[str, msgspec.Meta(max_length=16, pattern="^[0-9a-f]*$")]

#: Of one text, in characters: what takes longer than a second or two to set is shown as it is written.
MAX_TEXT, MAX_BRACKETS, MAX_MARKS = 1_000_000, 20_000, 200_000
_LEAST_DEAR = 10_000


def is_dear(text: str) -> bool:
    """Whether setting a text would take seconds: nobody reads so much on one page, and whoever writes so
    many brackets means none of them."""
    if len(text) < _LEAST_DEAR:
        return False
    return len(text) > MAX_TEXT or text.count("[") > MAX_BRACKETS or sum(map(text.count, "*_`<&")) > MAX_MARKS
