"""What the portal asks of the world and tells it: addresses, repositories, webhooks, mail, feeds."""

import subprocess
import unittest
import uuid
from datetime import UTC, datetime
from xml.etree import ElementTree

from standardwebhooks import Webhook as Signer

from tests.support.running import running
from tests.support.sources import write_files
from tests.support.waiting import until
from zarbek.client import PortalProblem

ATOM = "{http://www.w3.org/2005/Atom}"


class Case(unittest.TestCase):
    def setUp(self):
        self.portal = running()
        self.world = self.portal.world
        self.slug = f"w{uuid.uuid4().hex[:6]}"

    def findings(self, rule):
        found = self.portal.client.findings(project=self.slug, rule=rule)
        return {f.finding.target.removeprefix(self.world.url): f.finding for f in found}


#: A worker that other tests ended may have claimed the site for a minute, and the clock asks every minute.
ASKED_S = 150


class Urls(Case):
    def test_every_kind_of_answer(self):
        sound = ("page", "page#tides", "page#rest", "found", "sign-in", "busy", "head-refused", "secret/page", "to-private",
                 "broken", "slow", "out-and-back", "page#:~:text=Tides")  # fmt: skip
        moved = {"moved": "/page", "moved-twice": "/page", "moved-anchor": "/page#tides"}
        wrong = ("missing", "gone", "circle", "endless", "page#nowhere", "to-gone")
        url = self.world.url
        lines = [f"- [x]({url}/{name})" for name in (*sound, *moved, *wrong)]
        lines.append(f"- [x]({self.world.secure_url}/page) [y](http://{self.slug}.invalid/)")
        files = {"guides/index.md": "# Links\n\n" + "\n".join(lines) + "\n", "zarbek.toml": 'owner = "Docs"\n'}
        self.portal.publish(files, self.slug, "1.0")
        dead = until(lambda: (d := self.findings("dangling/url")) and len(d) >= len(wrong) and d, ASKED_S)
        self.assertEqual(set(dead), {f"/{name}" for name in wrong})
        unreachable = {a.url.removeprefix(url): a.why for a in self.portal.client.addresses(self.slug).unreachable}
        self.assertEqual(
            set(unreachable), {"/broken", "/slow", f"{self.world.secure_url}/page", f"http://{self.slug}.invalid/"}
        )
        self.assertIn("valid certificate", unreachable[f"{self.world.secure_url}/page"])
        self.assertIn("410", dead["/gone"].message)
        found = {path: f.suggestion.removeprefix(url) for path, f in self.findings("stale/redirect").items()}
        self.assertEqual(found, {f"/{name}": target for name, target in moved.items()})
        asked = [path for method, path, headers in self.world.seen if "ZarbekLinks" in headers.get("User-Agent", "")]
        self.assertNotIn("/secret/page", asked)
        # What was asked for lately is not asked for again; an address that goes from the text is mended.
        before = len(self.world.seen)
        files["guides/index.md"] = f"# Links\n\n[x]({url}/gone)\n"
        self.portal.publish(files, self.slug, "1.1")
        self.assertEqual(until(lambda: len(self.findings("dangling/url")) == 1), True)
        self.assertEqual(len(self.world.seen), before)

    def test_private_networks_are_left_alone(self):
        done = self.portal.in_service("""
            from zarbek.core.material.network_addresses import HostRefused, resolve
            for host in ("127.0.0.1", "localhost", "169.254.169.254", "10.0.0.1", "[::1]", "0.0.0.0"):
                try:
                    resolve(host.strip("[]"), [])
                    print("reached", host)
                except HostRefused:
                    pass
            print(resolve("127.0.0.1", ["127.*"]))
        """)
        self.assertEqual((done.stdout.strip(), done.returncode), ("127.0.0.1", 0), done.stderr)

    def test_an_address_is_asked_again_only_for_what_has_changed(self):
        done = self.portal.in_service(f"""
            from collections import Counter
            from zarbek.service.addresses.models import UrlCheck
            from zarbek.service.addresses.actions.asking import keep_round
            from zarbek.service.addresses.rounds import UrlChecker
            with UrlChecker() as checker:
                seen = UrlCheck.objects.create(digest="1" * 32, url="{self.world.url}/changes")
                for _ in range(2):
                    keep_round([checker.ask(seen)], Counter())
                    seen.refresh_from_db()
                    print(seen.status)
                seen.delete()
        """)
        self.assertEqual(done.stdout.split("\n")[:2], ["200", "304"], done.stderr)

    def test_what_cannot_be_reached_is_no_fault_of_the_reference(self):
        """Nothing else answers: even a plain 404 may come from something in between."""
        dead = f"http://{self.slug}.invalid/"
        self.portal.publish({"guides/index.md": f"# A\n\n[x]({dead})\n"}, self.slug, "1.0")
        found = until(lambda: (a := self.portal.client.addresses(self.slug)).unreachable and a, ASKED_S)
        ((only,), known) = found.unreachable, found.known
        self.assertEqual((only.url, known), (dead, 1))
        self.assertTrue(only.why.startswith("has no host of that name"), only.why)
        self.assertEqual(self.findings("dangling/url"), {})
        _, text, _ = self.portal.command("addresses", self.slug)
        self.assertIn("1 address of the web", text)
        self.assertIn(f"{self.slug}.invalid  1 address, since", text)

    def test_a_project_and_a_host_may_be_left_alone(self):
        url = self.world.url
        files = {"guides/index.md": f"# A\n\n[x]({url}/gone) [y]({url}/page)\n"}
        client = self.portal.client
        self.portal.publish(files, self.slug, "1.0")
        until(lambda: self.findings("dangling/url"), ASKED_S)
        for number, wishes in enumerate(({"asks": False}, {"asks": True, "quiet": ["127.0.0.*"]}), 1):
            with self.subTest(wishes):
                client.set_addresses(self.slug, **wishes)
                self.portal.publish({**files, "x.py": f"X = {number}"}, self.slug, f"1.{number}")
                until(lambda: not self.findings("dangling/url"), ASKED_S)
        _, text, _ = self.portal.command("addresses", "--leave", "*.halmere.invalid")
        self.assertIn("*.halmere.invalid", text)
        self.assertEqual(
            self.portal.command("addresses", "--ask", "*.halmere.invalid")[:2], (0, "No host is left alone.\n")
        )


