"""Signing in at a provider of identities: who comes in, as whom, with which teams, and how that ends."""

import unittest
import uuid

import httpx

from tests.support.running import running
from zarbek.client import PortalProblem

EVENT = {"http://schemas.openid.net/event/backchannel-logout": {}}


class Case(unittest.TestCase):
    def setUp(self):
        self.portal = running()
        self.provider = self.portal.identities
        tag = uuid.uuid4().hex[:6]
        self.name, self.group = f"mara-{tag}", f"crew-{tag}"
        self.provider.person = {
            "sub": f"u-{tag}", "preferred_username": self.name, "email": f"{self.name}@halmere.example",
            "groups": [self.group],
        }  # fmt: skip
        self.provider.said, self.provider.tells, self.provider.signed_by = {}, {}, "own"

    def sign_in(self, browser=None):
        """Where somebody ends up, and the browser in which."""
        browser = browser or httpx.Client(base_url=self.portal.url, follow_redirects=True, timeout=30)
        self.addCleanup(browser.close)
        return browser.get("/oidc/sign-in").url, browser

    def who(self, browser):
        return browser.get("/api/v1/session").json()["user"]


class SigningIn(Case):
    def test_somebody_new_has_an_account_and_the_groups_of_the_provider_are_teams(self):
        place, browser = self.sign_in()
        self.assertEqual((place.path, self.who(browser)), ("/", self.name))
        (person,) = [p for p in self.portal.client.people() if p.name == self.name]
        self.assertEqual(
            (person.is_from_provider, person.teams, person.email), (True, [self.group], f"{self.name}@halmere.example")
        )
        with self.assertRaisesRegex(PortalProblem, "says who is in it"):
            self.portal.client.set_team(self.group, [])

    def test_who_leaves_a_group_leaves_the_team_and_what_it_may_see(self):
        slug = f"prv{uuid.uuid4().hex[:6]}"
        self.portal.publish({f"{slug}.py": ""}, slug, "1.0")
        self.addCleanup(self.portal.client.set_visibility, slug, "public")  # Others share the portal.
        self.portal.client.set_visibility(slug, "teams")
        _, browser = self.sign_in()
        self.portal.client.set_project_member(slug, "reader", team=self.group)
        self.assertEqual(browser.get(f"/api/v1/projects/{slug}").status_code, 200)
        self.provider.person["groups"] = []
        _, browser = self.sign_in()
        self.assertEqual(browser.get(f"/api/v1/projects/{slug}").status_code, 404)

    def test_nobody_comes_into_an_account_by_its_name_or_address(self):
        self.portal.client.add_person(self.name, uuid.uuid4().hex, email=self.provider.person["email"])
        _, browser = self.sign_in()
        self.assertEqual(self.who(browser), f"{self.name}-2")
        self.provider.person["preferred_username"] = f"{self.name}-renamed"
        self.assertEqual(self.who(self.sign_in()[1]), f"{self.name}-2", "it is the same person all the same")

    def test_the_providers_group_of_administrators_administers_while_it_says_so(self):
        self.provider.person["groups"] = ["halmere-administrators"]
        _, browser = self.sign_in()
        self.assertEqual(browser.get("/api/v1/people").status_code, 200)
        self.provider.person["groups"] = []
        _, browser = self.sign_in()
        self.assertEqual(browser.get("/api/v1/people").status_code, 403)


class Refusals(Case):
    def test_a_token_that_is_not_the_providers_to_us_and_now_signs_nobody_in(self):
        for said in ({"iss": "https://other.example"}, {"aud": "another"}, {"nonce": "old"}, {"exp": 1}, {"sub": ""}):
            with self.subTest(said):
                self.provider.said = said
                place, browser = self.sign_in()
                self.assertEqual((str(place).removeprefix(self.portal.url), self.who(browser)),
                                 ("/sign-in?failed=provider", ""))  # fmt: skip
        self.provider.said, self.provider.signed_by = {}, "strange"
        self.assertEqual(self.who(self.sign_in()[1]), "")

    def test_word_of_somebody_else_signs_nobody_in(self):
        self.provider.tells = {"sub": "another"}
        self.assertEqual(self.who(self.sign_in()[1]), "")

    def test_a_way_back_that_nobody_went_out_on_leads_nowhere(self):
        browser = httpx.Client(base_url=self.portal.url)
        self.addCleanup(browser.close)
        answer = browser.get("/oidc/callback?code=x&state=y")
        self.assertEqual((answer.status_code, answer.headers["Location"]), (302, "/sign-in?failed=provider"))


class Ending(Case):
    def test_the_providers_word_ends_every_session_of_who_has_left(self):
        (_, one), (_, two) = self.sign_in(), self.sign_in()
        self.assertEqual([self.who(b) for b in (one, two)], [self.name] * 2)
        for token in ("", "x.y.z", self.provider.token(), self.provider.token(events=EVENT, nonce="n"),
                      self.provider.token(events=EVENT, aud="other")):  # fmt: skip
            answer = self.portal.http.post("/oidc/sign-out", data={"logout_token": token})
            self.assertEqual(answer.status_code, 400)
        self.assertEqual(self.who(one), self.name)
        answer = self.portal.http.post("/oidc/sign-out", data={"logout_token": self.provider.token(events=EVENT)})
        self.assertEqual((answer.status_code, self.who(one), self.who(two)), (200, "", ""))

    def test_sessions_are_listed_and_ended_one_by_one(self):
        (_, one), (_, two) = self.sign_in(), self.sign_in()
        listed = one.get("/api/v1/sessions").json()
        self.assertEqual([s["is_this"] for s in listed].count(True), 1)
        (other,) = [s["id"] for s in listed if not s["is_this"]]
        csrf = {"X-CSRFToken": one.get("/api/v1/session").json()["csrf"], "Referer": self.portal.url}
        self.assertEqual(one.delete(f"/api/v1/sessions/{other}", headers=csrf).status_code, 204)
        self.assertEqual((self.who(one), self.who(two)), (self.name, ""))

    def test_tokens_rest_while_the_provider_has_not_told_of_their_maker_for_long(self):
        _, browser = self.sign_in()
        csrf = {"X-CSRFToken": browser.get("/api/v1/session").json()["csrf"], "Referer": self.portal.url}
        token = browser.post("/api/v1/tokens", json={"name": "mine"}, headers=csrf).json()["text"]
        self.assertEqual(self.portal.api("GET", "/sessions", token=token).status_code, 200)
        self.portal.in_service(f"""
            from datetime import timedelta
            from django.utils import timezone
            from zarbek.service.accounts.models import Identity
            Identity.objects.filter(user__username={self.name!r}).update(seen_at=timezone.now() - timedelta(days=31))
        """)
        answer = self.portal.api("GET", "/sessions", token=token)
        self.assertEqual((answer.status_code, "rests until its maker" in answer.text), (401, True))
        self.sign_in()
        self.assertEqual(self.portal.api("GET", "/sessions", token=token).status_code, 200)


if __name__ == "__main__":
    unittest.main()
