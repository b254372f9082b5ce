"""Addresses outside of the portal, asked for politely."""

from __future__ import annotations

import ssl
import time
from collections.abc import Callable
from dataclasses import dataclass
from urllib.parse import unquote, urldefrag, urlsplit

import httpx
from django.conf import settings
from lxml import etree, html
from protego import Protego

from zarbek import __version__
from zarbek.core.findings.url_rules import Answer, UrlVerdict
from zarbek.service.addresses.models import UrlCheck
from zarbek.service.addresses.queries import host_of, some_good
from zarbek.service.common.egress import EgressRefused, EgressTransport, get_bounded

AGENT = "ZarbekLinks"
MAX_HOPS = 10
MAX_PAGE_BYTES = 4 * 2**20
#: Addresses of one host that are asked before others are looked at again.
A_TURN = 10
#: Addresses that are asked again to see whether anything answers, and how many are looked at for them.
_WITNESSES, _LOOKED_AT = 3, 200
_PERMANENT = frozenset({301, 308})
_REDIRECTS = frozenset({301, 302, 303, 307, 308})
#: Rules for a site whose own cannot be had.
_NOTHING = "User-agent: *\nDisallow: /\n"
#: Answers to HEAD that some servers give although GET would do.
_NOT_BY_HEAD = frozenset({400, 403, 404, 405, 406, 500, 501, 503})


@dataclass(frozen=True, slots=True)
class Asked:
    """An address and what it answered."""

    row: UrlCheck
    answer: Answer
    headers: httpx.Headers

    @property
    def place(self) -> tuple[str, str]:
        """The scheme and host that are asked."""
        return self.row.url.partition(":")[0].lower(), host_of(self.row.url)


def verdict_of(row: UrlCheck) -> UrlVerdict:
    """What is known of an address, as the rules judge it."""
    return UrlVerdict(row.fault, row.moved_to, row.unreachable, row.failed_days, row.failed_on)


def _is_section(fragment: str) -> bool:
    """Whether a page must have it: directions for the reader's own program (WICG, "Text Fragments") it need not."""
    return bool(fragment) and not fragment.startswith(":~:")


class UrlChecker:
    """One pass over addresses: a pause between two requests to one host, robots respected."""

    def __init__(
        self, *, transport: httpx.BaseTransport | None = None, sleep: Callable[[float], None] = time.sleep
    ) -> None:
        self._http = httpx.Client(
            transport=transport or EgressTransport(settings.ALLOWED_PRIVATE), timeout=settings.URL_TIMEOUT_S,
            headers={"User-Agent": f"{AGENT}/{__version__}", "Accept": "text/html,*/*;q=0.8"},
        )  # fmt: skip
        self._sleep = sleep
        self._last: dict[str, float] = {}
        self._robots: dict[str, Protego | httpx.HTTPError] = {}

    def __enter__(self) -> UrlChecker:
        return self

    def __exit__(self, *_: object) -> None:
        self._http.close()

    def ask(self, known: UrlCheck) -> Asked:
        """What an address answers now."""
        return Asked(known, *self._ask(known))

    def _ask(self, known: UrlCheck) -> tuple[Answer, httpx.Headers]:
        try:
            url, fragment = urldefrag(known.url)
        except ValueError as error:
            return _trouble(error), httpx.Headers()
        fragment = unquote(fragment)
        permanent, seen, inner = True, {url}, ""
        method = "GET" if _is_section(fragment) else "HEAD"
        for hop in range(MAX_HOPS + 1):
            try:
                if not self._may_ask(url):
                    return Answer(is_left_alone=True), httpx.Headers()
                response = self._response(method, url, known if hop == 0 and not known.fault else None)
            except (httpx.HTTPError, httpx.InvalidURL, ValueError) as error:
                return _trouble(error), httpx.Headers()
            following = response.headers.get("Location", "")
            if response.status_code == 304:
                moved = known.moved_to
                return Answer(status=304, final=moved or known.url, permanent=bool(moved)), response.headers
            if response.status_code not in _REDIRECTS or not following:
                final = url + (inner and f"#{inner}")
                return self._arrived(response, final, permanent and hop > 0, fragment), response.headers
            permanent = permanent and response.status_code in _PERMANENT
            try:
                url, inner = urldefrag(str(httpx.URL(url).join(following)))
            except (httpx.InvalidURL, ValueError):
                return _wrong("redirects to what is no address", response)
            fragment = unquote(inner) or fragment
            if url in seen:
                return _wrong("redirects in a circle", response)
            seen.add(url)
        return _wrong(f"redirects more than {MAX_HOPS} times", response)

    def _response(self, method: str, url: str, known: UrlCheck | None) -> httpx.Response:
        """Some servers do not answer HEAD as they would GET."""
        response = self._request(method, url, known)
        is_refused = method == "HEAD" and response.status_code in _NOT_BY_HEAD
        return self._request("GET", url, None) if is_refused else response

    def _arrived(self, response: httpx.Response, final: str, permanent: bool, fragment: str) -> Answer:
        missing = ""
        is_page = "html" in response.headers.get("Content-Type", "")
        if response.status_code == 200 and is_page and _is_section(fragment):
            missing = "" if has_anchor(response.content, fragment) else f"#{fragment}"
        return Answer(response.status_code, final, permanent, missing_anchor=missing)

    def _request(self, method: str, url: str, known: UrlCheck | None) -> httpx.Response:
        """With known, only if it has changed since (RFC 9110, section 13). At most so many bytes are read."""
        self._wait(urlsplit(url).netloc)
        headers = {}
        if known is not None and known.etag:
            headers["If-None-Match"] = known.etag
        if known is not None and known.last_modified:
            headers["If-Modified-Since"] = known.last_modified
        return get_bounded(self._http, url, method=method, headers=headers, limit=MAX_PAGE_BYTES, may_cut=True)

    def _wait(self, host: str) -> None:
        since = time.monotonic() - self._last.get(host, float("-inf"))
        if since < settings.URL_PAUSE_S:
            self._sleep(settings.URL_PAUSE_S - since)
        self._last[host] = time.monotonic()

    def _may_ask(self, url: str) -> bool:
        """Whether a site's rules let us (RFC 9309). Raises HTTPError for a site that did not answer: then
        nothing of it may be asked, and nothing of it would answer."""
        parts = urlsplit(url)
        site = f"{parts.scheme}://{parts.netloc}"
        if site not in self._robots:
            self._robots[site] = self._read_robots(site)
        rules = self._robots[site]
        if isinstance(rules, httpx.HTTPError):
            raise rules
        return rules.can_fetch(url, AGENT)

    def _read_robots(self, site: str) -> Protego | httpx.HTTPError:
        """Section 2.3.1: absent rules forbid nothing, a server's fault all; redirects are followed to another
        site, too."""
        url = f"{site}/robots.txt"
        try:
            for _ in range(MAX_HOPS):
                response = self._request("GET", url, None)
                following = response.headers.get("Location", "")
                if response.status_code not in _REDIRECTS or not following:
                    break
                url = str(httpx.URL(url).join(following))
        except httpx.HTTPError as error:
            return error
        except (httpx.InvalidURL, ValueError):
            return Protego.parse("")
        if response.status_code >= 500:
            return Protego.parse(_NOTHING)
        return Protego.parse(response.text if response.status_code == 200 else "")


