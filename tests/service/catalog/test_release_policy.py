"""Waivers, policies, support, owners, impact, patches, formats: what people decide and ask."""

import json
import subprocess
import tempfile
import unittest
import uuid
from datetime import date, timedelta
from pathlib import Path

from tests.support.running import running
from tests.support.sources import write_files
from tests.support.waiting import until
from zarbek.client import PortalProblem

LIB = {
    "{0}.py": 'def old_name(a):\n    """Do it."""\n    return [one for one in range(a) if one % 2 and one % 3 and one % 5 and one % 7]\n\n\ndef kept():\n    """Stay."""\n',
}
NEW_LIB = {
    "{0}.py": 'def new_name(a):\n    """Do it."""\n    return [one for one in range(a) if one % 2 and one % 3 and one % 5 and one % 7]\n\n\ndef kept(a):\n    """Stay."""\n',
}
USER = {
    "{1}/__init__.py": '"""Uses it."""\nimport {0}\n\n\ndef f():\n    """See :func:`{0}.old_name` and :func:`old <{0}.old_name>`, {0}.kept too."""\n',
    "{1}/extra.py": '"""More of :func:`{0}.old_name`."""\n',
    "zarbek.toml": 'owner = "Users"\n[owners]\n"**/extra.py" = "Extras"\n',
}
TOMORROW = (date.today() + timedelta(days=1)).isoformat()


def fill(files, *names):
    return {k.format(*names): v.format(*names) for k, v in files.items()}


class Case(unittest.TestCase):
    def setUp(self):
        self.portal = running()
        mark = uuid.uuid4().hex[:6]
        self.lib, self.user = f"lib{mark}", f"use{mark}"

    def broken(self):
        """A library, a user of it, and the release that breaks the user."""
        self.portal.publish(fill(LIB, self.lib), self.lib, "1.0.0")
        self.portal.publish(fill(USER, self.lib, self.user), self.user, "1.0.0")
        run = self.portal.publish(fill(NEW_LIB, self.lib), self.lib, "1.1.0")
        return self.portal.client.run_report(run.id)

    def refused(self, status, call, *arguments, **options):
        with self.assertRaises(PortalProblem) as caught:
            call(*arguments, **options)
        self.assertEqual(caught.exception.status, status, caught.exception)
        return str(caught.exception)


class Reports(Case):
    def test_a_break_is_told_here_and_elsewhere_with_owners_and_mends(self):
        report = self.broken()
        self.assertEqual([f.rule for f in report.new], ["text/hides-break"])
        self.assertEqual(report.new[0].suggestion, "2.0.0")
        (elsewhere,) = report.elsewhere
        owners = {f.file: f.owner for f in elsewhere.findings}
        self.assertEqual(owners, {f"{self.user}/__init__.py": "Users", f"{self.user}/extra.py": "Extras"})
        self.assertEqual([f.certain for f in elsewhere.findings], [True, True])
        self.assertGreater(report.examined.mentions, 0)
        groups = self.portal.client.finding_groups("target", project=self.user)
        self.assertEqual([(g.key, g.count) for g in groups], [(f"{self.lib}/{self.lib}.old_name", 2)])

    def test_every_format_is_served_as_what_it_is(self):
        self.broken()
        for form, kind in (("sarif", "application/sarif+json"), ("junit", "application/xml"), ("csv", "text/csv"),
                           ("markdown", "text/markdown"), ("html", "text/html")):  # fmt: skip
            answer = self.portal.http.get(f"/api/v1/projects/{self.lib}/report", params={"format": form})
            self.assertEqual((answer.status_code, answer.headers["Content-Type"].partition(";")[0]), (200, kind))
            code, text, _ = self.portal.command("report", self.lib, "--format", form)
            self.assertEqual((code, text), (0, answer.text), form)
            self.assertEqual(self.portal.client.report_as(form, self.lib), answer.text)
        self.assertEqual(self.portal.http.get(f"/api/v1/projects/{self.lib}/report?format=pdf").status_code, 400)

    def test_comparison_and_impact(self):
        self.broken()
        compared = self.portal.client.compare(self.lib, "1.0.0", "1.1.0")
        self.assertEqual([(c.kind, c.was) for c in compared.changes],
                         [("moved", f"{self.lib}.old_name"), ("signature", "")])  # fmt: skip
        self.assertTrue(compared.hides_break)
        impact = self.portal.client.impact(self.lib, f"{self.lib}.old_name", version="1.0.0")
        self.assertEqual((impact.places, impact.projects, impact.owners), (3, 1, ["Extras", "Users"]))
        self.assertEqual(self.portal.client.impact(self.lib, release="1.1.0").projects, 1)
        self.assertEqual(self.portal.client.impact(self.lib, f"{self.lib}.k*").places, 0)
        self.refused(404, self.portal.client.impact, self.lib, "nothing.here")
        code, text, _ = self.portal.command("compare", self.lib, "--fail-on-break")
        self.assertEqual((code, "hides the break" in text), (1, True))
        code, text, _ = self.portal.command("impact", f"{self.lib}@1.0.0", f"{self.lib}.old_name")
        self.assertEqual((code, "3 references" in text), (0, True))

    def test_listing_only_what_breaks_counts_all(self):
        for version, text in (("1.0.0", "def f(a): ..."), ("1.1.0", "def f(): ...\ndef g(): ...")):
            self.portal.publish({f"{self.lib}.py": text}, self.lib, version)
        whole, breaking = (self.portal.command("compare", self.lib, *only)[1] for only in ([], ["--breaking"]))
        self.assertIn("2 changes, 1 of them breaking.", whole)
        self.assertIn("2 changes, 1 of them breaking.", breaking)
        self.assertEqual([f"{self.lib}.g  function" in told for told in (whole, breaking)], [True, False])

    def test_a_dry_run_tells_what_would_break_elsewhere_and_keeps_nothing(self):
        self.portal.publish(fill(LIB, self.lib), self.lib, "1.0.0")
        self.portal.publish(fill(USER, self.lib, self.user), self.user, "1.0.0")
        run = self.portal.publish(fill(NEW_LIB, self.lib), self.lib, "2.0.0", dry=True)
        (elsewhere,) = self.portal.client.run_report(run.id).elsewhere
        self.assertEqual((elsewhere.project, len(elsewhere.findings)), (self.user, 2))
        self.assertEqual(list(self.portal.client.findings(project=self.user, family="dangling")), [])


