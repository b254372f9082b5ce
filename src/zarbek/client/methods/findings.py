"""What is wrong, what changed, and who is affected."""

from __future__ import annotations

import time
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING
from urllib.parse import quote

from zarbek.client import values
from zarbek.client.errors import NotInTime
from zarbek.client.methods.caller import API, Caller, release_path

if TYPE_CHECKING:
    from zarbek.client.values.changes import Comparison, Impact, PageWords
    from zarbek.client.values.dashboard import HealthPoint, MapEdge, TrendPoint
    from zarbek.client.values.examples import Tested
    from zarbek.client.values.findings import Edits, FindingGroup, Patch, Report, Rule, StandingFinding, Waiver
    from zarbek.client.values.lineage import Lineage
    from zarbek.client.values.tables import TableList, TableText

#: Between two looks at whether a patch is made.
_PAUSE_S = 0.5


class Findings(Caller):
    """What is wrong, what changed, and who is affected."""

    def run_report(self, run_id: int) -> Report:
        """The report of a run."""
        return self._get(f"/runs/{run_id}/report", values.Report)

    def report(self, slug: str, version: str = "") -> Report:
        """The report of a project's newest run, or of a release's."""
        return self._get(f"/projects/{quote(slug)}/report", values.Report, version=version)

    def report_as(self, form: str, slug: str, version: str = "") -> str:
        """The report in another form: sarif, junit, csv, markdown or html."""
        params = {"format": form, **({"version": version} if version else {})}
        return self._transport.call("GET", f"{API}/projects/{quote(slug)}/report", params=params).decode()

    def findings(self, **filters: str) -> Iterator[StandingFinding]:
        """Findings of the releases that are judged; filters: project, family, rule, severity, state,
        owner, target, waived."""
        return self._pages("/findings", values.StandingFinding, **filters)

    def finding_groups(self, by: str = "target", **filters: str) -> list[FindingGroup]:
        """The same in groups by target, owner, rule or project, the largest first."""
        return self._get("/findings/groups", list[values.FindingGroup], by=by, **filters)

    def waivers(self, project: str = "") -> Iterator[Waiver]:
        """Waivers, those that end first at the top."""
        return self._pages("/waivers", values.Waiver, project=project)

    def waive(
        self, *, reason: str, until: str, project: str = "", rule: str = "", target: str = "", file: str = "",
        fingerprints: Sequence[str] = (),
    ) -> list[Waiver]:  # fmt: skip
        """Live with findings until a day (ISO 8601), for a reason."""
        body = {"reason": reason, "until": until, "project": project, "rule": rule, "target": target, "file": file,
                "fingerprints": list(fingerprints)}  # fmt: skip
        return self._post("/waivers", body, list[values.Waiver])

    def end_waiver(self, waiver_id: int) -> None:
        """What it covers counts again."""
        self._delete(f"/waivers/{waiver_id}")

    def rules(self) -> list[Rule]:
        """Every rule by which findings are made."""
        return self._get("/rules", list[values.Rule])

    def compare(self, slug: str, old: str = "", new: str = "") -> Comparison:
        """What changed between two releases; the newest against the one before if left out."""
        return self._get(f"/projects/{quote(slug)}/compare", values.Comparison, old=old, new=new)

    def compare_page(self, slug: str, page: str, old: str = "", new: str = "") -> PageWords:
        """What one page says differently in two releases, word by word. page: its path in the newer one, or
        where it was for one that is gone."""
        return self._get(f"/projects/{quote(slug)}/compare/page", values.PageWords, page=page, old=old, new=new)

    def lineage(
        self, slug: str, path: str, version: str = "", *, direction: str = "both", depth: int = 0
    ) -> Lineage:  # fmt: skip
        """Where the data of a table or column come from (``up``), where they go (``down``), or both. depth: so many
        steps at most; all of them for 0."""
        place = f"{release_path(slug, version)}/lineage/{quote(path)}"
        return self._get(place, values.Lineage, direction=direction, depth=str(depth or ""))

    def tables(self, slug: str, version: str = "") -> TableList:
        """All tables and views of a release, in order of their paths."""
        return self._get(f"{release_path(slug, version)}/tables", values.TableList)

    def table_text(self, slug: str, path: str, version: str = "") -> TableText:
        """A table with its columns, keys, checks and query as Markdown. Raises PortalProblem for what is no table."""
        return self._get(f"{release_path(slug, version)}/tables/{quote(path)}", values.TableText)

    def tested(self, slug: str, version: str = "") -> Tested:
        """Which elements of a release are shown by examples from tests, and how these went."""
        return self._get(f"{release_path(slug, version)}/tested", values.Tested)

    def tested_table(self, slug: str, version: str = "") -> str:
        """The same as CSV (RFC 4180), a row an example; elements that none shows have a row without one."""
        return self._transport.call("GET", f"{API}{release_path(slug, version)}/tested.csv").decode()

    def impact(self, slug: str, name: str = "", *, version: str = "", release: str = "") -> Impact:
        """Who refers to a symbol or pattern, or to what a release breaks."""
        return self._get(f"/projects/{quote(slug)}/impact", values.Impact, name=name, version=version, release=release)

    def patch(self, slug: str, *, likely: bool = False, within_s: float = 900.0) -> Patch:
        """A unified diff that mends what is wrong beyond doubt. Waits until the portal has made it, which says within
        ten minutes where it cannot. Raises NotInTime for one that is not there by then."""
        end = time.monotonic() + within_s
        while True:
            found = self._get(f"/projects/{quote(slug)}/patch", values.Patch, likely=str(likely).lower())
            if found.state == "made":
                return found
            if time.monotonic() > end:
                raise NotInTime(f"A patch of {slug}", within_s)
            time.sleep(_PAUSE_S)

    def edits(self, slug: str, *, likely: bool = False) -> Edits:
        """The same as single edits, for a source that the portal cannot read."""
        return self._get(f"/projects/{quote(slug)}/edits", values.Edits, likely=str(likely).lower())

    def health(self, slug: str) -> list[HealthPoint]:
        """A project's references after each of its runs, oldest first."""
        return self._get(f"/projects/{quote(slug)}/health", list[values.HealthPoint])

    def trend(self, *, owner: str = "", project: str = "", days: int = 30) -> list[TrendPoint]:
        """References over the last days, of the portal, a team or a project, oldest first."""
        return self._get("/trend", list[values.TrendPoint], owner=owner, project=project, days=days)

    def edges(self) -> list[MapEdge]:
        """Which project refers to which, by their newest releases."""
        return self._get("/map", list[values.MapEdge])
