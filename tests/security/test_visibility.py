"""What is kept from somebody is nowhere: every reading of the API, feeds, notices, figures and pages, asked by who may
not see a project, answers as if it were not there."""

import json
import re
import unittest
import uuid

from tests.support.running import running


class Case(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal, tag = running(), uuid.uuid4().hex[:6]
        cls.version = f"7.31.{int(tag, 16)}"
        cls.hidden, cls.absent, cls.open = f"hid{tag}", f"abs{tag}", f"pub{tag}"
        namespace, cls.vault = f"ns{tag}", f"Vault{tag}"
        cls.secrets = (cls.hidden, f"Deep {tag}", cls.vault, f"cellar{tag}", cls.version, f"Keepers {tag}")
        client = cls.portal.client
        toml = f'title = "Deep {tag}"\nowner = "Keepers {tag}"\n'
        files = {
            f"{namespace}.py": f"class Thing:\n    '''A thing.'''\nclass {cls.vault}:\n    '''See :class:`nothing{tag}.x`.'''\n",
            f"guides/cellar{tag}.md": f"# cellar{tag}\n\n[x]({cls.portal.world.url}/gone-{tag})\n", "zarbek.toml": toml,
        }  # fmt: skip
        cls.portal.publish(files, cls.hidden, "1.0")
        near = f"{namespace}.Vualt{tag}"
        user = {
            f"{cls.open}.py": f"class A({namespace}.Thing):\n    '''See :class:`{namespace}.Thing`, :class:`{near}`.'''\n".replace(
                "class A", f"import {namespace}\nclass A"),
        }  # fmt: skip
        cls.portal.publish(user, cls.open, "1.0")
        cls.addClassCleanup(client.set_visibility, cls.hidden, "public")  # Others share the portal.
        client.set_visibility(cls.hidden, "teams")
        files[f"{namespace}.py"] = f"class {cls.vault}:\n    '''A vault.'''\n"
        cls.hook = client.add_webhook(f"{cls.portal.world.url}/all-{tag}")
        cls.addClassCleanup(client.remove_webhook, cls.hook.id)
        cls.last = cls.portal.publish(files, cls.hidden, cls.version)
        client.waive(reason="Known", until="2027-01-01", project=cls.open, target=f"{cls.hidden}/{namespace}.Thing")
        cls.release_run = cls.portal.publish({**user, "more.py": "X = 1\n"}, cls.open, "1.1")
        person, password = f"eve{tag}", uuid.uuid4().hex
        client.add_person(person, password)
        cls.token = cls.signed_in(person, password)

    @classmethod
    def signed_in(cls, person, password):
        """A token that somebody makes who is signed in."""
        csrf = cls.portal.http.get("/api/v1/session").json()["csrf"]
        headers = {"X-CSRFToken": csrf, "Referer": cls.portal.url}
        cls.portal.http.post("/api/v1/session", json={"user": person, "password": password}, headers=headers)
        csrf = cls.portal.http.get("/api/v1/session").json()["csrf"]
        made = cls.portal.http.post(
            "/api/v1/tokens", json={"name": "eve"}, headers={"X-CSRFToken": csrf, "Referer": cls.portal.url}
        )
        cls.portal.http.cookies.clear()
        return made.json()["text"]

    def askers(self):
        yield "nobody", {}
        yield "somebody", {"Authorization": f"Bearer {self.token}"}

    def get(self, address, headers):
        answer = self.portal.http.get(address, headers=headers, follow_redirects=False)
        return answer.status_code, answer.text

    def free_of_secrets(self, text, where):
        self.assertEqual([s for s in self.secrets if s in text], [], f"{where}: {text[:600]}")


class Walk(Case):
    def operations(self):
        for template, methods in json.loads(self.portal.http.get("/api/v1/openapi.json").text)["paths"].items():
            if "get" in methods:
                yield template, methods["get"]

    def values(self, slug):
        runs = [r.id for r in self.portal.client.runs(project=slug)] if slug != self.absent else [10**9]
        paths, versions = [f"{slug}.A", f"ns{self.hidden[3:]}.Thing"], ["latest", "1.1"]
        if slug != self.open:  # What is asked for there comes back in what is said of it.
            paths, versions = [*paths, self.vault, f"cellar{self.hidden[3:]}"], [*versions, self.version]
        return {"slug": [slug], "version": versions, "run_id": runs, "name": ["x"], "path": paths,
                "webhook_id": [self.hook.id]}  # fmt: skip

    def addresses(self, template, slug):
        found = [template]
        for name in re.findall(r"\{(\w+)\}", template):
            found = [a.replace(f"{{{name}}}", str(v), 1) for a in found for v in self.values(slug).get(name, [1])]
        return found

    def test_what_is_hidden_answers_as_what_is_absent(self):
        for who, headers in self.askers():
            for template, _ in self.operations():
                if "{slug}" not in template:
                    continue
                pairs = zip(self.addresses(template, self.hidden), self.addresses(template, self.absent), strict=True)
                for hidden, absent in pairs:
                    with self.subTest(hidden, who=who):
                        (status, told), (other, text) = self.get(hidden, headers), self.get(absent, headers)
                        self.assertEqual(status, other)
                        self.assertEqual(told.replace(self.hidden, "SLUG"), text.replace(self.absent, "SLUG"))

    def test_no_reading_of_anything_else_names_it(self):
        for who, headers in self.askers():
            for template, operation in self.operations():
                for address in self.addresses(template, self.open):
                    with self.subTest(address, who=who):
                        self.free_of_secrets(self.get(address, headers)[1], address)
                    for parameter in operation.get("parameters", []):
                        if parameter["in"] == "query" and parameter["name"] in (
                            "project",
                            "owner",
                            "target",
                            "by",
                            "name",
                        ):
                            for value in (self.hidden, self.secrets[-1], f"{self.hidden}/x", "target", "owner", "rule"):
                                asked = f"{address}?{parameter['name']}={value}"
                                with self.subTest(asked, who=who):
                                    status, told = self.get(asked, headers)
                                    told = told.replace(value, "") if status >= 400 else told
                                    self.free_of_secrets(told.replace(f"={value}", ""), asked)

    def test_runs_of_it_are_not_there(self):
        for who, headers in self.askers():
            for part in ("", "/log", "/report", "/events", "/report?format=html"):
                with self.subTest(part, who=who):
                    (status, told), (other, text) = (
                        self.get(f"/api/v1/runs/{run}{part}", headers) for run in (self.last.id, 10**9)
                    )
                    self.assertEqual((status, told.replace(str(self.last.id), "N")),
                                     (other, text.replace(str(10**9), "N")))  # fmt: skip

    def test_search_feeds_pages_and_figures(self):
        for who, headers in self.askers():
            for address in (f"/api/v1/search?q={self.vault}", f"/api/v1/search?q=cellar&project={self.hidden}",
                            "/feeds/portal.atom", f"/feeds/projects/{self.hidden}.atom", f"/feeds/projects/{self.open}.atom",
                            "/feeds/teams/Keepers%20" + self.hidden[3:] + ".atom", "/metrics", "/health/ready",
                            f"/ref/{self.hidden}/1.0/x", "/", f"/projects/{self.hidden}"):  # fmt: skip
                with self.subTest(address, who=who):
                    told = self.get(address, headers)[1]
                    for slug in (self.hidden, f"Keepers {self.hidden[3:]}", f"Keepers%20{self.hidden[3:]}"):
                        told = told.replace(slug, "") if slug in address.replace("%20", " ") or "%20" in slug else told
                    self.free_of_secrets(told, address)

    def test_health_and_figures_tell_no_numbers(self):
        ready = self.portal.http.get("/health/ready").json()
        self.assertEqual([c for c in ready["checks"].values() if set(c) != {"ok"}], [])
        self.assertEqual(self.portal.http.get("/metrics").status_code, 401)

    def test_writing_to_it_fails_as_for_what_is_absent(self):
        headers = {"Authorization": f"Bearer {self.token}"}
        for method, part, body in (("PUT", "visibility", {"visibility": "public"}), ("PUT", "policy", {}),
                                   ("GET", "members", None), ("PUT", "addresses", {"asks": True}),
                                   ("POST", "fetches", {"tag": "v1"})):  # fmt: skip
            with self.subTest(part):
                answers = []
                for slug in (self.hidden, self.absent):
                    address = f"/api/v1/projects/{slug}/{part}"
                    answer = self.portal.http.request(method, address, json=body, headers=headers)
                    answers.append((answer.status_code, answer.text.replace(slug, "SLUG")))
                self.assertEqual(*answers)


class Shown(Case):
    def test_links_into_it_are_plain_text_and_more_is_counted(self):
        page = self.portal.http.get(f"/api/v1/projects/{self.open}/releases/1.1/symbols/{self.open}.A").json()
        self.assertNotIn("href", page["body"] + page["summary"])
        report = self.portal.http.get(f"/api/v1/runs/{self.release_run.id}/report").json()
        self.assertGreater(report["withheld"], 0)
        text = self.portal.http.get(f"/api/v1/runs/{self.release_run.id}/report?format=markdown").text
        self.assertIn("more in projects that you may not see", text)

    def test_who_may_see_it_sees_all_of_it(self):
        headers = {"Authorization": f"Bearer {self.portal.token}"}
        status, told = self.get(f"/api/v1/projects/{self.hidden}", headers)
        self.assertEqual((status, json.loads(told)["visibility"]), (200, "teams"))
        report = self.portal.client.run_report(self.release_run.id)
        self.assertEqual(report.withheld, 0)
        self.assertIn(self.hidden, {f.target.partition("/")[0] for f in (*report.new, *report.open)})

    def test_answers_are_for_one_person_only_while_anything_is_private(self):
        answer = self.portal.http.get(f"/api/v1/projects/{self.open}/releases/1.1/manifest")
        self.assertEqual(answer.headers["Cache-Control"], "private, no-cache")

    def test_a_member_reads_and_streams_it_and_no_longer_once_that_ends(self):
        client, tag = self.portal.client, uuid.uuid4().hex[:6]
        client.add_person(f"ada{tag}", password := uuid.uuid4().hex)
        token = self.signed_in(f"ada{tag}", password)
        headers = {"Authorization": f"Bearer {token}"}
        client.set_team(f"crew{tag}", [f"ada{tag}"])
        client.set_project_member(self.hidden, "reader", team=f"crew{tag}")
        for address in (f"/api/v1/projects/{self.hidden}", f"/api/v1/runs/{self.last.id}/events"):
            self.assertEqual(self.get(address, headers)[0], 200, address)
        client.set_team(f"crew{tag}", [])
        for address in (f"/api/v1/projects/{self.hidden}", f"/api/v1/runs/{self.last.id}/events"):
            self.assertEqual(self.get(address, headers)[0], 404, address)


if __name__ == "__main__":
    unittest.main()
