"""Interface descriptions in the real portal: pages, calls, running services, search, and its own API."""

import json
import time
import unittest
from pathlib import Path
from urllib.parse import quote

from tests.support.interfaces import HEAD
from tests.support.running import ROOT, running

KEY = "harbour-key-of-the-demo"
PROJECTS = ROOT / "demo" / "projects"


def demo_files(project, *versions):
    """The files of a demo project as they are at the last of its versions."""
    found = {}
    for version in versions:
        base = PROJECTS / project / version
        found |= {
            str(p.relative_to(base)): p.read_text() for p in base.rglob("*") if p.is_file() and p.name != ".removed"
        }
    return found


class Base(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = running()
        cls.world = cls.portal.world

    def get(self, path):
        answer = self.portal.http.get(f"/api/v1{path}")
        self.assertEqual(answer.status_code, 200, answer.text)
        return answer.json()

    def page(self, slug, path, version="latest"):
        return self.get(f"/projects/{slug}/releases/{version}/symbols/{quote(path)}")


class Published(Base):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        gate = {"http://127.0.0.1:8099": cls.world.url}
        cls.portal.api("DELETE", "/projects/quayside")  # Another test's, whose servers stand elsewhere.
        cls.runs = {}
        for number, version in enumerate(("1.0.0", "1.1.0", "2.0.0"), start=1):
            files = demo_files("quayside", *("1.0.0", "1.1.0", "2.0.0")[:number])
            for old, new in gate.items():
                files = {
                    name: text.replace(old, new).replace(old.removeprefix("http://"), new.removeprefix("http://"))
                    for name, text in files.items()
                }
            cls.runs[version] = cls.portal.publish(files, "quayside", version)
            assert cls.runs[version].state == "done", cls.runs[version].problem
            if version == "1.0.0":
                cls.portal.publish(
                    {
                        "zarbek.toml": "",
                        "docs/g.md": "# G\n[book](<api://quayside/POST /sailings/{id}/bookings>), full: [409](api://quayside/createBooking#409), [gone](api://quayside/cancelBooking), [slip](api://quayside/Traveller#nmae)\n",
                    },
                    "asker",
                    "1.0.0",
                )

    def findings(self, run):
        report = self.get(f"/runs/{run.id}/report")
        return {(f["rule"], f.get("file", "")) for f in report["new"]}

    def test_examples_rot_in_one_release_and_are_mended_in_the_next(self):
        file = "services/sailings/openapi.yaml"
        self.assertIn(("stale/example", file), self.findings(self.runs["1.1.0"]))
        after = self.findings(self.runs["2.0.0"])
        self.assertNotIn(("stale/example", file), after)
        self.assertIn(("stale/status", file), after)

    def test_guides_of_others_follow_operations_and_their_parts(self):
        rules = {f["finding"]["rule"]: f["finding"] for f in self.get("/findings?project=asker")["items"]}
        self.assertIn("does not answer 409", rules["stale/status"]["message"])
        self.assertIn("changeBooking", rules["dangling/symbol"]["suggestion"])
        self.assertIn("It has name", rules["dangling/anchor"]["message"])
        guide = self.get("/projects/asker/releases/latest/guides/g")
        self.assertIn("/ref/quayside/2.0.0/sailings.createBooking", guide["html"])

    def test_an_operation_page_says_all(self):
        page = self.page("quayside", "POST /sailings/{id}/bookings")
        self.assertEqual(page["path"], "sailings.createBooking")
        operation = page["interface"]["operation"]
        self.assertEqual([a["status"] for a in operation["answers"]], ["201", "404", "422"])
        self.assertEqual(operation["security"][0][0]["words"], "A key in the header X-Harbour-Key.")
        rows = operation["body"]["media"][0]["rows"]
        self.assertIn(("party", True), [(r.get("name"), r.get("required", False)) for r in rows])
        traveller = next(p for r in rows for p in r["type"] if p["text"] == "Traveller")
        self.assertEqual(traveller["href"], "/ref/quayside/2.0.0/sailings.Traveller")
        for answer in operation["answers"]:
            for media in answer["media"]:
                self.assertNotEqual(media["examples"], [], answer["status"])
                self.assertEqual([e for e in media["examples"] if e.get("faults")], [], answer["status"])
        self.assertEqual(len(operation["snippets"]), 7)
        used = self.page("quayside", "sailings.Traveller")["interface"]["used_by"]
        self.assertEqual({u["name"] for u in used}, {"Booking", "BookingRequest"})

    def test_an_old_example_is_marked_on_its_page(self):
        page = self.page("quayside", "sailings.createBooking", "1.1.0")
        faults = [e.get("faults") for e in page["interface"]["operation"]["body"]["media"][0]["examples"]]
        self.assertEqual(faults, [None, ["/vehicle: height is missing"]])

    def test_changes_are_told_by_direction(self):
        changes = {c["path"]: c for c in self.get("/projects/quayside/compare?old=1.1.0&new=2.0.0")["changes"]}
        self.assertEqual([d["text"] for d in changes["sailings.Traveller"]["details"]],
                         ["kind may no longer be crew in requests and answers."])  # fmt: skip
        self.assertTrue(changes["sailings.Sailing"]["breaks"])

    def test_search_finds_by_what_people_know(self):
        for words, path in (("POST /sailings/{id}/bookings", "sailings.createBooking"), ("createBooking", "sailings.createBooking"),
                            ("/quotes", "fares.makeQuote"), ("Idempotency-Key", "sailings.createBooking"),
                            ("exclusive seats", None), ("callback", "sailings.BookingRequest")):  # fmt: skip
            hits = [h["path"] for h in self.get(f"/search?q={quote(words)}&project=quayside")]
            with self.subTest(words):
                self.assertIn(path, [None, *hits[:4]])

    # Calls --------------------------------------------------------------------------------

    def call(self, operation, **body):
        wanted = {"operation": operation, "server": f"{self.world.url}/quayside/sailings", **body}
        return self.portal.http.post("/api/v1/projects/quayside/releases/2.0.0/calls", json=wanted)

    def test_a_call_goes_to_the_server_and_its_answer_is_judged(self):
        found = self.call("sailings.getSailing", values={"path": {"id": "S-2041"}}).json()
        self.assertEqual(
            (found["answer"]["status"], found["answer"]["fits"], found["answer"]["faults"]), (200, True, [])
        )
        full = self.call("createBooking", values={"path": {"id": "S-2042"}, "header": {"X-Harbour-Key": KEY}}, media_type="application/json",
                         body='{"party": [{"name": "a", "kind": "adult"}, {"name": "b", "kind": "adult"}]}').json()  # fmt: skip
        self.assertEqual((full["answer"]["status"], full["answer"]["fits"]), (422, True))
        unknown = self.call(
            "createBooking", values={"path": {"id": "S-2042"}}, body="{}", media_type="application/json"
        ).json()
        self.assertFalse(unknown["answer"]["described"])
        self.assertIn("no answer 401", unknown["answer"]["faults"][0])
        quote_ = self.portal.http.post("/api/v1/projects/quayside/releases/2.0.0/calls", json={
            "operation": "makeQuote", "server": f"{self.world.url}/quayside/fares", "body": "{}", "media_type": "application/json"}).json()  # fmt: skip
        self.assertEqual(
            (quote_["answer"]["fits"], quote_["answer"]["faults"]),
            (False, ["/total: an object was expected; this is 48.5"]),
        )

    def test_secrets_stay_out_of_code_and_answers(self):
        found = self.call(
            "createBooking", values={"path": {"id": "S-2041"}, "header": {"X-Harbour-Key": KEY}}, send=False
        )
        self.assertNotIn(KEY, found.text)
        self.assertIn("YOUR-SECRET", found.text)
        self.assertEqual(found.headers["Cache-Control"], "no-store")

    def test_secrets_are_hidden_wherever_they_stand_and_whatever_shares_their_name(self):
        """Two services of one gateway with the same operationId: neither has it for itself."""
        schemes = (
            "components: {securitySchemes: {deck: {type: apiKey, in: header, name: X-Deck},"
            " hold: {type: apiKey, in: query, name: hold}}}\n"
        )
        files = {"zarbek.toml": 'servers = ["https://quay.example"]\n'}
        for name in ("north", "south"):
            files[f"{name}.yaml"] = (
                HEAD + schemes + f"paths: {{/{name}: {{get: {{operationId: list, responses: {{}}}}}}}}\n"
            )
        self.assertEqual(self.portal.publish(files, "holds", "1.0.0").state, "done")
        values = {"header": {"x-deck": "aaa-1"}, "query": {"hold": "bbb-2", "page": "3"}, "cookie": {"berth": "ccc-3"}}
        answer = self.portal.http.post(
            "/api/v1/projects/holds/releases/1.0.0/calls",
            json={"operation": "north.list", "server": "https://quay.example", "values": values, "send": False},
        )
        for secret in ("aaa-1", "bbb-2", "ccc-3"):
            self.assertNotIn(secret, answer.text)
        self.assertEqual(answer.json()["url"], "https://quay.example/north?hold=YOUR-SECRET&page=3")

    def test_no_other_server_is_asked(self):
        before = len(self.world.seen)
        for server in ("http://169.254.169.254/", self.world.url, f"{self.world.url}/quayside/../secret", f"{self.world.url}/quaysider",
                       self.world.url.replace("http://", "http://x@"), "file:///etc/passwd", f"{self.world.url}/quayside/sailings#@evil"):  # fmt: skip
            with self.subTest(server):
                answer = self.call("getSailing", server=server, values={"path": {"id": "S-2041"}})
                self.assertEqual((answer.status_code, answer.json()["code"]), (403, "not-allowed"))
        self.assertEqual(len(self.world.seen), before)

    def test_what_cannot_be_sent_is_refused(self):
        self.assertEqual(self.call("getSailing").status_code, 422)
        self.assertEqual(
            self.call("getSailing", values={"path": {"id": "1"}, "header": {"Host": "x"}}).status_code, 422
        )
        self.assertEqual(self.call("sailings.Traveller").status_code, 404)
        self.assertEqual(self.call("sailings.webhooks.sailingDelayed").status_code, 404)

    def test_private_networks_are_asked_only_where_the_settings_allow(self):
        files = {
            "sea.yaml": HEAD + "paths: {/a: {get: {operationId: a, responses: {}}}}\n",
            "zarbek.toml": 'servers = ["http://127.0.0.2:9"]\n',
        }
        self.assertEqual(self.portal.publish(files, "inner", "1.0.0").state, "done")
        answer = self.portal.http.post(
            "/api/v1/projects/inner/releases/1.0.0/calls", json={"operation": "a", "server": "http://127.0.0.2:9"}
        )
        self.assertEqual(answer.status_code, 403)
        self.assertIn("private network", answer.json()["detail"])


class RunningServices(Base):
    """Services behind one gateway, fetched politely."""

    def services(self, **more):
        base = f"{self.world.url}/quayside"
        return [
            {"name": "sailings", "address": f"{base}/sailings/openapi.yaml", "server": f"{base}/sailings", "poll_minutes": 5},
            {"name": "piers", "address": f"{base}/piers/openapi.json", "server": f"{base}/piers", "headers": {"X-Harbour-Key": KEY}, **more},
        ]  # fmt: skip

    def poll(self, slug):
        found = {s.name: s for s in self.portal.client.poll_services(slug)}
        for run in self.get(f"/runs?project={slug}")["items"]:
            self.portal.wait(self.portal.client.run(run["id"]))
        return found

    def rules(self, slug):
        return {f["finding"]["rule"]: f["finding"]["message"] for f in self.get(f"/findings?project={slug}")["items"]}

    def test_what_runs_is_a_preview_and_what_changes_or_fails_is_a_finding(self):
        slug = "gateway"
        files = demo_files("quayside", "1.0.0")
        self.assertEqual(self.portal.publish({**files, "zarbek.toml": ""}, slug, "1.0.0").state, "done")
        self.portal.client.set_services(slug, self.services())
        found = self.poll(slug)
        self.assertEqual([s.problem for s in found.values()], ["", ""])
        page = self.page(slug, "sailings.getSailing", "running")
        self.assertEqual(page["interface"]["operation"]["servers"], [f"{self.world.url}/quayside/sailings"])
        self.assertEqual(
            self.page(slug, "piers", "running")["interface"]["service"]["servers"][0]["name"],
            f"{self.world.url}/quayside/piers",
        )
        listed = self.portal.api("GET", f"/projects/{slug}/services").text
        self.assertNotIn(KEY, listed)
        self.assertIn("X-Harbour-Key", listed)
        outside = self.portal.http.get(f"/api/v1/projects/{slug}/services").text
        self.assertNotIn("X-Harbour-Key", outside)
        self.assertNotIn(self.world.url, outside)

        runs = len(self.get(f"/runs?project={slug}")["items"])
        self.world.seen.clear()
        self.poll(slug)
        asked = [h for _, path, h in self.world.seen if path.endswith("/sailings/openapi.yaml")]
        self.assertIn("If-None-Match", asked[0])
        self.assertEqual(len(self.get(f"/runs?project={slug}")["items"]), runs, "nothing has changed")

        text = Path(PROJECTS / "quayside/2.0.0/services/sailings/openapi.yaml").read_text()
        self.world.site.changed["sailings/openapi.yaml"] = text.replace(
            "operationId: getSailing", "operationId: readSailing"
        ).encode()
        self.world.site.down.add("piers")
        try:
            found = self.poll(slug)
            self.assertEqual(found["piers"].problem, "It answers 502 Bad Gateway")
            self.assertIn("readSailing", str(self.page(slug, "sailings.readSailing", "running")))
            self.assertIn(
                "piers", str(self.page(slug, "piers.getPier", "running")["path"]), "what was fetched last stays"
            )
            rules = self.rules(slug)
            self.assertIn("piers does not give its description: It answers 502", rules["dangling/service"])
            self.assertIn("sailings serves changed", rules["stale/source-ahead"])
        finally:
            self.world.site.changed.clear()
            self.world.site.down.clear()
        self.poll(slug)
        self.assertNotIn("dangling/service", self.rules(slug))

    def test_services_are_asked_by_the_clock(self):
        self.portal.client.set_services("clock", self.services()[:1])
        done = self.portal.in_service(
            "from zarbek.service.sources.schedule import poll_due_services as due; due(); due()"
        )
        self.assertEqual(done.returncode, 0, done.stderr)
        for _ in range(100):
            (service,) = self.portal.client.services("clock")
            if service.fetched_at:
                break
            time.sleep(0.1)
        self.assertIsNotNone(service.fetched_at)

    def test_what_is_no_description_is_refused(self):
        self.portal.client.set_services("odd", [
            {"name": "html", "address": f"{self.world.url}/page"}, {"name": "far", "address": "http://127.0.0.2:9/openapi.json"},
        ])  # fmt: skip
        found = {s.name: s.problem for s in self.portal.client.poll_services("odd")}
        self.assertEqual(found["html"], "It serves text/html, which is no description")
        self.assertIn("private network", found["far"])

    def test_only_administrators_say_what_is_asked_and_with_what(self):
        answer = self.portal.http.put("/api/v1/projects/odd/services", json=[])
        self.assertEqual(answer.status_code, 401)
        for wrong in ({"name": "../x", "address": "http://x.example"}, {"name": "x", "address": "file:///etc/passwd"},
                      {"name": "x", "address": "http://x.example", "headers": {"Host": "y"}}):  # fmt: skip
            with self.subTest(wrong):
                answer = self.portal.http.put(
                    "/api/v1/projects/odd2/services",
                    json=[wrong],
                    headers={"Authorization": f"Bearer {self.portal.token}"},
                )
                self.assertEqual(answer.status_code, 422)


class Elsewhere(Base):
    def test_schemas_elsewhere_are_fetched_only_where_the_project_allows(self):
        self.world.site.changed["sailings/far.yaml"] = b"type: object\nproperties: {far: {$ref: 'near.yaml'}}\n"
        self.world.site.changed["sailings/near.yaml"] = b"type: string\n"
        address = f"{self.world.url}/quayside/sailings/far.yaml"
        text = HEAD + f"paths: {{}}\ncomponents: {{schemas: {{A: {{$ref: '{address}'}}}}}}\n"
        repository = self.repository(
            {"sea.yaml": text, "zarbek.toml": f'slug = "remote"\nremote = ["{self.world.url}/quayside/sailings/"]\n'}
        )
        try:
            self.world.seen.clear()
            self.fetch("remote", repository)
            self.assertEqual(
                [p for _, p, _ in self.world.seen], ["/quayside/sailings/far.yaml", "/quayside/sailings/near.yaml"]
            )
            rows = self.page("remote", "sea.A")["interface"]["rows"]
            self.assertEqual([p["text"] for p in rows[0]["type"]], ["far"])
            closed = self.repository({"sea.yaml": text, "zarbek.toml": 'slug = "closed"\n'})
            self.world.seen.clear()
            self.fetch("closed", closed)
            self.assertEqual(self.world.seen, [])
        finally:
            self.world.site.changed.clear()

    def repository(self, files):
        import subprocess
        import tempfile

        base = self.portal.home / "repositories"
        base.mkdir(exist_ok=True)
        folder = Path(tempfile.mkdtemp(dir=base))
        for name, text in files.items():
            (folder / name).write_text(text)
        git = ["git", "-c", "user.name=a", "-c", "user.email=a@b.example"]
        for arguments in (["init", "-q"], ["add", "-A"], ["commit", "-qm", "x"], ["tag", "v1.0.0"]):
            subprocess.run([*git, *arguments], cwd=folder, check=True)
        return folder

    def fetch(self, slug, folder):
        self.portal.client.add_source(slug, str(folder))
        (run,) = self.portal.client.fetch(slug, tag="v1.0.0")
        done = self.portal.wait(run)
        self.assertEqual(done.state, "done", done.problem)


class OwnDescription(Base):
    def test_the_portals_own_api_holds_its_standard_and_is_what_is_published(self):
        served = self.get("/openapi.json")
        kept = json.loads((ROOT / "docs" / "zarbek-api.json").read_text())
        self.assertEqual(kept, served, "run: curl URL/api/v1/openapi.json, and keep it as docs/zarbek-api.json")
        run = self.portal.publish({"zarbek-api.json": json.dumps(served, indent=1)}, "own", "1.0.0")
        self.assertEqual((run.state, self.get(f"/runs/{run.id}/report")["new"]), ("done", []))
        self.assertEqual(self.page("own", "zarbek-api.makeCall")["interface"]["operation"]["method"], "POST")


class Commands(Base):
    def test_services_and_calls(self):
        Published.setUpClass()  # Whatever other tests have published.
        code, out, err = self.portal.command(
            "call", "quayside", "getSailing", "--path", "id=S-9", "--server", f"{self.world.url}/quayside/sailings"
        )
        self.assertEqual(code, 0, out + err)
        self.assertIn("404 Not Found", out)
        self.assertIn("It fits its description.", out)
        code, out, _ = self.portal.command(
            "call", "quayside", "makeQuote", "--server", f"{self.world.url}/quayside/fares"
        )
        self.assertEqual((code, "/total: an object was expected" in out), (1, True))
        code, out, _ = self.portal.command("call", "quayside", "createBooking", "--as", "python")
        compile(out, "a.py", "exec")
        code, out, _ = self.portal.command("show", "sailings.createBooking")
        self.assertIn("POST /sailings/{id}/bookings", out)
        self.assertIn("422 Unprocessable", out)
        code, out, _ = self.portal.command("show", "POST /quotes", "--project", "quayside")
        self.assertIn("fares.makeQuote", out)
        code, _, err = self.portal.command("call", "asker", "nothing")
        self.assertEqual(code, 3, err)

    def test_a_list_of_services_is_read_with_secrets_from_the_environment(self):
        from zarbek.cli.commands.services import read_services
        from zarbek.core.errors import ProjectFileError

        found = read_services('[a]\naddress = "http://x.example"\nheaders = { K = "$KEY" }\nevery = 5\n', {"KEY": "s"})
        self.assertEqual((found[0]["headers"], found[0]["poll_minutes"]), ({"K": "s"}, 5))
        for wrong in ("[a]\n", "a = 1", "[a]\naddress='x'\nadress=1", '[a]\naddress="x"\nheaders={K="$NO"}', "["):
            with self.subTest(wrong), self.assertRaises(ProjectFileError):
                read_services(wrong, {})
