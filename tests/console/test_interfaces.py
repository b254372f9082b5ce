"""Operations, schemas and content models as readers meet them, and trying an operation from its page."""

import shlex

from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import Select

from tests.support.browsing import Browsing
from tests.support.running import ROOT

AXE = ROOT / "console" / "node_modules" / "axe-core" / "axe.min.js"
KEY = "harbour-key-of-the-demo"


class Interfaces(Browsing):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        gate = cls.portal.world.url
        base = ROOT / "demo" / "projects"
        for project, versions in (("quayside", ("1.0.0", "1.1.0", "2.0.0")), ("cargo-manifest", ("1.0.0",))):
            files = {}
            for version in versions:
                folder = base / project / version
                files |= {
                    str(p.relative_to(folder)): p.read_text()
                    for p in folder.rglob("*")
                    if p.is_file() and p.name[0] != "."
                }
                moved = {
                    n: t.replace("http://127.0.0.1:8099", gate).replace("127.0.0.1:8099", gate[7:])
                    for n, t in files.items()
                }
                cls.portal.publish(moved, f"con-{project}", version)

    def test_the_pages_open_cold_and_pass_the_accessibility_rules(self):
        for path in ("con-quayside/2.0.0/sailings", "con-quayside/2.0.0/sailings.createBooking", "con-quayside/2.0.0/sailings.Booking",
                     "con-quayside/2.0.0/sailings.responses.Unknown", "con-cargo-manifest/1.0.0/cargo.Manifest",
                     "con-cargo-manifest/1.0.0/legacy.waybill"):  # fmt: skip
            for width, theme in ((1280, "light"), (390, "dark")):
                with self.subTest(path, width=width):
                    self.resize(width, 800)
                    self.browser.get(self.portal.url)
                    self.browser.execute_script("localStorage.setItem('theme', arguments[0])", theme)
                    self.open(f"/ref/{path}")
                    self.wait("h1")
                    self.browser.execute_script(AXE.read_text())
                    faults = self.browser.execute_async_script(
                        "const done = arguments[0]; axe.run({runOnly: ['wcag2a', 'wcag2aa', 'wcag22aa']}).then("
                        "r => done(r.violations.map(v => v.id + ': ' + v.nodes.map(n => n.html).join(' '))))"
                    )
                    self.assertEqual(faults, [])
                    overflow = self.browser.execute_script("return document.documentElement.scrollWidth - innerWidth")
                    self.assertLessEqual(overflow, 0)
        self.assertEqual([e for e in self.browser.get_log("browser") if e["level"] == "SEVERE"], [])

    def test_an_operation_is_tried_and_its_error_answer_judged(self):
        self.open("/ref/con-quayside/2.0.0/sailings.createBooking", "form.mt-2, form")
        section = self.browser.find_element(By.CSS_SELECTOR, "[aria-label='Try it']")
        fields = {f.find_element(By.CSS_SELECTOR, ".font-mono").text: f.find_element(By.CSS_SELECTOR, "input, select")
                  for f in section.find_elements(By.CSS_SELECTOR, "label.try-line")[1:]}  # fmt: skip
        self.assertEqual(fields["X-Harbour-Key"].get_attribute("type"), "password")
        fields["X-Harbour-Key"].send_keys(KEY)
        fields["id"].clear()
        fields["id"].send_keys("S-2042")
        self.assertIn("Ida Brenn", section.find_element(By.TAG_NAME, "textarea").get_attribute("value"))
        section.find_element(By.CSS_SELECTOR, "button[type=submit]").click()
        self.wait("[data-answer]")
        answer = self.text("[data-answer]")
        self.assertIn("422", answer)
        self.assertIn("It fits its description.", answer)
        self.assertIn("2 places are asked for; 1 is free.", answer)
        self.assertNotIn(KEY, self.text("[data-snippet]"))
        kept = self.browser.execute_script(
            "return [Object.values({...localStorage}), Object.values({...sessionStorage})]"
        )
        self.assertEqual([KEY in kept[0], KEY in kept[1]], [False, True], "for this tab alone")
        self.assertNotIn(KEY, str(self.browser.get_cookies()))

    def test_the_answer_that_does_not_fit_says_where(self):
        self.open("/ref/con-quayside/2.0.0/fares.makeQuote", "form")
        self.browser.find_element(By.CSS_SELECTOR, "[aria-label='Try it'] button[type=submit]").click()
        self.wait("[data-answer]")
        self.wait_text("/total: an object was expected; this is 48.5")
        self.wait_text("does not fit")

    def test_the_code_follows_the_values(self):
        self.open("/ref/con-quayside/2.0.0/sailings.listSailings", "form")
        section = self.browser.find_element(By.CSS_SELECTOR, "[aria-label='Try it']")
        labels = section.find_elements(By.CSS_SELECTOR, "label.try-line")
        language = next(lb for lb in labels if "Accept-Language" in lb.text)
        Select(language.find_element(By.TAG_NAME, "select")).select_by_visible_text("nb")
        next(b for b in section.find_elements(By.TAG_NAME, "button") if "Take these" in b.text).click()
        self.wait_text("Accept-Language: nb")
        words = shlex.split(self.text("[data-snippet='curl']"))
        self.assertEqual(words[:3], ["curl", "--request", "GET"])
        self.assertIn("crossing=HAL-SKE", words[3])
        next(
            b for b in self.browser.find_elements(By.CSS_SELECTOR, "[aria-label='Form'] button") if b.text == "Python"
        ).click()
        compile(self.text("[data-snippet='Python']"), "a.py", "exec")

    def test_a_tree_opens_where_it_is_asked_to(self):
        self.open("/ref/con-quayside/2.0.0/sailings.Booking")
        self.wait_text("made from the schema")
        self.assertNotIn("plate", self.text(".schema-tree"))
        row = next(
            r for r in self.browser.find_elements(By.CSS_SELECTOR, ".schema-tree li") if r.text.startswith("vehicle")
        )
        row.find_element(By.TAG_NAME, "button").click()
        self.assertIn("plate", self.text(".schema-tree"))
        self.open("/ref/con-quayside/2.0.0/sailings.Traveller#name", "#name")

    def test_an_example_that_does_not_fit_is_marked(self):
        self.open("/ref/con-quayside/1.1.0/sailings.createBooking", ".example")
        next(b for b in self.browser.find_elements(By.CSS_SELECTOR, "figcaption button") if b.text == "car").click()
        self.wait_text("It does not fit: /vehicle: height is missing")

    def test_a_content_model_is_drawn_and_told(self):
        self.open("/ref/con-cargo-manifest/1.0.0/cargo.Manifest", "svg.content-model")
        told = self.browser.find_element(By.CSS_SELECTOR, "svg.content-model").get_attribute("aria-label")
        self.assertEqual(told.partition(": ")[2][:33], "in this order: sailing, master (m")
        self.browser.find_element(By.CSS_SELECTOR, "svg.content-model a").click()
        self.wait_text("SailingNumber")
        self.open("/ref/con-cargo-manifest/1.0.0/legacy.waybill")
        self.wait_text("Nobody has declared this. It was worked out from 2 samples")