class Waivers(Case):
    def test_a_waiver_covers_is_shown_ends_and_is_told(self):
        self.broken()
        made = self.portal.client.waive(project=self.user, rule="dangling/*", reason="Known.", until=TOMORROW)
        self.assertEqual([w.covers for w in made], [2])
        waived = [f.waived for f in self.portal.client.findings(project=self.user, family="dangling")]
        self.assertEqual([w.reason for w in waived], ["Known.", "Known."])
        self.assertEqual(list(self.portal.client.findings(project=self.user, family="dangling", waived="false")), [])
        self.portal.publish(fill(USER, self.lib, self.user), self.user, "1.0.1")
        report = self.portal.client.report(self.user)
        self.assertEqual(len([w for w in report.waived if not w.ended]), 2)
        code, _, _ = self.portal.command("report", self.user, "--fail-on", "error", "--count-open")
        self.assertEqual(code, 0)
        self.portal.in_service(f"""
            from datetime import date, timedelta
            from zarbek.service.findings.models import Waiver
            from zarbek.service.notices.stages import end_waivers
            Waiver.objects.filter(pk={made[0].id}).update(until=date.today() - timedelta(days=1))
            end_waivers()
        """)
        self.assertTrue(next(self.portal.client.waivers(self.user)).ended)
        self.assertEqual([w.ended for w in self.portal.client.report(self.user).waived], [True, True])
        code, text, _ = self.portal.command("report", self.user, "--fail-on", "error", "--count-open")
        self.assertEqual((code, "Waivers that have ended" in text), (1, True))

    def test_single_findings_and_what_is_refused(self):
        self.broken()
        prints = [f.finding.fingerprint for f in self.portal.client.findings(project=self.user, family="dangling")]
        (made,) = self.portal.client.waive(project=self.user, fingerprints=prints[:1], reason="One.", until=TOMORROW)
        self.assertEqual((made.covers, made.person), (1, "admin"))
        self.portal.client.end_waiver(made.id)
        waive = self.portal.client.waive
        self.refused(400, waive, project=self.user, rule="dangling/symbol", reason="", until=TOMORROW)
        self.refused(400, waive, project=self.user, rule="dangling/symbol", reason="Late.", until="2020-01-01")
        self.refused(400, waive, project=self.user, rule="no/rule", reason="What?", until=TOMORROW)
        self.refused(400, waive, project=self.user, reason="All?", until=TOMORROW)
        self.refused(400, waive, project=self.user, fingerprints=["0" * 16], reason="Who?", until=TOMORROW)


