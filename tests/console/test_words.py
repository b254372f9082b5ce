"""The words around the code in the console: supplements, files with their comments, guides and editions."""

import unittest
import uuid

from selenium.webdriver.common.by import By

from tests.support.browsing import Browsing

FILES = {
    "src/SLUG/__init__.py": '"""Sea."""\n\n\ndef sail(at):\n    """Sail.\n\n    With the tide.\n    """\n    # Against the wind\n    # nobody sails.\n    wind = rest()\n    return at, wind\n\n\ndef rest():\n    """Rest."""\n',
    "src/SLUG/hold.py": '"""What is below."""\ndef hush():\n    """Say nothing."""\n',
    "supplements/sail.md": "---\nfor: api:SLUG.sail\nhow: {summary: replace}\n---\n# Summary\n\nTake her out.\n\n# Remarks\n\nNot at night.\n",
    "supplements/de.md": "---\nfor: api:SLUG.sail\nlanguage: de\n---\n# Summary\n\nFahr hinaus.\n",
    "guides/index.md": '# Start\n\n::: figure Who asks {#asks}\n```dot\ndigraph { a [label="SLUG.sail"]; a -> b }\n```\n:::\n\nAs [](label:asks) shows.\n\n```dot\ndigraph {\n```\n',
    "zarbek.toml": '[guides]\ncontents = ["index"]\nnumbered = true\n[flags]\ninner = ["SLUG.hold"]\n[editions.outside]\ntitle = "For others"\nwithout = ["inner"]\n',
}  # fmt: skip


class Words(Browsing):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.slug = f"w{uuid.uuid4().hex[:6]}"
        cls.portal.publish({k.replace("SLUG", cls.slug): v.replace("SLUG", cls.slug) for k, v in FILES.items()},
                           cls.slug, "1.0")  # fmt: skip

    def tearDown(self):
        self.browser.delete_all_cookies()

    def test_a_page_tells_whose_words_are_whose(self):
        page = f"/ref/{self.slug}/1.0/{self.slug}.sail"
        self.open(page, "main h1")
        self.wait_text("Take her out.")
        self.wait_text("1 supplement adds to what the source says.")
        self.assertNotIn("From the source", self.text("main"))
        self.button("Whose words are these?").click()
        told = self.text("section[aria-label='Whose words these are']")
        for words in ("Sail.\nFrom the source. Not shown: supplements/sail.md stands in its place.",
                      "Take her out.\nFrom supplements/sail.md, line 7.", "With the tide.\nFrom the source."):  # fmt: skip
            self.assertIn(words, told)
        self.button("As readers see it").click()
        self.button("Deutsch").click()
        self.wait_text("Fahr hinaus.")
        self.button("as it was written").click()
        self.wait_text("Take her out.")
        self.assert_sound(page, "main h1")

    def test_a_text_is_written_beside_the_page_that_it_makes(self):
        self.sign_in()
        self.open(f"/ref/{self.slug}/1.0/{self.slug}.rest", "main h1")
        self.until("a way to add", lambda b: b.find_elements(By.LINK_TEXT, "Add to this page"))[0].click()
        text = self.wait("textarea")
        self.until("a beginning", lambda b: f"api://{self.slug}/{self.slug}.rest" in text.get_property("value"))
        text.send_keys("\nTill the tide turns.")
        self.wait_text("Till the tide turns.")
        self.browser.find_element(By.CSS_SELECTOR, "form input[minlength]").send_keys("Asked for.")
        self.button("Keep and publish").click()
        self.wait_text("Kept. Run")
        run = self.browser.find_element(By.PARTIAL_LINK_TEXT, "Run ").text.split()[1]
        self.portal.wait(self.portal.client.run(int(run)))
        self.open(f"/ref/{self.slug}/1.0/{self.slug}.rest", "main h1")
        self.wait_text("Till the tide turns.")
        self.open(f"/supplements/{self.slug}", "main h1")
        self.wait_text("Asked for.")
        self.open("/")
        self.button("Sign out").click()

    def test_a_file_stands_beside_its_comments(self):
        file = f"src/{self.slug}/__init__.py"
        self.open(f"/ref/{self.slug}/1.0/{self.slug}.sail", "main h1")
        self.until("the file", lambda b: b.find_elements(By.PARTIAL_LINK_TEXT, file))[0].click()
        self.wait("main .source")
        self.assertIn(f"/source/{self.slug}/1.0/{file}", self.browser.current_url)
        self.wait_text("Against the wind")
        self.assertNotIn("# Against", self.text("main"))
        used = self.browser.find_element(By.CSS_SELECTOR, ".code-of a[href$='.rest']")
        self.assertEqual(used.text, "rest")
        self.browser.find_element(By.CSS_SELECTOR, "button[aria-label='Fold sail']").click()
        self.wait_text("lines more")
        self.assertNotIn("wind = ", self.text("main"))
        self.button("As it is written").click()
        self.wait_text("# Against the wind")
        self.open(f"/source/{self.slug}/1.0/{file}#L11", "#L11.asked")
        self.assert_sound(f"/source/{self.slug}/1.0/{file}", "main .source")

    def test_a_guide_draws_its_diagrams_and_says_what_it_cannot_draw(self):
        page = f"/guide/{self.slug}/1.0/index"
        self.open(page, ".diagram svg")
        self.assertIn("Figure 1.1 Who asks", self.text("figcaption"))
        self.wait_text("As Figure 1.1 shows.")
        self.wait_text("Not drawn: syntax error")
        self.assert_sound(page, ".diagram svg")
        self.browser.execute_script("window.stays = true")
        self.browser.find_element(By.CSS_SELECTOR, ".diagram a text").click()
        self.wait_text("Take her out.")
        self.assertTrue(self.browser.execute_script("return window.stays"), "the console is loaded anew")

    def test_an_edition_knows_nothing_of_the_rest(self):
        self.sign_in()
        self.open(f"/ref/{self.slug}/1.0/{self.slug}.hold", "main h1")
        self.wait_text("Say nothing.")
        self.button("For others").click()
        self.wait_text("has no")
        self.open(f"/ref/{self.slug}/1.0/{self.slug}", "main h1")
        self.wait_text("Rest.")
        self.assertNotIn("What is below.", self.text("main"))
        self.open("/")
        self.button("Sign out").click()


if __name__ == "__main__":
    unittest.main()
