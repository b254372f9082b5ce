"""What a running portal withstands: rivals, crowds, breaks, slow and hostile others."""

import json
import os
import shutil
import signal
import socket
import threading
import time
import unittest
import uuid
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import httpx

from tests.security.test_supervision import children_of
from tests.support.running import running
from tests.support.sources import write_files
from tests.support.waiting import until
from zarbek.client import PortalProblem


class Case(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = running()

    def setUp(self):
        self.slug = f"sec{uuid.uuid4().hex[:6]}"

    def token_of(self, slug):
        return self.portal.client.create_token(f"build of {slug}", project=slug).text


class Names(Case):
    def package(self, slug, name):
        return {
            f"{name}/__init__.py": 'def f():\n    """F."""\n',
            "pyproject.toml": f'[project]\nname = "{name}"\nversion = "1"\n',
        }

    def test_a_name_stays_with_who_had_it_first_until_an_administrator_decides(self):
        portal, owner, rival, user = self.portal, self.slug, f"{self.slug}-rival", f"{self.slug}-user"
        portal.publish(self.package(owner, owner), owner, "1.0")
        text = {
            f"{user.replace('-', '_')}.py": f'"""See :func:`{owner}.f`."""\n',
            "pyproject.toml": f'[project]\nname = "{user}"\ndependencies = ["{owner}"]\n',
        }
        portal.publish(text, user, "1.0")
        token = self.token_of(rival)
        bundle = portal.bundle({**self.package(rival, owner), f"{owner}/more.py": "X = 1\n"}, rival, "9.0")
        answer = portal.api(
            "POST", "/runs", token=token, content=bundle.read_bytes(), headers={"Content-Type": "application/zip"}
        )
        self.assertEqual(answer.status_code, 202, answer.text)
        until(lambda: portal.client.run(answer.json()["id"]).state == "done")
        self.assertEqual([r.project for r in portal.client.referrers(owner, f"{owner}.f")], [user])
        self.assertEqual(portal.client.project(rival).purl, "")
        for slug, kept in ((owner, f"It stays with {owner}"), (rival, f"{rival} has it not")):
            found = [f.finding for f in portal.client.findings(project=slug, rule="text/contested-name")]
            self.assertEqual(len(found), 2, slug)  # The namespace and the package URL.
            self.assertIn(kept, found[0].message)
        with self.assertRaises(PortalProblem) as caught:
            type(portal.client)(portal.url, token).decide_name(f"pkg:pypi/{owner}", [rival])
        self.assertEqual(caught.exception.status, 403)
        for claim in {c.name for c in portal.client.names(owner, contested=True)}:
            portal.client.decide_name(claim, [rival])
        self.assertEqual(portal.client.project(owner).purl, "")
        until(lambda: [r.project for r in portal.client.referrers(rival, f"{owner}.f")] == [user])
        self.assertEqual(list(portal.client.names(owner, contested=True)), [])
        self.assertEqual({c.decided_by for c in portal.client.names(owner)}, {"admin"})
        until(lambda: not list(portal.client.findings(project=owner, rule="text/contested-name")))

    def test_a_name_longer_than_any_project_dangles_and_breaks_no_publish(self):
        text = f"[a](api://{'x' * 300}/y) [b](api://{self.slug}@{'9' * 300}/y) [c](api://{'é' * 120}@1/y)\n"
        run = self.portal.publish({"docs/index.md": f"# One\n\n{text}", "zarbek.toml": ""}, self.slug, "1.0")
        self.assertEqual((run.state, run.problem), ("done", ""))
        rules = sorted(f.finding.rule for f in self.portal.client.findings(project=self.slug))
        self.assertEqual(rules, ["dangling/project", "dangling/project", "dangling/version"])

    def test_no_release_is_called_like_what_moves(self):
        bundle = self.portal.bundle({f"{self.slug}.py": ""}, self.slug, "1.0")
        for version in ("latest", "stable", "Latest"):
            for preview in (False, True):
                with self.subTest(version, preview=preview), self.assertRaises(PortalProblem) as caught:
                    self.portal.client.publish(bundle, version=version, preview=preview)
                self.assertEqual(caught.exception.status, 422)

    def test_a_long_version_of_a_preview_and_numbers_beyond_bounds(self):
        bundle = self.portal.bundle({f"{self.slug}.py": ""}, self.slug, "1.0")
        run = self.portal.wait(self.portal.client.publish(bundle, version="v" * 100, preview=True))
        self.assertEqual((run.state, run.problem), ("done", ""))
        from tests.support.hostile import write_members

        symbol = {"path": "m", "name": "m", "kind": "module", "language": "python", "module": "m"}
        for bad in ({"line": 2**64}, {"line": -5}, {"path": "a" * 701}, {"end_line": 2**31}):
            path = write_members(
                {"symbols.jsonl": json.dumps({**symbol, **bad}).encode() + b"\n"}, project=self.slug, version="2"
            )
            with self.subTest(str(bad)[:30]), self.assertRaises(PortalProblem) as caught:
                self.portal.client.publish(path)
            self.assertEqual(caught.exception.status, 422)
            path.unlink()
        path = write_members({}, project=self.slug, version="2", counts={"symbols": -1})
        with self.assertRaises(PortalProblem) as caught:
            self.portal.client.publish(path)
        self.assertEqual(caught.exception.status, 422)


class Crowds(Case):
    def test_the_same_published_at_once_is_published_once(self):
        bundle = self.portal.bundle({f"{self.slug}.py": "X = 1\n"}, self.slug, "1.0")
        with ThreadPoolExecutor(8) as pool:
            runs = list(pool.map(lambda _: self.portal.client.publish(bundle), range(8)))
        self.assertEqual(len({run.id for run in runs}), 1)
        self.assertEqual(self.portal.wait(runs[0]).state, "done")

    def test_slow_heads_and_bodies_of_forty_clients_leave_readers_unharmed(self):
        port = int(self.portal.url.rpartition(":")[2])
        head = b"GET /api/v1/projects HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Slow: "
        upload = b"POST /api/v1/runs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/zip\r\nContent-Length: 900000\r\n\r\nPK"
        wires = []
        for number in range(80):
            wire = socket.create_connection(("127.0.0.1", port), timeout=10)
            wire.sendall(head if number % 2 else upload)
            wires.append(wire)
        try:
            slowest = 0.0
            for _ in range(20):
                started = time.monotonic()
                self.assertEqual(httpx.get(f"{self.portal.url}/api/v1/projects", timeout=10).status_code, 200)
                slowest = max(slowest, time.monotonic() - started)
            self.assertLess(slowest, 5.0)
        finally:
            for wire in wires:
                wire.close()

    def test_readers_of_runs_hold_no_threads(self):
        run = self.portal.publish({f"{self.slug}.py": ""}, self.slug, "1.0")
        waiting = self.portal.in_service(f"""
            from zarbek.service.publishing.models import Run
            print(Run.objects.create(project={self.slug!r}, version="0", state="running").pk)
        """)
        address = f"/api/v1/runs/{int(waiting.stdout)}/events"
        port = int(self.portal.url.rpartition(":")[2])
        wires = [socket.create_connection(("127.0.0.1", port), timeout=10) for _ in range(60)]
        try:
            for wire in wires:
                wire.sendall(f"GET {address} HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n".encode())
            time.sleep(0.5)
            self.assertEqual(httpx.get(f"{self.portal.url}/api/v1/runs/{run.id}", timeout=5).status_code, 200)
        finally:
            for wire in wires:
                wire.close()
            self.portal.in_service(
                f"from zarbek.service.publishing.models import Run; Run.objects.filter(pk={int(waiting.stdout)}).update(state='failed')"
            )

    def test_signing_in_is_throttled_whatever_a_header_says_of_the_client(self):
        name = f"nobody-{self.slug}"
        statuses = []
        for number in range(12):
            answer = self.portal.http.post(
                "/api/v1/session",
                json={"user": name, "password": "x"},
                headers={"X-Forwarded-For": f"198.51.100.{number}"},
            )
            statuses.append(answer.status_code)
        self.assertEqual((statuses[0], statuses[-1]), (401, 429))
        self.assertRegex(answer.headers["Retry-After"], r"^[0-9]+$")


class Uploads(Case):
    def setUp(self):
        super().setUp()
        self.bundle = self.portal.bundle({f"{self.slug}.py": "X = 1\n"}, self.slug, "1.0").read_bytes()
        self.headers = {"Authorization": f"Bearer {self.portal.token}", "Content-Type": "application/zip"}

    def left(self):
        files = self.portal.home / "home" / "files"
        return [p for p in files.rglob("*") if p.is_file() and ("upload-" in p.name or "incoming" in p.parts)]

    def test_one_that_comes_in_chunks_is_taken(self):
        pieces = (self.bundle[i : i + 777] for i in range(0, len(self.bundle), 777))
        answer = httpx.post(f"{self.portal.url}/api/v1/runs", headers=self.headers, content=pieces)
        self.assertEqual(answer.status_code, 202, answer.text)

    def test_one_that_ends_early_leaves_nothing(self):
        port = int(self.portal.url.rpartition(":")[2])
        with socket.create_connection(("127.0.0.1", port)) as wire:
            head = f"POST /api/v1/runs HTTP/1.1\r\nHost: 127.0.0.1\r\nAuthorization: Bearer {self.portal.token}\r\nContent-Type: application/zip\r\nContent-Length: 50000000\r\n\r\n"
            wire.sendall(head.encode() + b"PK" * 1_000_000)
        self.assertEqual(until(lambda: not self.left(), 5), True)
        self.assertNotIn(self.slug, [p.slug for p in self.portal.client.projects()])

    def test_a_refused_one_leaves_nothing(self):
        answer = httpx.post(f"{self.portal.url}/api/v1/runs", headers=self.headers, content=b"PK" + self.bundle[2:-30])
        self.assertEqual(answer.status_code, 422)
        self.assertEqual(self.left(), [])


class Index(Case):
    def find(self, name):
        return self.portal.http.get("/api/v1/search", params={"q": name})

    def broken(self, break_it):
        folder = self.portal.home / "home" / "index"
        self.portal.publish({f"{self.slug}.py": f'def f{self.slug}():\n    """F."""\n'}, self.slug, "1.0")
        self.assertEqual([h["name"] for h in self.find(f"f{self.slug}").json()][:1], [f"f{self.slug}"])
        later = f"later{self.slug}"
        with self.nobody_mending():
            break_it(folder)
            answer = self.find(f"f{self.slug}")
            self.assertEqual((answer.status_code, answer.json()["code"]), (503, "unavailable"))
            ready = self.portal.http.get("/health/ready")
            self.assertEqual((ready.status_code, ready.json()["checks"]["index"]["ok"]), (503, False))
            run = self.portal.publish({f"{later}.py": f'def g{later}():\n    """G."""\n'}, later, "1.0")
            self.assertEqual(run.state, "done")
        for name in (f"f{self.slug}", f"g{later}"):
            until(lambda name=name: self.find(name).status_code == 200 and self.find(name).json(), 60)
        self.assertEqual(self.portal.http.get("/health/ready").status_code, 200)

    @contextmanager
    def nobody_mending(self):
        """The processes that keep the index in step are held, so that one sees what is said meanwhile."""
        worker = self.portal.processes.find("the worker").pid
        found = [pid for pid, command in children_of(worker).items() if "follow_search" in command]
        self.assertGreater(len(found), 0)
        for pid in found:
            os.kill(pid, signal.SIGSTOP)
        try:
            yield
        finally:
            for pid in found:
                os.kill(pid, signal.SIGCONT)

    def test_one_that_is_deleted_is_built_anew_and_publishes_go_on(self):
        self.broken(lambda folder: shutil.rmtree(folder))

    def test_one_that_is_damaged_is(self):
        def damage(folder):
            for file in folder.rglob("meta.json"):
                file.write_bytes(b"{")

        self.broken(damage)


class Removing(Case):
    def test_a_release_goes_and_the_aliases_move_on(self):
        portal, slug = self.portal, self.slug
        for version in ("1.0", "2.0"):
            portal.publish({f"{slug}.py": f'def f{slug}{version[0]}():\n    """F."""\n'}, slug, version)
        portal.client.remove_release(slug, "2.0")
        self.assertEqual(portal.client.project(slug).latest, "1.0")
        self.assertEqual(portal.http.get(f"/api/v1/projects/{slug}/releases/2.0/manifest").status_code, 404)
        names = [
            h["name"] for h in portal.http.get("/api/v1/search", params={"q": f"f{slug}2", "project": slug}).json()
        ]
        self.assertNotIn(f"f{slug}2", names)

    def test_a_project_goes_with_all_that_it_has_and_what_names_it_dangles(self):
        portal, slug, user = self.portal, self.slug, f"user{self.slug}"
        portal.publish({f"{slug}.py": 'def f():\n    """F."""\n'}, slug, "1.0")
        portal.publish(
            {
                f"{user}.py": f'"""See :func:`{slug}.f` and [it](api://{slug}/{slug}.f)."""\n',
                "docs/index.md": f"# A\n\n[f](api://{slug}/{slug}.f)\n",
            },
            user,
            "1.0",
        )
        token = self.token_of(slug)
        with self.assertRaises(PortalProblem):
            type(portal.client)(portal.url, token).remove_project(slug)
        code, out, _ = portal.command("remove", slug)
        self.assertEqual((code, "Say --yes" in out), (0, True))
        code, out, _ = portal.command("remove", slug, "--yes")
        self.assertEqual(code, 0)
        self.assertEqual(portal.http.get(f"/api/v1/projects/{slug}").status_code, 404)
        self.assertNotIn(slug, [p.slug for p in portal.client.projects()])
        until(lambda: [f for f in portal.client.findings(project=user) if f.finding.rule == "dangling/project"])
        left = portal.in_service("""
            import time
            from zarbek.service.catalog.models import Project, Release
            until = time.monotonic() + 40
            while Project.everything.filter(slug__startswith="~").exists() and time.monotonic() < until:
                time.sleep(0.3)
            print(Project.everything.filter(slug__startswith="~").count())
        """)
        self.assertEqual(left.stdout.strip(), "0", left.stderr)
        self.assertEqual(portal.publish({f"{slug}.py": ""}, slug, "1.0").state, "done")

    def test_where_sources_lie_is_told_to_who_may_manage_them(self):
        portal, slug = self.portal, self.slug
        folder = write_files(portal.home / "repositories" / slug, {"a.py": ""})
        source = portal.client.add_source(slug, str(folder))
        address = f"/api/v1/projects/{slug}/sources"
        self.assertNotIn(str(portal.home), portal.http.get(address).text)
        self.assertEqual(portal.api("GET", f"/projects/{slug}/sources").json()[0]["address"], str(folder))
        (run,) = portal.client.fetch(slug, tag="v1")
        failed = portal.wait(run)
        told = portal.http.get(f"/api/v1/runs/{run.id}").text + portal.http.get(f"/api/v1/runs/{run.id}/log").text
        self.assertEqual(failed.state, "failed")
        self.assertNotIn(str(portal.home), told)
        portal.client.remove_source(source.id)
        self.assertEqual(portal.client.sources(slug), [])


class Drip(BaseHTTPRequestHandler):
    """Answers a byte now and then, for ever; or with more than anybody wants."""

    protocol_version = "HTTP/1.1"

    def do_GET(self):
        if self.path == "/head":
            self.wfile.write(b"HTTP/1.1 200 OK\r\nX-A: ")
            self._drip()
        elif self.path == "/body":
            self.wfile.write(b"HTTP/1.1 200 OK\r\nContent-Length: 100000\r\n\r\n")
            self._drip()
        elif self.path == "/flood":
            self.wfile.write(b"HTTP/1.1 200 OK\r\n\r\n")
            for _ in range(4000):
                self.wfile.write(b"a" * 65_536)
        else:
            self.send_response(200)
            self.send_header("Content-Length", "0")
            self.end_headers()

    do_POST = do_GET  # noqa: N815

    def _drip(self):
        while True:
            self.wfile.write(b"a")
            self.wfile.flush()
            time.sleep(0.2)

    def handle(self):
        try:
            super().handle()
        except OSError:
            return

    def log_message(self, *_):
        return


class Outward(Case):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.server = ThreadingHTTPServer(("127.0.0.1", 0), Drip)
        cls.server.daemon_threads = True
        threading.Thread(target=cls.server.serve_forever, daemon=True).start()
        cls.url = f"http://127.0.0.1:{cls.server.server_port}"
        cls.addClassCleanup(cls.server.shutdown)

    def test_every_request_has_a_total_time_and_a_total_size(self):
        done = self.portal.in_service(f"""
            import time, resource
            import httpx
            from zarbek.service.common.egress import EgressTransport, get_bounded
            before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
            for path in ("/head", "/body", "/flood"):
                started = time.monotonic()
                try:
                    with httpx.Client(transport=EgressTransport(["127.0.0.1"], total_s=2, max_bytes=2**22), timeout=5) as http:
                        get_bounded(http, "{self.url}" + path, limit=2**20)
                    print(path, "answered")
                except httpx.HTTPError as error:
                    print(path, type(error).__name__, time.monotonic() - started < 4)
            print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 100_000)
        """)
        self.assertEqual(
            done.stdout.split("\n")[:4],
            ["/head ReadTimeout True", "/body ReadTimeout True", "/flood AnswerTooLarge True", "True"],
            done.stderr,
        )

    def test_a_slow_receiver_holds_up_no_other(self):
        slow = [self.portal.client.add_webhook(f"{self.url}/body").id for _ in range(3)]
        fast = self.portal.client.add_webhook(f"{self.url}/fast").id
        try:
            self.portal.publish({f"{self.slug}.py": ""}, self.slug, "1.0")

            def states(hook):
                return [d.state for d in self.portal.client.deliveries(hook) if self.slug in d.body]

            until(lambda: states(fast) == ["delivered"])
        finally:
            for hook in (*slow, fast):
                self.portal.client.remove_webhook(hook)


if __name__ == "__main__":
    unittest.main()
