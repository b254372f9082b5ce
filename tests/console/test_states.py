"""What each page shows while it waits, where there is nothing, when something fails, and of what is gone."""

import json
import unittest
from contextlib import contextmanager

from tests.support.browsing import Browsing

NOTHING = {"items": [], "total": 0, "next": None}
PROJECT = {
    "slug": "sea",
    "title": "Sea",
    "summary": "",
    "owner": "",
    "purl": "",
    "latest": "",
    "visibility": "public",
    "releases": [],
}
DASHBOARD = {"name": "Portal", "references": 0, "dangling": 0, "stale": 0, "new_dangling": 0, "projects": 0,
             "published": [], "by_owner": [], "running": [], "trend": []}  # fmt: skip
RUN = {"id": 7, "project": "sea", "version": "1.0", "state": "done", "stage": "report", "done": 0, "total": 0, "attempt": 1,
       "is_preview": False, "is_dry": False, "actor": "", "problem": "", "counts": {}, "created_at": "2026-11-02T09:00:00Z",
       "finished_at": "2026-11-02T09:00:05Z", "is_new": True}  # fmt: skip
REPORT = {"project": "sea", "version": "1.0", "run": 7, "previous": "", "dry": False,
          "counts": {"total": 0, "held": 0, "dangling": 0, "stale": 0, "outside": 0}, "new": [], "open": [], "fixed": [],
          "elsewhere": [], "waived": [], "examined": {"releases": 0, "texts": 0, "mentions": 0, "judged": 0}, "held_for": ""}  # fmt: skip
COMPARISON = {
    "project": "sea",
    "old": "1.0",
    "new": "1.1",
    "changes": [],
    "counts": {},
    "pages": [],
    "suggested": "",
    "hides_break": False,
}
IMPACT = {"project": "sea", "version": "1.0", "asked": "sea.f", "targets": 1, "places": 0, "projects": 0, "owners": [],
          "referring": [], "more": False}  # fmt: skip
PATCH = {"project": "sea", "version": "1.0", "commit": "", "state": "made", "diff": "", "made": 0, "left": []}
NAVIGATION = {
    "project": "sea",
    "title": "Sea",
    "version": "1.0",
    "newest": "1.0",
    "versions": ["1.0"],
    "modules": [],
    "more_modules": 0,
    "more_guides": 0,
    "guides": [],
}
GUIDE = {"navigation": NAVIGATION, "path": "a", "title": "A guide", "html": "", "headings": [], "previous": None,
         "following": None, "file": "a.md", "findings": [], "referrers": {"total": 0, "projects": []}, "permanent": "/x",
         "original": "", "elements": []}  # fmt: skip
SYMBOL = {
    "navigation": NAVIGATION, "path": "sea.f", "name": "f", "kind": "function", "language": "python", "parent": None,
    "flags": [], "decorators": [], "signatures": [], "bases": [], "type": [], "value": "", "summary": "", "body": "",
    "parameters": [], "returns": [], "yields": [], "raises": [], "attributes": [], "see": [], "sections": [], "since": "",
    "changes": [], "deprecated": None, "members": [], "members_left": 0, "details": [], "details_next": None,
    "inherited": [], "subclasses": [], "text_from": None, "names": [], "referrers": {"total": 0, "projects": []},
    "findings": [], "file": "sea.py", "line": 1, "end_line": 1, "source_url": "", "permanent": "/x", "interface": None,
    "place": None, "data": None,
}  # fmt: skip
LINEAGE = {"project": "sea", "version": "1.0", "path": "sea.t", "edges": [], "more": False,
           "nodes": [{"project": "sea", "path": "sea.t", "name": "t", "depth": 0, "version": "1.0", "kind": "table"}]}  # fmt: skip
#: Each page, what it asks the service, the answer of a portal that has nothing for it, and what it then says.
PAGES = (
    ("/", "/dashboard", DASHBOARD, "Nothing is published yet."),
    ("/reference", "/contents", NOTHING, "There is nothing to read yet."),
    ("/projects", "/projects", NOTHING, "There is no project yet."),
    ("/projects/sea", "/projects/sea", PROJECT, "Nothing of it is published yet."),
    ("/projects/sea/compare", "/projects/sea/compare", COMPARISON, "Nothing that a reader sees has changed."),
    ("/projects/sea/impact?name=sea.f", "/projects/sea/impact", IMPACT, "Nobody refers to it."),
    ("/projects/sea/patch", "/projects/sea/patch", PATCH, "There is nothing to mend beyond doubt."),
    ("/health", "/trend", [], "Nothing was published yet."),
    ("/ref/sea/sea.f", "/projects/sea/releases/latest/symbols/sea.f", SYMBOL, "Nobody has written about it yet."),
    (
        "/lineage/sea/1.0/sea.t",
        "/projects/sea/releases/1.0/lineage/sea.t",
        LINEAGE,
        "Nothing that is known here feeds it",
    ),
    (
        "/tables/sea/1.0",
        "/projects/sea/releases/1.0/tables",
        {"project": "sea", "version": "1.0", "tables": []},
        "It has no tables.",
    ),
    (
        "/tested/sea/1.0",
        "/projects/sea/releases/1.0/tested",
        {
            "project": "sea",
            "title": "Sea",
            "version": "1.0",
            "elements": 2,
            "shown": 0,
            "examples": {},
            "modules": [],
        },
        "that can be called none is shown by a test.",
    ),
    ("/guide/sea/1.0/a", "/projects/sea/releases/1.0/guides/a", GUIDE, "A guide"),
    ("/runs/7", "/runs/7", RUN, "0 of 0 references hold."),
    ("/reports", "/runs", NOTHING, "Nothing was published yet."),
    ("/reports/7", "/runs/7/report", REPORT, "0 of 0 references hold."),
    ("/findings", "/findings", NOTHING, "No finding stands."),
    ("/findings?rule=text/unreadable", "/findings", NOTHING, "No finding is like that."),
    ("/search?q=nothing", "/search", [], "Nothing is called nothing or speaks of it."),
)
#: Besides, pages ask for what stands around; a portal without anything has this.
AROUND = {"/projects/sea": PROJECT, "/projects/sea/releases/1.0/symbols/sea.t": SYMBOL, "/projects/sea/addresses": {"asks": True, "quiet": [], "known": 0, "unreachable": [], "checked_at": None},
          "/projects/sea/health": [], "/projects": NOTHING, "/map": [], "/ahead": [], "/findings": NOTHING, "/findings/groups": []}  # fmt: skip
