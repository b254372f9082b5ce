"""Examples as pages show them, and which examples an element has."""

from __future__ import annotations

import re
from collections.abc import Iterator

from zarbek.core.linking.link import Link
from zarbek.core.model.example import EXERCISED, Example, ExamplePart, Verdict
from zarbek.core.model.mention import Mention
from zarbek.core.model.symbol import Symbol
from zarbek.core.writing.code_html import linked_code
from zarbek.core.writing.code_tokens import CodeLink
from zarbek.core.writing.html import NO_HTML
from zarbek.core.writing.shown import Shown
from zarbek.service.catalog.models import Release
from zarbek.service.content.queries import find_entry, get_contents, get_verdicts, read_symbol
from zarbek.service.links.own_referrers import own_referrers_of
from zarbek.service.links.queries import get_link_map, links_of_text, with_versions
from zarbek.service.reference.example_page_data import ExamplePartView, ExampleView, ExercisedView
from zarbek.service.reference.linked_texts import Texts, href_of
from zarbek.service.reference.navigation import href_of_symbol

#: Of one element, as they stand on its page, and how many of them with their code.
MAX_SHOWN, MAX_WITH_CODE = 12, 4


def get_example_view(release: Release, symbol: Symbol, *, is_brief: bool = False) -> ExampleView | None:
    """What a page shows of an example, without its code where it is brief; None for a symbol that is none."""
    example = symbol.example
    if example is None:
        return None
    links = with_versions(release, links_of_text(release, get_link_map(release), "symbol", symbol.path))
    pairs = list(zip(symbol.mentions, links, strict=False))
    texts = Texts([m for m, _ in pairs if m.field != EXERCISED], [k for m, k in pairs if m.field != EXERCISED], [])
    doc = symbol.doc
    return ExampleView(
        title=example.title, path=symbol.path, href=href_of_symbol(release, symbol.path), project=release.project.slug,
        version=release.version, framework=example.framework, language=symbol.language,
        summary=texts.line(doc.summary) if doc is not None else NO_HTML,
        parts=[] if is_brief else list(_parts(example, symbol.language, [p for p in pairs if p[0].field == EXERCISED])),
        verdict=verdicts_of(release).get(symbol.path, Verdict(symbol.path)),
    )  # fmt: skip


def list_exercised(release: Release, symbol: Symbol) -> list[ExercisedView]:
    """What an example calls of what the portal knows, each once, in order."""
    links = with_versions(release, links_of_text(release, get_link_map(release), "symbol", symbol.path))
    found: dict[str, ExercisedView] = {}
    for mention, link in zip(symbol.mentions, links, strict=False):
        if mention.field == EXERCISED and link.kind == "symbol" and (href := href_of(link)):
            found.setdefault(href, ExercisedView(link.path, href))
    return list(found.values())


def _parts(example: Example, language: str, pairs: list[tuple[Mention, Link]]) -> Iterator[ExamplePartView]:
    for part in example.parts:
        code = linked_code(part.text, language, _links_in(part.text, part, pairs)) if part.text else NO_HTML
        result = linked_code(part.result, language, _links_in(part.result, part, pairs)) if part.result else NO_HTML
        yield ExamplePartView(part.kind, code, part.how, result, part.line)


def _links_in(text: str, part: ExamplePart, pairs: list[tuple[Mention, Link]]) -> Iterator[CodeLink]:
    """The names of some code that lead somewhere, each where it stands; an outcome is of one line or a few."""
    at = 0
    for row, line in enumerate(text.split("\n")):
        for mention, link in pairs:
            is_here = mention.line == part.line + row or (part.kind == "outcome" and mention.line >= part.line)
            href = href_of(link) if is_here and mention.line < part.line + row + 40 else ""
            for found in re.finditer(rf"(?<![\w$]){re.escape(mention.text)}(?![\w$])", line) if href else ():
                yield CodeLink(at + found.start(), at + found.end(), Shown(href, link.path))
        at += len(line) + 1


def verdicts_of(release: Release) -> dict[str, Verdict]:
    """How the examples of a release went, by their paths: all that it has."""
    return get_verdicts(get_contents(release.pk).verdicts)


def find_examples(release: Release, path: str, referrers: list[dict[str, str]]) -> list[tuple[Release, str]]:
    """Examples that exercise an element: those of its own release, then those of other projects. referrers: of
    the element, as ``list_referrers`` has them."""
    own = verdicts_of(release)
    found = [(release, name) for kind, name in sorted(own_referrers_of(release, [path])) if name in own] if own else []
    others = [r for r in referrers if r["project"] != release.project.slug and r["kind"] == "symbol"]
    return [*found, *_others(others)]


def _others(rows: list[dict[str, str]]) -> Iterator[tuple[Release, str]]:
    slugs = {row["project"] for row in rows}
    releases = Release.objects.filter(project__slug__in=slugs, is_live=True).select_related("project") if slugs else []
    known = {(release.project.slug, release.version): release for release in releases}
    for row in rows:
        release = known.get((row["project"], row["version"]))
        if release is not None and row["path"] in verdicts_of(release):
            yield release, row["path"]


def list_examples(release: Release, path: str, referrers: list[dict[str, str]]) -> list[ExampleView]:
    """The examples of an element, as its page shows them: the first with their code. referrers: as for
    ``find_examples``."""
    shown = []
    for home, name in find_examples(release, path, referrers)[:MAX_SHOWN]:
        entry = find_entry(home.pk, name)
        is_brief = len(shown) >= MAX_WITH_CODE
        view = get_example_view(home, read_symbol(entry), is_brief=is_brief) if entry is not None else None
        if view is not None:
            shown.append(view)
    return shown
