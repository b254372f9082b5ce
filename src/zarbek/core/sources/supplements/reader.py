"""Supplements: Markdown files to pages that say for which elements they are."""

from __future__ import annotations

import re
from collections.abc import Iterator

import frontmatter
import yaml
from msgspec.structs import replace

from zarbek.core.model.limits import MAX_TITLE
from zarbek.core.model.mention import Mention
from zarbek.core.model.page import Page
from zarbek.core.model.supplement import SUPPLEMENT, How, Part, Supplement, SupplementPart
from zarbek.core.sources.guides.dialect import commonmark
from zarbek.core.sources.guides.reader import read_guide
from zarbek.core.sources.supplements.head import Head, known_keys, read_head

#: What its headings are called to what they are of.
PARTS: dict[str, Part] = {
    "summary": "summary", "text": "text", "remarks": "remarks", "examples": "examples", "example": "examples",
    "see also": "see", "parameters": "parameter",
}  # fmt: skip
_MAX_PARTS = 300
#: An entry of a list of parameters: its name in code, and what is said of it.
_PARAMETER = re.compile(r"^[-*] `([^`\n]+)`(?::|\s[–—-])?[ \t]*(.*(?:\n(?:[ \t]+.*|[ \t]*))*)", re.MULTILINE)


def read_supplement(raw: str, *, file: str, path: str, how: How = "add") -> Page:
    """One file. file: as it appears in findings. path: its address. how: of parts that do not say so themselves.

    Raises ValueError with a sentence for people where the file is no supplement.
    """
    try:
        post = frontmatter.loads(raw)
        head = read_head(dict(post.metadata))
    except yaml.YAMLError as error:
        raise ValueError(f"the front matter is no YAML: {error}") from error
    targets = [head.targets] if isinstance(head.targets, str) else head.targets
    # Keys of the same names mean other things in guides.
    page = read_guide(_without_head(raw, post.content), file=file, path=path)
    parts = list(_parts(page, head, how))
    if not parts and not head.keywords and not head.flags:
        raise ValueError("it says nothing")
    said = Supplement(
        targets=targets,
        parts=parts,
        keywords=head.keywords,
        language=head.language,
        written=str(head.written),
        flags=head.flags,
    )
    return replace(
        page, title=f"Supplement for {', '.join(targets)}"[:MAX_TITLE], hidden=["contents", "search"], supplement=said,
        mentions=[*_targets(targets, raw.split("\n")), *page.mentions],
    )  # fmt: skip


def is_supplement(raw: str) -> bool:
    """Whether a file says at its top, in whatever way, what supplements say."""
    try:
        return bool(known_keys() & frontmatter.loads(raw).metadata.keys())
    except yaml.YAMLError:
        return True


def _without_head(raw: str, text: str) -> str:
    """The same lines without what stands at the top. text: what follows that."""
    return "\n" * raw[: raw.find(text)].count("\n") + text if text else ""


def _targets(targets: list[str], lines: list[str]) -> Iterator[Mention]:
    for target in targets:
        name = target if target.startswith("api:") else f"api:{target}"
        row = next((n for n, line in enumerate(lines) if target in line), 0)
        yield Mention(target, name, "link", SUPPLEMENT, row + 1, lines[row].find(target) + 1)


def _parts(page: Page, head: Head, how: How) -> Iterator[SupplementPart]:
    """What it says, by its headings of the first level; what stands before any of them are remarks."""
    for kind, text, line in _cut(page):
        way: How = head.how if isinstance(head.how, str) else head.how.get(kind, how)
        if kind != "parameter":
            yield SupplementPart(kind, way, text, "", line)
            continue
        for found in list(_PARAMETER.finditer(text))[:_MAX_PARTS]:
            yield SupplementPart(kind, way, found[2].strip(), found[1][:MAX_TITLE], line)


def _cut(page: Page) -> Iterator[tuple[Part, str, int]]:
    """Its parts, what each says, and the line of the file at which that begins."""
    lines = page.text.split("\n")
    tops = [t.map[0] for t in commonmark().parse(page.text) if t.type == "heading_open" and t.tag == "h1" and t.map]
    titles = [h.title for h in page.headings if h.level == 1]
    begins = [(0, 0, "remarks"), *((at, at + 1, title) for at, title in zip(tops, titles, strict=True))]
    ends = [at for at, _, _ in begins[1:]] + [len(lines)]
    for (_, begin, title), end in list(zip(begins, ends, strict=True))[:_MAX_PARTS]:
        text = "\n".join(lines[begin:end])
        said = text.strip("\n")
        if said.strip():
            yield _part_called(title), said, page.line + begin + len(text) - len(text.lstrip("\n"))


def _part_called(title: str) -> Part:
    kind = PARTS.get(title.strip().lower())
    if kind is None:
        known = ", ".join(name.capitalize() for name in PARTS)
        raise ValueError(f"it has a part {title[:50]!r}, and parts are {known}")
    return kind