_STUB = """
const answers = %s, real = window.fetch;
window.EventSource = class { addEventListener() {} close() {} };
window.fetch = (address, options) => {
  const path = new URL(address, location).pathname.replace("/api/v1", "");
  if (!(path in answers)) return real(address, options);
  const [status, body] = answers[path];
  if (status === "waits") return new Promise(() => {});
  if (status === "fails") return Promise.reject(new TypeError("no route"));
  return Promise.resolve(new Response(body, { status, headers: { "Content-Type": "application/json" } }));
};
"""


class States(Browsing):
    @contextmanager
    def opened(self, page, answers):
        """A page, while the service answers so: path to status and body."""
        script = {"source": _STUB % json.dumps(answers)}
        made = self.browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", script)
        try:
            with self.subTest(page):
                self.browser.get(self.portal.url + page)
                yield
        finally:
            self.browser.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", made)

    def say(self, *words, status, body="", pages=PAGES):
        """Every one of these pages says these words, when what it asks is answered so."""
        for page, asked, _, _ in pages:
            with self.opened(page, {asked: (status, body)}):
                for text in words:
                    self.wait_text(text)

    def problem(self, status, detail, **facts):
        return json.dumps({"type": "x", "title": "X", "status": status, "detail": detail, "code": "x", **facts})

    def test_a_page_that_waits_says_so(self):
        self.say("Loading …", status="waits")
        self.assertEqual(self.text("[role=status]"), "Loading …")

    def test_a_page_that_does_not_wait_says_nothing(self):
        self.open("/projects", "main .sentence")
        self.assertEqual(self.text("p[role=status]"), "")

    def test_nothing_is_said_in_words(self):
        around = {path: (200, json.dumps(body)) for path, body in AROUND.items()}
        for page, asked, body, words in PAGES:
            with self.opened(page, {**around, asked: (200, json.dumps(body))}):
                self.wait_text(words)
                self.assertNotRegex(self.text("main"), r"undefined|null|NaN|Invalid Date")

    def test_what_went_wrong_is_told_as_the_service_tells_it(self):
        detail = "The database is busy. Try again in a moment."
        self.say("That did not work", detail, status=503, body=self.problem(503, detail))

    def test_a_service_that_does_not_answer(self):
        self.say("The service does not answer. Try again in a moment.", status="fails", pages=PAGES[:3])

    def test_an_answer_of_something_in_between(self):
        self.say(
            "The service answered 502 without saying why.",
            status=502,
            body="<html><h1>Bad gateway</h1>",
            pages=PAGES[:3],
        )

    def test_what_is_gone_says_where_it_is(self):
        detail, elsewhere = "sea 2.0 has no symbol sea.f; 1.0 has it.", "/ref/sea/1.0/sea.f"
        body = self.problem(404, detail, elsewhere=elsewhere)
        self.say("Not here", detail, "Read it there", status=404, body=body)
        self.assertEqual(
            self.browser.find_element("link text", "Read it there").get_attribute("href"), self.portal.url + elsewhere
        )

    def test_a_part_of_the_console_that_is_gone_can_be_loaded_again(self):
        self.open("/reference")
        self.browser.execute_cdp_cmd("Network.enable", {})
        self.browser.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*HealthPage*", "*/static/*Health*"]})
        self.addCleanup(self.browser.execute_cdp_cmd, "Network.setBlockedURLs", {"urls": []})
        self.browser.find_element("link text", "Health").click()
        self.wait_text("A part of the portal could not be loaded")
        self.browser.execute_cdp_cmd("Network.setBlockedURLs", {"urls": []})
        self.browser.find_element("link text", "Load it again").click()
        self.wait("main .sentence")
        self.wait_text("Team")


if __name__ == "__main__":
    unittest.main()