class Repositories(Case):
    def setUp(self):
        super().setUp()
        self.folder = self.portal.home / "repositories" / self.slug
        write_files(self.folder, {f"{self.slug}.py": '"""One."""\n'})
        self.git("init", "-q", "-b", "main")
        self.commit("v1.0.0")
        self.client = self.portal.client

    def git(self, *arguments):
        who = ["-c", "user.name=A", "-c", "user.email=a@halmere.example"]
        subprocess.run(["git", "-C", str(self.folder), *who, *arguments], check=True, capture_output=True)

    def commit(self, tag=""):
        self.git("add", "-A")
        self.git("commit", "-q", "--allow-empty", "-m", "More")
        if tag:
            self.git("tag", tag)

    def test_a_repository_that_is_ahead_is_told_and_mended_by_publishing(self):
        source = self.client.add_source(self.slug, str(self.folder))
        self.portal.wait(self.client.fetch(self.slug, tag="v1.0.0")[0])
        self.assertEqual(self.client.poll(source.id).ahead.tags, [])
        for tag in ("v1.1.0", "v0.9.0", "other", ""):
            self.commit(tag)
        ahead = self.client.poll(source.id).ahead
        self.assertEqual((ahead.tags, ahead.commits, ahead.since), (["v1.1.0"], 4, "1.0.0"))
        (finding,) = self.client.findings(project=self.slug, rule="stale/source-ahead")
        self.assertIn("1 tag that the portal has not published: v1.1.0 and 4 commits on main", finding.finding.message)
        _, text, _ = self.portal.command("sources")
        self.assertIn(self.slug, text)
        self.portal.wait(self.client.fetch(self.slug, branch="main")[0])
        self.portal.wait(self.client.fetch(self.slug, tag="v1.1.0")[0])
        self.assertEqual(self.client.poll(source.id).ahead.commits, 0)
        self.assertEqual(list(self.client.findings(project=self.slug, rule="stale/source-ahead")), [])

    def test_a_signed_call_publishes_new_tags_of_a_watched_repository(self):
        source = self.client.add_source(self.slug, str(self.folder), poll_minutes=60)
        body, moment = b'{"ref": "refs/tags/v1.0.0"}', datetime.now(tz=UTC)
        signature = Signer(source.secret).sign("call-1", moment, body.decode())
        headers = {
            "webhook-id": "call-1",
            "webhook-timestamp": str(int(moment.timestamp())),
            "webhook-signature": signature,
        }
        post = self.portal.http.post
        for wrong in ({}, {**headers, "webhook-signature": "v1,AAAA"}, {**headers, "webhook-id": "call-2"}):
            self.assertEqual(post(source.hook, content=body, headers=wrong).status_code, 403)
        self.assertEqual(
            post(source.hook.replace(str(source.id), "999999"), content=body, headers=headers).status_code, 403
        )
        self.assertEqual(post(source.hook, content=body, headers=headers).status_code, 202)
        self.assertEqual(until(lambda: self.client.project(self.slug).latest), "1.0.0")