class Policies(Case):
    def test_a_release_is_held_back_until_someone_lets_it_through(self):
        self.portal.publish(fill(LIB, self.lib), self.lib, "1.0.0")
        client = self.portal.client
        client.set_policy(self.lib, {"severity": "error", "families": ["dangling"]})
        worse = {f"{self.lib}.py": f'"""See :func:`{self.lib}.nothing`."""\ndef fresh(): ...\n'}
        run = self.portal.publish(worse, self.lib, "2.0.0")
        self.assertEqual(run.state, "done")
        project = client.project(self.lib)
        self.assertEqual((project.latest, [r.version for r in project.releases if r.held_for]), ("1.0.0", ["2.0.0"]))
        self.assertIn("dangling/symbol", client.run_report(run.id).held_for)
        # Nobody's references mean it as long as it is held back.
        user = {f"{self.user}.py": f'"""See :func:`{self.lib}.old_name`."""\n'}
        self.portal.publish(user, self.user, "1.0.0")
        self.assertEqual(list(client.findings(project=self.user, family="dangling")), [])
        self.refused(400, client.override_hold, self.lib, "2.0.0", "")
        self.assertEqual(client.override_hold(self.lib, "2.0.0", "The guide comes on Monday.").released_by, "admin")
        self.assertEqual(client.project(self.lib).latest, "2.0.0")
        found = until(lambda: list(client.findings(project=self.user, family="dangling")))
        self.assertEqual([f.cause for f in found], [f"{self.lib} 2.0.0"])
        self.refused(409, client.override_hold, self.lib, "2.0.0", "Again.")
        self.refused(400, client.set_policy, self.lib, {"families": ["nonsense"]})
        self.assertEqual(client.set_policy(self.lib, {}).severity, "")


class Support(Case):
    def test_a_line_that_is_maintained_is_judged_and_a_retired_one_is_not(self):
        client = self.portal.client
        self.portal.publish(fill(LIB, self.lib), self.lib, "1.0.0")
        user = fill(USER, self.lib, self.user)
        self.portal.publish(user, self.user, "1.0.0")
        self.portal.publish({**user, "more.py": ""}, self.user, "2.0.0")
        judged = lambda: [r.version for r in client.project(self.user).releases if r.is_judged]  # noqa: E731
        self.assertEqual(judged(), ["2.0.0"])
        self.portal.publish({**user, "fix.py": ""}, self.user, "1.0.1")
        self.assertEqual(judged(), ["2.0.0", "1.0.1"])
        self.portal.publish(fill(NEW_LIB, self.lib), self.lib, "2.0.0")
        branches = {(f.branch, f.version) for f in client.findings(project=self.user, family="dangling")}
        self.assertEqual(branches, {("", "2.0.0"), ("1.x", "1.0.1")})
        code, text, _ = self.portal.command("releases", self.user, "--retire", "1.0.1")
        self.assertEqual((code, "retired" in text), (0, True))
        branches = {f.branch for f in client.findings(project=self.user, family="dangling")}
        self.assertEqual(branches, {""})
        self.assertEqual(client.symbol(self.user, f"{self.user}.f", "1.0.1").name, "f")
        self.refused(409, client.set_support, self.user, "2.0.0", "retired")

    def test_an_exact_version_from_a_lock_file_wins_over_the_range(self):
        self.portal.publish(
            {**fill(LIB, self.lib), "pyproject.toml": f'[project]\nname = "{self.lib}"\n'}, self.lib, "1.0.0"
        )
        self.portal.publish(
            {**fill(NEW_LIB, self.lib), "pyproject.toml": f'[project]\nname = "{self.lib}"\n'}, self.lib, "1.1.0"
        )
        user = fill(USER, self.lib, self.user)
        user["pyproject.toml"] = f'[project]\nname = "{self.user}"\ndependencies = ["{self.lib}>=1,<2"]\n'
        self.portal.publish(user, self.user, "1.0.0")
        self.assertEqual(self.portal.client.manifest(self.user).choices, {self.lib: "1.1.0"})
        locked = {**user, "uv.lock": f'[[package]]\nname = "{self.lib}"\nversion = "1.0.0"\n'}
        self.portal.publish(locked, self.user, "1.0.1")
        self.assertEqual(self.portal.client.manifest(self.user).choices, {self.lib: "1.0.0"})
        self.assertEqual(list(self.portal.client.findings(project=self.user, family="dangling")), [])
        strange = {**user, "pyproject.toml": user["pyproject.toml"].replace(">=1,<2", ">=9")}
        self.portal.publish(strange, self.user, "1.0.2")
        (found,) = self.portal.client.findings(project=self.user, rule="dangling/version")
        self.assertIn("which no release fits", found.finding.message)

    def test_outside_names_lead_where_the_portal_says(self):
        name = f"nobody{self.lib}"
        self.portal.publish({f"{self.user}.py": f'"""See :func:`{name}.path.join`."""\n'}, self.user, "1.0.0")
        target = lambda: json.loads(next(iter(self.portal.client.links(self.user))))["target"]  # noqa: E731
        self.assertIsNone(target())
        self.portal.client.set_outside({name: "https://docs.example.org/{name}.html"})
        self.assertEqual(until(target), {"url": f"https://docs.example.org/{name}.path.join.html"})
        self.portal.client.set_outside({name: ""})
        until(lambda: target() is None)
        self.refused(400, self.portal.client.set_outside, {name: "javascript:alert(1)"})


