"""What the answers to an address mean for those who link to it."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date
from urllib.parse import urlsplit

from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.findings.mention_context import around_in_page, around_in_symbol
from zarbek.core.findings.rules import SEVERITIES
from zarbek.core.model.finding import Finding
from zarbek.core.model.mention import Mention
from zarbek.core.model.mention_places import file_of
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol

#: On so many different days must an address have failed while others answered.
PATIENCE_DAYS = 3
_GONE = {404: "is not there (404)", 410: "is gone for good (410)"}


@dataclass(frozen=True, slots=True)
class Answer:
    """status: of the last hop, 0 for none. final: the address that answered. permanent: whether every
    redirect on the way was for good (RFC 9110, 301 and 308). trouble: why there was no answer, or what
    is wrong with it; lasting: whether an answer came that is sure to stay so. missing_anchor: a fragment
    that the page lacks. is_left_alone: whether nobody asked, because nobody may."""

    status: int = 0
    final: str = ""
    permanent: bool = False
    trouble: str = ""
    lasting: bool = False
    missing_anchor: str = ""
    is_left_alone: bool = False

    @property
    def is_good(self) -> bool:
        """Whether it shows that the web is there: something answered properly."""
        return 200 <= self.status < 400 and not self.trouble and not self.is_left_alone


@dataclass(frozen=True, slots=True)
class Round:
    """What else was asked in the same round. is_genuine: whether any other address answered properly, so
    that answers come from the web and not from something in between; is_open: whether one of another
    host did, by the same scheme, so that the way out is there and a host that fails fails by itself."""

    today: date
    is_genuine: bool
    is_open: bool

    @property
    def shows_all(self) -> bool:
        """Whether nothing that is asked later can change what an answer means."""
        return self.is_genuine and self.is_open


@dataclass(frozen=True, slots=True)
class UrlVerdict:
    """fault: why the address is wrong; moved_to: where it is now for good. unreachable: why nothing can be
    told, which is no fault of the reference. failed_days, failed_on: on how many days it failed while
    others answered, and the last of them."""

    fault: str = ""
    moved_to: str = ""
    unreachable: str = ""
    failed_days: int = 0
    failed_on: date | None = None


def judge_answer(url: str, answer: Answer, known: UrlVerdict, asked: Round) -> UrlVerdict:
    """known: what was found when it was asked before.

    Whoever asks for a sign-in or for patience (401, 403, 429) is there. An address that was wrong stays so
    while nothing can be told.
    """
    if answer.is_left_alone:
        return UrlVerdict()
    if (answer.trouble and not answer.lasting) or answer.status >= 500:
        return _failed(answer.trouble or f"answers {answer.status}", known, asked)
    fault = answer.trouble or _GONE.get(answer.status, "")
    if answer.missing_anchor:
        fault = f"has no section {answer.missing_anchor}"
    if fault and not asked.is_genuine and answer.status:
        return replace(known, unreachable=f"{fault}, and nothing else of the web answered")
    if fault:
        return UrlVerdict(fault)
    return UrlVerdict(moved_to=_moved_to(url, answer) if asked.is_genuine else "")


def _moved_to(url: str, answer: Answer) -> str:
    """Where an address leads for good, with the section that it names; empty where that is itself."""
    if not answer.permanent or answer.status >= 400 or not answer.final or _plain(answer.final) == _plain(url):
        return ""
    fragment = url.partition("#")[2]
    return answer.final + (f"#{fragment}" if fragment and "#" not in answer.final else "")


def _failed(what: str, known: UrlVerdict, asked: Round) -> UrlVerdict:
    if not asked.is_open:
        return replace(known, unreachable=f"{what}, as all others do")
    days = known.failed_days + (known.failed_on != asked.today)
    fault = f"{what}, on {days} days" if days >= PATIENCE_DAYS else known.fault
    return replace(known, fault=fault, unreachable=what, failed_days=days, failed_on=asked.today)


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
    """The mentions that are addresses of the web which someone may have."""
    return (m for m in mentions if m.origin == "url" and is_address(m.name))


#: Names that nobody has, for examples (RFC 2606, sections 2 and 3; RFC 6761, section 6.3).
_EXAMPLES = re.compile(r"(?:^|\.)(?:example(?:\.(?:com|net|org))?|test|localhost)$")
_HOST = re.compile(r"[\w-]+(?:\.[\w-]+)*$")


def is_address(url: str) -> bool:
    """Whether a text that begins like an address of the web is one, and none of an example: a text may speak
    of ``http://ip:port``."""
    try:
        parts = urlsplit(url)
        host, _ = (parts.hostname or "").rstrip("."), parts.port
    except ValueError:
        return False
    return parts.scheme in ("http", "https") and bool(_HOST.match(host) or ":" in host) and not _EXAMPLES.search(host)


def _finding(text: Symbol | Page, kind: str, mention: Mention, verdict: UrlVerdict) -> Finding:
    around = around_in_page(text, mention) if isinstance(text, Page) else around_in_symbol(text, mention)
    rule = "dangling/url" if verdict.fault else "stale/redirect"
    message = f"{mention.name} {verdict.fault}." if verdict.fault else f"{mention.name} has moved for good."
    return Finding(
        rule, SEVERITIES[rule], text.path, message, subject_kind=kind, file=file_of(text, mention), line=mention.line,
        column=mention.column, text=around[1] or mention.text, before=around[0], after=around[2],
        target=mention.name, suggestion=verdict.moved_to, certain=bool(verdict.moved_to),
        why="where it redirects for good" if verdict.moved_to else "",
        fingerprint=fingerprint(rule, f"{kind}:{text.path}", mention.name),
    )  # fmt: skip
