"""The console in headless Chromium: cold addresses, keyboard, themes, and what is wrong in place."""

import subprocess
import unittest
import uuid

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.wait import WebDriverWait

from tests.support.browsing import Browsing
from tests.support.sources import write_files


class Console(Browsing):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.slug = f"con{uuid.uuid4().hex[:6]}"
        cls.run_id = cls.portal.publish({
            f"{cls.slug}/__init__.py": f'"""The whole."""\nfrom {cls.slug}.parts import Wheel\n__all__ = ["Wheel"]\n',
            f"{cls.slug}/parts.py": f'class Wheel:\n    """A wheel.\n\n    It turns as :func:`{cls.slug}.parts.spin` says, not as :func:`{cls.slug}.parts.stop`.\n    """\n'
                                    'def spin(wheel: Wheel, turns: int = 1) -> Wheel:\n    """Spin it.\n\n    :param turns: How often.\n    """\n',
            "docs/index.md": f"# Start here\n\nRead about [wheels](api:{cls.slug}.Wheel).\n\n## More\n\nText.\n",
        }, cls.slug, "1.0").id  # fmt: skip
        cls.old = f"old{cls.slug}"
        turn = "    total = first + second\n    return total * 2 - first // 3 + second * total\n"
        for version, name in (("1.0.0", "spin"), ("1.1.0", "whirl")):
            cls.portal.publish({f"{cls.old}.py": f"def {name}(first, second):\n{turn}"}, cls.old, version)

    def test_every_page_opens_cold_without_an_error_in_the_log_and_passes_the_accessibility_rules(self):
        pages = ("/", "/reference", "/projects", f"/projects/{self.slug}", f"/ref/{self.slug}/1.0/{self.slug}.parts.Wheel",
                 f"/guide/{self.slug}/1.0/index", f"/runs/{self.run_id}", "/reports", f"/reports/{self.run_id}", "/findings",
                 "/findings?by=rule", "/search?q=wheel", "/sign-in", "/health", f"/projects/{self.old}/compare",
                 f"/projects/{self.old}/impact?name={self.old}.spin",
                 f"/projects/{self.old}/impact", f"/projects/{self.old}/impact?name=")  # fmt: skip
        for path in pages:
            self.assert_sound(path, "main h1, main .sentence")

    def test_a_large_class_is_told_whole_and_opens_at_the_member_that_was_asked_for(self):
        slug = f"{self.slug}large"
        methods = "".join(f'    def m{i}(self):\n        """Says {i}."""\n' for i in range(60))
        self.portal.publish({f"{slug}.py": f'class Large:\n    """L."""\n{methods}'}, slug, "1.0")
        self.open(f"/ref/{slug}/1.0/{slug}.Large#m55")
        member = self.wait("article#m55")
        WebDriverWait(self.browser, 5).until(
            lambda b: 0 <= b.execute_script("return arguments[0].getBoundingClientRect().top", member) < 600
        )
        self.assertEqual(len(self.browser.find_elements(By.CSS_SELECTOR, "article[id^=m]")), 60)

    def test_the_fault_is_shown_in_place_with_its_note_on_the_same_line(self):
        self.open(f"/ref/{self.slug}/1.0/{self.slug}.parts.Wheel")
        mark = self.wait(".mention.dangling")
        note = self.browser.find_element(By.CSS_SELECTOR, f"[data-note='{mark.get_attribute('data-finding')}']")
        self.assertIn("Dangling", note.text)
        WebDriverWait(self.browser, 5).until(lambda _: abs(note.rect["y"] - mark.rect["y"]) < 40)
        self.assertGreater(note.rect["x"], mark.rect["x"])

    def test_on_a_narrow_screen_the_note_folds_under_its_passage_and_nothing_overflows(self):
        self.resize(390, 844)
        self.open(f"/ref/{self.slug}/1.0/{self.slug}.parts.Wheel")
        mark = self.wait(".mention.dangling")
        folded = self.wait("[data-folded]")
        self.assertGreater(folded.rect["y"], mark.rect["y"])
        width = self.browser.execute_script("return document.documentElement.scrollWidth")
        self.assertLessEqual(width, 390)

    def test_search_by_keyboard_alone(self):
        self.open("/")
        self.browser.find_element(By.TAG_NAME, "body").send_keys("/")
        box = self.browser.switch_to.active_element
        box.send_keys("parts.spin")
        self.wait("#hits li a")
        box.send_keys(Keys.ENTER)
        self.wait_text("Spin it.")
        self.assertIn("/ref/", self.browser.current_url)
        link = self.browser.find_element(By.CSS_SELECTOR, "pre.signature a")
        self.assertRegex(link.get_attribute("href"), r"\.Wheel$")

    def test_reading_on_from_guide_to_symbol_and_back(self):
        self.open(f"/guide/{self.slug}/index")
        self.wait_text("Start here")
        self.browser.find_element(By.LINK_TEXT, "wheels").click()
        self.wait_text("A wheel.")
        self.browser.back()
        self.wait_text("Start here")

    def test_report_groups_by_target_and_findings_filter_by_address(self):
        self.open(f"/reports/{self.run_id}", "main h1")
        self.wait_text(f"{self.slug}.parts.stop")
        self.open(f"/findings?project={self.slug}&family=dangling", "main .rows li")
        self.wait_text("1 finding stands in 1 project, about 1 thing.")

    def test_theme_stays_after_a_reload(self):
        self.open("/")
        self.browser.execute_cdp_cmd(
            "Emulation.setEmulatedMedia", {"features": [{"name": "prefers-color-scheme", "value": "light"}]}
        )
        self.browser.refresh()
        self.wait("main")
        next(b for b in self.browser.find_elements(By.TAG_NAME, "button") if b.text == "Dark").click()
        self.browser.refresh()
        self.wait("html.dark main")
        self.browser.execute_script("localStorage.clear()")

    def test_signing_in_and_out(self):
        password = (self.portal.home / "home" / "admin-password").read_text().strip()
        self.open("/sign-in", "#user").send_keys("admin")
        self.browser.find_element(By.ID, "password").send_keys("wrong" + Keys.ENTER)
        self.wait_text("is not right")
        box = self.browser.find_element(By.ID, "password")
        box.clear()
        box.send_keys(password + Keys.ENTER)
        self.wait_text("Sign out")
        next(b for b in self.browser.find_elements(By.TAG_NAME, "button") if b.text == "Sign out").click()
        self.wait_text("Sign in")

    def test_an_address_that_is_not_there_says_so(self):
        self.open(f"/ref/{self.slug}/1.0/{self.slug}.never", "main")
        self.wait_text(f"has no {self.slug}.never")

    def test_a_page_of_another_language_speaks_it(self):
        slug = f"go{uuid.uuid4().hex[:6]}"
        self.portal.publish({
            "go.mod": f"module halmere.example/{slug}\n",
            "mast.go": "// Package mast sends.\npackage mast\n\n// Mast is one.\ntype Mast struct{}\n"
            + "".join(f"\n// {n} does.\nfunc (m *Mast) {n}(a int) error {{ return nil }}\n" for n in "ZYXABC"),
        }, slug, "1.0")  # fmt: skip
        self.open(f"/ref/{slug}/1.0/halmere.example/{slug}.Mast", "pre.signature")
        self.assertEqual(self.text("pre.signature"), "type Mast struct")
        self.assertIn("Go", [tag.text for tag in self.browser.find_elements(By.CSS_SELECTOR, "main .tag")])
        names = lambda: [a.text for a in self.browser.find_elements(By.CSS_SELECTOR, "main ul.rows li a.font-mono")]  # noqa: E731
        self.assertEqual(names(), list("ZYXABC"))
        self.browser.find_element(By.XPATH, "//button[text()='By name']").click()
        self.until("members by name", lambda _: names() == list("ABCXYZ"))

    def test_two_releases_side_by_side_and_an_old_address_leads_on(self):
        self.open(f"/projects/{self.old}/compare")
        self.wait_text("From 1.0.0 to 1.1.0")
        self.wait_text("hides the break")
        text = self.text("main")
        self.assertIn(f"{self.old}.spin", text)
        self.assertIn("the same body", text)
        self.open(f"/ref/{self.old}/1.1.0/{self.old}.spin", "main h1")
        self.assertEqual(self.text("h1"), "whirl")
        self.assertEqual(self.browser.current_url, f"{self.portal.url}/ref/{self.old}/1.1.0/{self.old}.whirl")

    def test_what_a_page_says_differently_is_told_when_asked_for(self):
        slug = f"pw{uuid.uuid4().hex[:6]}"
        for version, when in (("1.0", "dawn"), ("1.1", "noon")):
            self.portal.publish({"docs/berths.md": f"# Berths\n\n## Mooring\n\nMoor them at {when}.\n"}, slug, version)
        self.open(f"/projects/{slug}/compare", "main details summary")
        self.browser.find_element(By.CSS_SELECTOR, "main details summary").click()
        self.until("the words", lambda b: b.find_elements(By.CSS_SELECTOR, "main details ins"))
        words = [self.text(f"main details {sign}") for sign in ("del", "ins", ".differs")]
        self.assertEqual(words, ["dawn.", "noon.", "Moor them at dawn. noon."])

    def test_findings_are_chosen_and_waived_together(self):
        slug = f"wv{uuid.uuid4().hex[:6]}"
        self.portal.publish({f"{slug}.py": f'"""See :func:`{slug}.one` and :func:`{slug}.two`."""'}, slug, "1.0")
        self.sign_in()
        self.open(f"/findings?project={slug}&family=dangling", "main .rows li")
        for box in self.browser.find_elements(By.CSS_SELECTOR, "main .rows input[type=checkbox]"):
            box.click()
        self.wait_text("2 findings chosen")
        self.button("Waive until a day").click()
        self.wait("form input[minlength]").send_keys("Until the spring.")
        self.button("Waive 2 findings").click()
        self.wait_text("by admin: Until the spring.")
        self.assertEqual(sum(w.covers for w in self.portal.client.waivers(slug)), 2)
        self.open("/")
        self.button("Sign out").click()

    def test_the_patch_of_a_suggestion_is_shown(self):
        folder = self.portal.home / "repositories" / f"pt{uuid.uuid4().hex[:6]}"
        slug = folder.name
        write_files(folder, {f"{slug}.py": f'"""See :func:`{self.old}.spin`."""\n'})
        who = ["-c", "user.name=A", "-c", "user.email=a@halmere.example"]
        for step in (["init", "-q"], ["add", "-A"], [*who, "commit", "-qm", "One"], ["tag", "v1.0"]):
            subprocess.run(["git", "-C", str(folder), *step], check=True)
        self.portal.client.add_source(slug, str(folder))
        self.portal.wait(self.portal.client.fetch(slug, tag="v1.0")[0])
        self.open(f"/findings?project={slug}&family=dangling", "main .rows input[type=checkbox]").click()
        self.wait_text("Sign in to mend or waive them")
        self.sign_in()
        self.open(f"/findings?project={slug}&family=dangling", "main .rows input[type=checkbox]").click()
        self.until("a patch", lambda b: b.find_elements(By.PARTIAL_LINK_TEXT, "into a patch"))[0].click()
        self.wait_text("It mends 1 name")
        self.wait_text(f'+"""See :func:`{self.old}.whirl`."""')
        self.open("/")
        self.button("Sign out").click()


if __name__ == "__main__":
    unittest.main()
