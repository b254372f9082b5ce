"""Links to findings: the dangling and stale rules."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.findings.rules import SEVERITIES
from zarbek.core.findings.surroundings import around_in_page, around_in_symbol
from zarbek.core.linking.index import SymbolEntry
from zarbek.core.linking.linker import Link
from zarbek.core.linking.suggestions import Suggestion
from zarbek.core.model.finding import Finding
from zarbek.core.model.mention import Mention
from zarbek.core.model.naming import key_of
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol


@dataclass(frozen=True, slots=True)
class Knowledge:
    """What the rules ask the portal.

    suggest: (project, version or empty, name) to a suggestion or None. entry: the target of a
    link. gone_since: (project, name) to the release that removed it, or empty.
    deprecated_in: (project, path) to the release that deprecated it, or empty.
    """

    suggest: Callable[[str, str, str], Suggestion | None]
    entry: Callable[[Link], SymbolEntry | None]
    gone_since: Callable[[str, str], str]
    deprecated_in: Callable[[str, str], str]
    newest: Callable[[str], str]


def judge_symbol(symbol: Symbol, links: Iterable[Link], knowledge: Knowledge) -> list[Finding]:
    if symbol.visibility == "private":
        return []
    found = []
    for mention, link in zip(symbol.mentions, links, strict=True):
        for rule in broken_rules(link):
            around = around_in_symbol(symbol, mention)
            found.append(_finding(rule, mention, link, symbol.path, symbol.file, around, "symbol", knowledge))
    return found


def judge_page(page: Page, links: Iterable[Link], knowledge: Knowledge) -> list[Finding]:
    found = []
    for mention, link in zip(page.mentions, links, strict=True):
        for rule in broken_rules(link):
            around = around_in_page(page, mention)
            found.append(_finding(rule, mention, link, page.path, page.file, around, "page", knowledge))
    return found


def broken_rules(link: Link) -> list[str]:
    if link.outcome == "dangling":
        return [f"dangling/{link.reason}"]
    if link.outcome in ("ambiguous", "hidden"):
        return [f"dangling/{link.outcome}"]
    return [f"stale/{reason}" for reason in link.stale]


def _finding(
    rule: str, mention: Mention, link: Link, subject: str, file: str, around: tuple[str, str, str],
    subject_kind: str, knowledge: Knowledge,
) -> Finding:  # fmt: skip
    message, suggestion = _explain(rule, mention, link, knowledge)
    name = link.path or link.wanted
    return Finding(
        rule, SEVERITIES[rule], subject, message, subject_kind=subject_kind, file=file,
        line=mention.line, column=mention.column, text=around[1] or mention.text,
        before=around[0], after=around[2], target=f"{link.project}/{name}",
        suggestion=suggestion.name if suggestion else "",
        certain=suggestion.certain if suggestion else False,
        why=suggestion.why if suggestion else "",
        fingerprint=fingerprint(rule, f"{subject_kind}:{subject}", mention.name),
    )  # fmt: skip


def _explain(rule: str, mention: Mention, link: Link, knowledge: Knowledge) -> tuple[str, Suggestion | None]:
    name, project = link.wanted or link.path, link.project
    if rule == "stale/deprecated":
        return _explain_deprecated(link, knowledge)
    if rule == "stale/removed-later":
        since = knowledge.gone_since(project, link.path)
        newest = knowledge.newest(project)
        return f"{link.path} was removed in {project} {since or newest}.", knowledge.suggest(project, newest, link.path)
    if rule == "stale/older-release":
        newest = knowledge.newest(project)
        return f"This names {project} {link.version}; the newest is {newest}.", None
    if rule == "dangling/hidden":
        return f"{name} is private to {project}.", None
    if rule == "dangling/project":
        return f"No project {project} is in the portal.", None
    if rule == "dangling/version":
        return f"{project} has no release {link.version}.", None
    if rule == "dangling/asset":
        return f"There is no file {name}.", None
    if rule == "dangling/page":
        return f"There is no page {name}.", None
    if rule == "dangling/anchor":
        return f"The page {link.path} has no section {name.partition('#')[2]}.", None
    since = knowledge.gone_since(project, name)
    suggestion = knowledge.suggest(project, link.version, name)
    if since:
        return f"{name} was removed in {project} {since}.", suggestion
    return f"{project} has no {name}.", suggestion


def _explain_deprecated(link: Link, knowledge: Knowledge) -> tuple[str, Suggestion | None]:
    entry = knowledge.entry(link)
    deprecated = entry.deprecated if entry else None
    since = deprecated.since if deprecated else ""
    since = since or knowledge.deprecated_in(link.project, link.path)
    message = f"{link.path} is deprecated" + (f" since {link.project} {since}." if since else ".")
    if deprecated is None or not deprecated.instead or entry is None:
        return message, None
    found = knowledge.suggest(link.project, link.version, _sibling(entry, deprecated.instead))
    name = found.name if found else deprecated.instead
    return message, Suggestion(name, False, "named in the deprecation")


def _sibling(entry: SymbolEntry, name: str) -> str:
    key = key_of(name)
    return key if "." in key else f"{key_of(entry.parent)}.{key}"