class Notices(Case):
    def test_events_are_signed_tried_again_logged_and_sent_again(self):
        client = self.portal.client
        self.portal.publish({f"{self.slug}.py": ""}, self.slug, "1.0")
        hook = client.add_webhook(f"{self.world.url}/hook-{self.slug}", self.slug)
        self.addCleanup(client.remove_webhook, hook.id)
        self.assertEqual({w.secret for w in client.webhooks()}, {""})
        self.world.refuse(True)
        run = self.portal.publish({f"{self.slug}.py": f'"""See :func:`{self.slug}.no`."""'}, self.slug, "1.1")
        arrived = lambda: [p for p in self.world.posts if p[0] == f"/hook-{self.slug}"]  # noqa: E731
        self.assertEqual(len(until(arrived)), 1)
        (delivery,) = until(lambda: [d for d in client.deliveries(hook.id) if d.attempts])
        self.assertEqual((delivery.state, delivery.status), ("waiting", 503))
        self.portal.in_service(f"""
            from django.utils import timezone
            from zarbek.service.notices.models import Delivery
            Delivery.objects.filter(pk={delivery.id}).update(due_at=timezone.now())
        """)
        until(lambda: len(arrived()) > 1)
        _, headers, body = arrived()[1]
        event = Signer(hook.secret).verify(body, headers)
        self.assertEqual(
            (event["specversion"], event["type"], event["subject"]), ("1.0", "org.zarbek.release.published", self.slug)
        )
        self.assertEqual((event["id"], event["data"]["run"]), (headers["webhook-id"], run.id))
        self.assertEqual([f["rule"] for f in event["data"]["new"]], ["dangling/symbol"])
        (delivery,) = until(lambda: [d for d in client.deliveries(hook.id) if d.state == "delivered"])
        client.redeliver(delivery.id)
        self.assertEqual(len(until(lambda: len(arrived()) > 2 and arrived())), 3)
        self.assertEqual(arrived()[2][1]["webhook-id"], event["id"])
        with self.assertRaises(PortalProblem):
            client.add_webhook("http://10.0.0.1/x")

    def test_mail_tells_a_team_what_is_new_once(self):
        team, client = f"Team {self.slug}", self.portal.client
        client.set_digests({team: "team@halmere.example"})
        files = {f"{self.slug}.py": f'"""See :func:`{self.slug}.no`."""', "zarbek.toml": f'owner = "{team}"\n'}
        self.portal.publish(files, self.slug, "1.0")
        send = "from zarbek.service.notices.actions.mail import send_digests; print(send_digests())"
        self.assertEqual([self.portal.in_service(send).stdout.strip() for _ in range(2)], ["1", "0"])
        to, content = self.world.mails[-1]
        self.assertEqual(to, ["team@halmere.example"])
        text = content.decode()
        self.assertIn(f"1 new finding for {team}", text)
        self.assertIn("multipart/alternative", text)
        client.set_digests({team: ""})
        with self.assertRaises(PortalProblem):
            client.set_digests({team: "no address"})

    def test_feeds_of_the_portal_a_project_and_a_team(self):
        team = f"Team {self.slug}"
        text = f'"""See :func:`{self.slug}.no`. <script>"""'
        self.portal.publish({f"{self.slug}.py": text, "zarbek.toml": f'owner = "{team}"\n'}, self.slug, "1.0")
        for path in ("portal", f"projects/{self.slug}", f"teams/{team}"):
            answer = self.portal.http.get(f"/feeds/{path}.atom")
            self.assertRegex(answer.headers["Content-Type"], r"^application/atom\+xml\b")
            feed = ElementTree.fromstring(answer.content)
            entry = feed.find(f"{ATOM}entry")
            self.assertIn(self.slug, entry.findtext(f"{ATOM}title"))
            self.assertRegex(entry.findtext(f"{ATOM}id"), r"^https?://\S+$")
            self.assertNotIn("<script", entry.findtext(f"{ATOM}summary") or "")
        self.assertEqual(self.portal.http.get("/feeds/projects/nothing.atom").status_code, 404)


if __name__ == "__main__":
    unittest.main()
