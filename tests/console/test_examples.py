"""Examples in the console: beside what they call, with how they went, and what is tested as a whole."""

import unittest
import uuid

from selenium.webdriver.common.by import By

from tests.service.reference.test_examples import named
from tests.support.browsing import Browsing


class Examples(Browsing):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.slug = f"e{uuid.uuid4().hex[:6]}"
        cls.portal.publish(named(cls.slug), cls.slug, "1.0")

    def test_stand_beside_what_they_call_and_lead_there_and_back(self):
        self.open(f"/ref/{self.slug}/1.0/{self.slug}.Ship.leave", "#examples")
        text = self.text("#examples")
        for words in ("Example 1: Leaving", "failed", "no wind", "ship.leave(3)", "is", '"gone"'):
            self.assertIn(words, text)
        self.assertNotIn("Ship()", text, "what is set up is folded")
        self.browser.find_element(By.CSS_SELECTOR, "#examples details details summary").click()
        self.assertIn("Ship()", self.text("#examples"))
        self.browser.find_element(By.LINK_TEXT, "tests.test_it.Of.test_leaving").click()
        self.until("the example", lambda b: b.find_elements(By.XPATH, "//h2[.='What it shows']"))
        self.assertEqual(self.text("h1"), "Leaving")
        self.browser.find_element(By.LINK_TEXT, f"{self.slug}.Ship.leave").click()
        self.until("the method", lambda b: b.find_elements(By.CSS_SELECTOR, "#examples"))
        self.assert_sound(f"/ref/{self.slug}/1.0/tests.test_it.Of.test_leaving", "main h1")

    def test_what_is_tested_is_told_in_words(self):
        self.open(f"/projects/{self.slug}", "main h1")
        self.browser.find_element(By.LINK_TEXT, "What is tested").click()
        self.until("the page", lambda b: b.find_elements(By.CSS_SELECTOR, "main table"))
        self.assertIn(
            "2 of 3 things that can be called (67 %) are shown by 2 examples: 1 failed.", self.text(".sentence")
        )
        rows = [row.text.split("\n")[0] for row in self.browser.find_elements(By.CSS_SELECTOR, "main tbody tr")]
        self.assertTrue(rows[0].startswith("Ship class") and rows[1].startswith("Ship.leave method"), rows)
        self.assertNotIn("idle", [e.text for e in self.browser.find_elements(By.CSS_SELECTOR, "main tbody a")])
        self.assert_sound(f"/tested/{self.slug}/1.0", "main table")


if __name__ == "__main__":
    unittest.main()