def _wrong(what: str, response: httpx.Response) -> tuple[Answer, httpx.Headers]:
    return Answer(response.status_code, trouble=what, lasting=True), response.headers


def _trouble(error: Exception) -> Answer:
    """What went wrong in words, and whether it is sure to stay so."""
    if isinstance(error, EgressRefused):
        return Answer(trouble="has no host of that name") if not error.is_known else Answer(is_left_alone=True)
    cause: BaseException | None = error
    while cause is not None:
        if isinstance(cause, ssl.SSLCertVerificationError):
            return Answer(trouble=f"has no valid certificate ({cause.verify_message})")
        cause = cause.__cause__ or cause.__context__
    if isinstance(error, httpx.InvalidURL | httpx.UnsupportedProtocol | ValueError):
        return Answer(trouble="is no address", lasting=True)
    if isinstance(error, httpx.ProxyError):
        return Answer(trouble="is refused by the proxy")
    if isinstance(error, httpx.TimeoutException):
        return Answer(trouble="does not answer in time")
    return Answer(trouble="cannot be reached")


def has_anchor(page: bytes, fragment: str) -> bool:
    """Whether a page of HTML has an element that a fragment leads to (HTML, "find a potential
    indicated element"); ``top`` always does."""
    if fragment.lower() == "top":
        return True
    try:
        tree = html.document_fromstring(page)
    except (etree.LxmlError, ValueError):
        return True  # Not a page that we can judge.
    return any(fragment in (e.get("id"), e.get("name")) for e in tree.iter(etree.Element))


def witnesses(asked: list[Asked], good: set[tuple[str, str]]) -> list[UrlCheck]:
    """Addresses that answered before, to be asked beside those that do not: does anything answer now? good: places
    that have."""
    doubtful = [a for a in asked if not a.answer.is_good and not a.answer.is_left_alone]
    if not doubtful or len(good) > 1:
        return []
    hosts = {host_of(a.row.url) for a in asked}
    found: dict[str, UrlCheck] = {}
    for row in some_good(_LOOKED_AT):
        if (host := host_of(row.url)) not in hosts:
            found.setdefault(host, row)
    return list(found.values())[:_WITNESSES]
