"""What the answers to an address mean for those who link to it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.findings.rules import SEVERITIES
from zarbek.core.findings.surroundings import around_in_page, around_in_symbol
from zarbek.core.model.finding import Finding
from zarbek.core.model.mention import Mention
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol

#: An address that only sometimes does not answer is no finding before so many times in a row.
PATIENCE = 3
_GONE = {404: "is not there (404)", 410: "is gone for good (410)"}


@dataclass(frozen=True, slots=True)
class Answer:
    """status: of the last hop, 0 for none. final: the address that answered. permanent: whether every
    redirect on the way was for good (RFC 9110, 301 and 308). trouble: why there was no answer;
    lasting: whether that is sure to stay so. missing_anchor: a fragment that the page lacks."""

    status: int = 0
    final: str = ""
    permanent: bool = False
    trouble: str = ""
    lasting: bool = False
    missing_anchor: str = ""


@dataclass(frozen=True, slots=True)
class UrlVerdict:
    """fault: why the address is wrong; moved_to: where it is now for good; failures: in a row."""

    fault: str = ""
    moved_to: str = ""
    failures: int = 0


def judge_answer(url: str, answer: Answer, failures: int) -> UrlVerdict:
    """failures: how often in a row it did not answer properly before.

    Whoever asks for a sign-in or for patience (401, 403, 429) is there.
    """
    if answer.trouble and answer.lasting:
        return UrlVerdict(answer.trouble)
    if answer.status in _GONE:
        return UrlVerdict(_GONE[answer.status])
    if answer.trouble or answer.status >= 500:
        count = failures + 1
        what = answer.trouble or f"answers {answer.status}"
        return UrlVerdict(f"{what}, {count} times in a row" if count >= PATIENCE else "", failures=count)
    if answer.missing_anchor:
        return UrlVerdict(f"has no section {answer.missing_anchor}")
    is_moved = answer.permanent and answer.final and _plain(answer.final) != _plain(url) and answer.status < 400
    fragment = url.partition("#")[2]
    final = answer.final + (f"#{fragment}" if fragment and "#" not in answer.final else "")
    return UrlVerdict(moved_to=final if is_moved else "")


def _plain(url: str) -> str:
    return url.partition("#")[0]


def judge_urls(text: Symbol | Page, verdicts: dict[str, UrlVerdict]) -> list[Finding]:
    """dangling/url and stale/redirect of one text. verdicts: by address."""
    kind = "page" if isinstance(text, Page) else "symbol"
    return [
        _finding(text, kind, mention, verdicts[mention.name])
        for mention in urls_of(text.mentions)
        if mention.name in verdicts and (verdicts[mention.name].fault or verdicts[mention.name].moved_to)
    ]


def urls_of(mentions: Iterable[Mention]) -> Iterable[Mention]:
    """The mentions that are addresses of the web."""
    return (m for m in mentions if m.origin == "url" and m.name.startswith(("http://", "https://")))


def _finding(text: Symbol | Page, kind: str, mention: Mention, verdict: UrlVerdict) -> Finding:
    around = around_in_page(text, mention) if isinstance(text, Page) else around_in_symbol(text, mention)
    rule = "dangling/url" if verdict.fault else "stale/redirect"
    message = f"{mention.name} {verdict.fault}." if verdict.fault else f"{mention.name} has moved for good."
    return Finding(
        rule, SEVERITIES[rule], text.path, message, subject_kind=kind, file=text.file, line=mention.line,
        column=mention.column, text=around[1] or mention.text, before=around[0], after=around[2],
        target=mention.name, suggestion=verdict.moved_to, certain=bool(verdict.moved_to),
        why="where it redirects for good" if verdict.moved_to else "",
        fingerprint=fingerprint(rule, f"{kind}:{text.path}", mention.name),
    )  # fmt: skip