class Patches(Case):
    def test_the_patch_mends_what_is_beyond_doubt_and_git_takes_it(self):
        folder = Path(tempfile.mkdtemp(dir=self.portal.home / "home" / ".."))
        git = lambda *a, **k: subprocess.run(["git", "-C", str(folder), *a], check=True, capture_output=True, **k)  # noqa: E731
        write_files(folder, fill(USER, self.lib, self.user))
        git("init", "-q", "-b", "main")
        git("add", "-A")
        git("-c", "user.name=A", "-c", "user.email=a@halmere.example", "commit", "-qm", "one")
        self.broken()
        found = self.portal.client.edits(self.user)
        self.assertEqual({e.replacement for e in found.edits}, {f"{self.lib}.new_name"})
        code, diff, _ = self.portal.command("patch", self.user, "--source", str(folder))
        self.assertEqual(code, 0)
        git("apply", "-", input=diff.encode())
        before, after = fill(USER, self.lib, self.user), {p.name: p.read_text() for p in (folder / self.user).iterdir()}
        self.assertEqual(after["extra.py"], before[f"{self.user}/extra.py"].replace("old_name", "new_name"))
        self.assertEqual(after["__init__.py"].count("new_name"), 2)
        self.assertEqual(self.refused(409, self.portal.client.patch, self.user).count("--source"), 1)
        mended = {**before, **{f"{self.user}/{n}": t for n, t in after.items()}}
        run = self.portal.publish(mended, self.user, "1.0.1")
        self.assertEqual(len(self.portal.client.run_report(run.id).fixed), 2)


class Addresses(Case):
    def test_old_addresses_lead_on_through_chains_and_circles_end(self):
        body = "    total = first + second\n    return total * 2 - first // 3 + second * total\n"
        for version, name in (("1.0.0", "one"), ("2.0.0", "two"), ("3.0.0", "three")):
            self.portal.publish({f"{self.lib}.py": f"def {name}(first, second):\n{body}"}, self.lib, version)
        client = self.portal.client
        for version, path in (("latest", "one"), ("latest", "two"), ("3.0.0", "one"), ("latest", "three")):
            self.assertEqual(client.symbol(self.lib, f"{self.lib}.{path}", version).name, "three")
        self.assertEqual(client.symbol(self.lib, f"{self.lib}.one", "2.0.0").name, "two")
        self.assertEqual(client.symbol(self.lib, f"{self.lib}.one", "1.0.0").name, "one")
        answer = self.portal.http.get(f"/api/v1/projects/{self.lib}/releases/3.0.0/symbols/{self.lib}.one")
        self.assertEqual(answer.status_code, 301)
        self.portal.in_service(f"""
            from zarbek.service.links.models import Relocation
            from zarbek.service.catalog.models import Project
            p = Project.objects.get(slug={self.lib!r})
            for old, new in (("x.a", "x.b"), ("x.b", "x.a")):
                Relocation.objects.create(project=p, old=old, new=new, version="3.0.0")
        """)
        self.refused(404, client.symbol, self.lib, "x.a")


if __name__ == "__main__":
    unittest.main()
