"""Tests that drive the console in headless Chromium."""

from __future__ import annotations

import tempfile
import unittest

from selenium import webdriver
from selenium.common.exceptions import TimeoutException, WebDriverException
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.wait import WebDriverWait

from tests.support.running import ROOT, running

#: Seconds that a page may take; a machine that runs the whole suite is busy with other things too.
PATIENCE = 45
#: A numeric address that is no loopback's; the portal answers to it, and the browser finds it there.
NUMERIC_HOST = "10.1.2.3"
FLAGS = (
    "--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
    f"--host-resolver-rules=MAP {NUMERIC_HOST} 127.0.0.1 , MAP * ~NOTFOUND , EXCLUDE 127.0.0.1", "--no-proxy-server",
)  # fmt: skip


class Browsing(unittest.TestCase):
    """A browser and the running portal."""

    @classmethod
    def setUpClass(cls):
        cls.portal = running()
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

    def assert_sound(self, path, selector):
        """A page passes the rules of accessibility in both themes, and nothing is in the log."""
        axe = (ROOT / "console/node_modules/axe-core/axe.min.js").read_text()
        for dark in (False, True):
            with self.subTest(path, dark=dark):
                features = [{"name": "prefers-color-scheme", "value": "dark" if dark else "light"}]
                self.browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": features})
                self.open(path, selector)
                self.browser.execute_script(axe)
                found = self.browser.execute_async_script(
                    "axe.run({runOnly: ['wcag2a','wcag2aa','wcag21aa','wcag22aa']}).then(r => arguments[0]("
                    "r.violations.map(v => v.id + ': ' + v.nodes.map(n => n.html.slice(0, 120) + n.failureSummary.slice(0, 160)).join(' | '))))"
                )
                self.assertEqual(found, [])
                log = [e["message"] for e in self.browser.get_log("browser") if e["level"] == "SEVERE"]
                self.assertEqual(log, [])

    def sign_in(self):
        password = (self.portal.home / "home" / "admin-password").read_text().strip()
        self.open("/sign-in", "#user").send_keys("admin")
        self.browser.find_element(By.ID, "password").send_keys(password + Keys.ENTER)
        self.wait_text("Sign out")

    def button(self, text):
        return self.until(
            f"button {text}",
            lambda b: next((x for x in b.find_elements(By.TAG_NAME, "button") if x.text == text), None),
        )

    def wait(self, selector):
        return self.until(selector, lambda b: next(iter(b.find_elements(By.CSS_SELECTOR, selector)), None))

    def text(self, selector):
        """The text of the first element that fits, which may be drawn anew while it is read."""
        return self.until(selector, lambda b: (b.find_element(By.CSS_SELECTOR, selector).text,))[0]

    def wait_text(self, text):
        self.until(text, lambda b: text in b.find_element(By.TAG_NAME, "body").text)

    def until(self, wanted, condition):
        """What `condition` of the browser gives once it is true; a failure says what the page was like instead."""
        try:
            # What is drawn anew between two questions is asked for again. The driver has several words for that,
            # one of them ("does not belong to the document") without a class of its own.
            waiting = WebDriverWait(self.browser, PATIENCE, poll_frequency=0.1, ignored_exceptions=[WebDriverException])
            return waiting.until(condition)
        except TimeoutException:
            text = self.browser.find_element(By.TAG_NAME, "body").text[:1000]
            log = "\n".join(e["message"] for e in self.browser.get_log("browser"))
            self.fail(f"no {wanted!r} on {self.browser.current_url}, which shows:\n{text}\nits log:\n{log}")
