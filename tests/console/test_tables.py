"""Tables in the console: read like a page, their data's way drawn."""

import unittest
import uuid

from selenium.webdriver.common.by import By
from selenium.webdriver.support.select import Select

from tests.support.browsing import Browsing

SEA = {
    "zarbek.toml": '[data]\nplace = "{0}"\n',
    "sea.sql": "/** A ship. */\nCREATE TABLE ships (id INT NOT NULL PRIMARY KEY, port TEXT);\n"
               "CREATE VIEW ports AS SELECT port, COUNT(*) AS n FROM ships GROUP BY port;\n"
               "CREATE VIEW busy AS SELECT port AS harbour FROM ports WHERE n > 9;",
    "more/calls.sql": "CREATE TABLE calls (ship INT REFERENCES ships (id));",
}  # fmt: skip


class Tables(Browsing):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.slug = f"t{uuid.uuid4().hex[:6]}"
        cls.portal.publish({name: text.replace("{0}", cls.slug) for name, text in SEA.items()}, cls.slug, "1.0")

    def test_all_tables_by_where_they_lie_or_by_the_file_that_makes_them(self):
        self.open(f"/ref/{self.slug}/1.0/{self.slug}", "main h1")
        self.browser.find_element(By.LINK_TEXT, "All tables, by database or by file").click()
        self.until("the list", lambda b: b.find_elements(By.CSS_SELECTOR, "main details"))
        self.assertIn("4 tables, which refer to one another 1 time.", self.text(".sentence"))

        def branches():
            return [each.text for each in self.browser.find_elements(By.CSS_SELECTOR, "main summary")]

        self.assertEqual(branches(), [f"{self.slug} 4 tables"])
        self.browser.find_element(By.XPATH, "//button[.='by file']").click()
        self.assertEqual(branches(), ["more 1 table", "calls.sql 1 table", "sea.sql 3 tables"])
        self.until("the drawing", lambda b: len(b.find_elements(By.CSS_SELECTOR, "main svg rect")) == 2)
        self.assertIn(f"{self.slug}.calls {self.slug}.ships ship", self.text("main table").replace("\n", " "))
        self.browser.find_element(By.CSS_SELECTOR, "main input[type=search]").send_keys("busy")
        self.until("one", lambda b: len(b.find_elements(By.CSS_SELECTOR, "main li a")) == 1)
        self.assert_sound(f"/tables/{self.slug}/1.0", "main svg rect")

    def test_a_table_is_read_and_leads_to_the_way_of_its_data(self):
        self.open(f"/ref/{self.slug}/1.0/{self.slug}.ports", "main h1")
        text = self.text("main")
        for words in (
            "Its columns",
            "Where its data come from",
            f"{self.slug}.ships",
            "How it is made",
            "GROUP BY port",
        ):
            self.assertIn(words, text)
        self.browser.find_element(By.LINK_TEXT, "The whole way").click()
        self.until("the drawing", lambda b: len(b.find_elements(By.CSS_SELECTOR, "main svg rect")) == 3)
        self.assertIn("2 tables in 1 project are on its way.", self.text(".sentence"))
        rows = [row.text.split()[:2] for row in self.browser.find_elements(By.CSS_SELECTOR, "main tbody tr")]
        self.assertIn([f"{self.slug}.ships", f"{self.slug}.ports"], rows)

    def test_pages_of_tables_are_for_everybody(self):
        self.assert_sound(f"/ref/{self.slug}/1.0/{self.slug}.ports", "main h1")
        self.assert_sound(f"/lineage/{self.slug}/1.0/{self.slug}.ports", "main svg rect")

    def test_a_chosen_column_lights_its_way_and_filters_leave_out(self):
        self.open(f"/lineage/{self.slug}/1.0/{self.slug}.ports", "main svg rect")
        choices = [Select(each) for each in self.browser.find_elements(By.CSS_SELECTOR, "main select")]
        choices[-1].select_by_visible_text("n")
        self.until(
            "what stands back", lambda b: len(b.find_elements(By.CSS_SELECTOR, "main svg g[opacity='0.35']")) == 2
        )
        choices[0].select_by_visible_text("where from")
        self.until("one side only", lambda b: len(b.find_elements(By.CSS_SELECTOR, "main svg rect")) == 2)


if __name__ == "__main__":
    unittest.main()
