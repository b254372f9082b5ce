"""The console in headless Chromium: cold addresses, keyboard, themes, and what is wrong in place."""

import tempfile
import unittest
import uuid

from selenium import webdriver
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.wait import WebDriverWait

from tests.support.running import ROOT, running

FLAGS = (
    "--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
    "--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1", "--no-proxy-server",
)  # fmt: skip


class Console(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = running()
        cls.slug = f"con{uuid.uuid4().hex[:6]}"
        cls.run_id = cls.portal.publish({
            f"{cls.slug}/__init__.py": f'"""The whole."""\nfrom {cls.slug}.parts import Wheel\n__all__ = ["Wheel"]\n',
            f"{cls.slug}/parts.py": f'class Wheel:\n    """A wheel.\n\n    It turns as :func:`{cls.slug}.parts.spin` says, not as :func:`{cls.slug}.parts.stop`.\n    """\n'
                                    'def spin(wheel: Wheel, turns: int = 1) -> Wheel:\n    """Spin it.\n\n    :param turns: How often.\n    """\n',
            "docs/index.md": f"# Start here\n\nRead about [wheels](api:{cls.slug}.Wheel).\n\n## More\n\nText.\n",
        }, cls.slug, "1.0").id  # fmt: skip
        options = Options()
        options.binary_location = "/usr/bin/chromium"
        cls.profile = tempfile.TemporaryDirectory()
        for flag in (*FLAGS, f"--user-data-dir={cls.profile.name}"):
            options.add_argument(flag)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        cls.browser = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
        cls.addClassCleanup(cls.profile.cleanup)
        cls.addClassCleanup(cls.browser.quit)

    def setUp(self):
        self.resize(1280, 800)
        self.browser.get_log("browser")  # What earlier tests left there is theirs.

    def resize(self, width, height):
        metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
        self.browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)

    def open(self, path, selector="main"):
        self.browser.get(self.portal.url + path)
        return self.wait(selector)

    def wait(self, selector):
        return WebDriverWait(self.browser, 15).until(
            lambda b: next(iter(b.find_elements(By.CSS_SELECTOR, selector)), None)
        )

    def wait_text(self, text):
        WebDriverWait(self.browser, 15).until(lambda b: text in b.find_element(By.TAG_NAME, "body").text)

    def test_every_page_opens_cold_without_an_error_in_the_log_and_passes_the_accessibility_rules(self):
        axe = (ROOT / "console/node_modules/axe-core/axe.min.js").read_text()
        pages = ("/", "/reference", "/projects", f"/projects/{self.slug}", f"/ref/{self.slug}/1.0/{self.slug}.parts.Wheel",
                 f"/guide/{self.slug}/1.0/index", f"/runs/{self.run_id}", "/reports", f"/reports/{self.run_id}", "/findings",
                 "/search?q=wheel", "/sign-in")  # fmt: skip
        for path in pages:
            for dark in (False, True):
                with self.subTest(path, dark=dark):
                    features = [{"name": "prefers-color-scheme", "value": "dark" if dark else "light"}]
                    self.browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": features})
                    self.open(path, "main h1, main .sentence")
                    self.browser.execute_script(axe)
                    found = self.browser.execute_async_script(
                        "axe.run({runOnly: ['wcag2a','wcag2aa','wcag21aa','wcag22aa']}).then(r => arguments[0]("
                        "r.violations.map(v => v.id + ': ' + v.nodes.map(n => n.html.slice(0, 120) + n.failureSummary.slice(0, 160)).join(' | '))))"
                    )
                    self.assertEqual(found, [])
                    self.assertEqual(
                        [e["message"] for e in self.browser.get_log("browser") if e["level"] == "SEVERE"], []
                    )

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
        self.assertTrue(
            self.browser.find_element(By.CSS_SELECTOR, "pre.signature a").get_attribute("href").endswith(".parts.Wheel")
        )

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
        self.wait_text("1 finding stands in 1 project.")

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


if __name__ == "__main__":
    unittest.main()

    def test_a_page_of_another_language_speaks_it(self):
        slug = f"go{uuid.uuid4().hex[:6]}"
        self.portal.publish({
            "go.mod": f"module halmere.example/{slug}\n",
            "mast.go": "// Package mast sends.\npackage mast\n\n// Mast is one.\ntype Mast struct{}\n"
            + "".join(f"\n// {n} does.\nfunc (m *Mast) {n}(a int) error {{ return nil }}\n" for n in "ZYXABC"),
        }, slug, "1.0")  # fmt: skip
        self.open(f"/ref/{slug}/1.0/halmere.example/{slug}.Mast", "pre.signature")
        self.assertEqual(self.browser.find_element(By.CSS_SELECTOR, "pre.signature").text, "type Mast struct")
        self.assertIn("Go", [tag.text for tag in self.browser.find_elements(By.CSS_SELECTOR, "main .tag")])
        names = lambda: [a.text for a in self.browser.find_elements(By.CSS_SELECTOR, "main ul.rows li a.font-mono")]  # noqa: E731
        self.assertEqual(names(), list("ZYXABC"))
        self.browser.find_element(By.XPATH, "//button[text()='By name']").click()
        self.assertEqual(names(), list("ABCXYZ"))
