"""The console of a preview: what is saved is shown in the page that is open, and links lead into the portal."""

import unittest
import uuid

from tests.support.browsing import Browsing
from tests.support.previewing import Previewed

SOURCE = '"""Skiff."""\ndef row():\n    """Row to :func:`QUAY.tie`."""\n'


class Saved(Browsing):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.quay = f"y{uuid.uuid4().hex[:6]}"
        cls.portal.publish(
            {f"src/{cls.quay}/__init__.py": '"""Quay."""\ndef tie():\n    """Tie."""\n'}, cls.quay, "1.0"
        )
        cls.source = SOURCE.replace("QUAY", cls.quay)
        files = {"src/skiff/__init__.py": cls.source, "zarbek.toml": 'slug = "skiff"\n'}
        cls.preview = Previewed(files, "skiff", ZARBEK_URL=cls.portal.url)
        cls.addClassCleanup(cls.preview.stop)

    def setUp(self):
        super().setUp()
        self.browser.get(f"{self.preview.address}/ref/skiff/preview/skiff.row")
        self.wait_text("Row to")

    def save(self, text):
        (self.preview.folder / "src/skiff/__init__.py").write_text(text)

    def test_the_page_that_is_open_says_what_was_saved(self):
        self.browser.execute_script("window.stays = true")
        self.save(self.source.replace("Row to", "Row gently to"))
        self.wait_text("Row gently to")
        self.save(self.source.replace(f"{self.quay}.tie", "skiff.sail"))
        self.wait_text("1 error")
        self.wait(".dangling")
        self.assertTrue(self.browser.execute_script("return window.stays"), "the page was loaded anew")

    def test_what_cannot_be_shown_is_told(self):
        project = self.preview.folder / "zarbek.toml"
        project.write_text("slug = \n")
        self.wait_text("zarbek.toml")
        self.assertIn("Row to", self.text("main"))
        project.write_text('slug = "skiff"\n')

    def test_links_to_other_projects_lead_into_the_portal(self):
        self.save(self.source)
        self.wait(f'main a[href^="{self.portal.url}/ref/{self.quay}/1.0/"]').click()
        self.wait_text("Tie.")
        self.assertEqual(self.browser.current_url, f"{self.portal.url}/ref/{self.quay}/1.0/{self.quay}.tie")


if __name__ == "__main__":
    unittest.main()
