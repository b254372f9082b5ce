"""What is said once and stands in many texts."""

import unittest
import uuid

from tests.support.running import running

FILES = {
    "src/SLUG/__init__.py": '"""Sea."""\ndef sail(draught):\n    """Sail, as :func:`rest` does not.\n\n    :param draught: Laden, in metres.\n    """\n'
    'def rest(draught):\n    """Rest.\n\n    :text:`tide-warning`\n\n    :param draught: :text:`sail#draught`\n    """\n'
    'def turn():\n    """Turn. :text:`round`\n\n    :text:`gone`\n\n    :text:`sail#returns`\n    """\n'
    'def round():\n    """Round. :text:`turn`"""\n',
    "guides/words.md": "---\nhidden: [contents]\n---\n# Words\n\n::: block tide-warning\nNot against the [tide](api://SLUG/SLUG.sail).\n:::\n\nOwn: {text}`api://SLUG/SLUG.sail#summary`\n",
    "web.ts": "/** Web.\n *\n * {@text tide-warning}\n */\nexport function web(): void {}\n",
    "package.json": '{"name": "SLUG-web", "version": "1.0.0", "main": "web.ts"}',
}


class UsedTexts(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = running()
        cls.slug = f"u{uuid.uuid4().hex[:6]}"
        cls.files = {k.replace("SLUG", cls.slug): v.replace("SLUG", cls.slug) for k, v in FILES.items()}
        cls.portal.publish(cls.files, cls.slug, "1.0")

    def page(self, name):
        return self.portal.client.symbol(self.slug, f"{self.slug}.{name}", "1.0")

    def test_a_block_stands_in_texts_of_any_language_with_its_links_and_origin(self):
        paths = [s.path for s in self.portal.client.symbols(self.slug, "1.0", kind="function")]
        web = next(p for p in paths if p.endswith("web"))
        for body in (self.page("rest").body, self.portal.client.symbol(self.slug, web, "1.0").body):
            with self.subTest(body):
                self.assertIn(f'Not against the <a href="/ref/{self.slug}/1.0/{self.slug}.sail"', body)
                self.assertIn(f'Said at <a href="/guide/{self.slug}/1.0/words#block-tide-warning"', body)

    def test_a_part_of_an_element_stands_in_others_and_in_guides(self):
        (draught,) = self.page("rest").parameters
        self.assertIn("Laden, in metres.", draught.html)
        guide = self.portal.client.guide(self.slug, "words", "1.0")
        self.assertIn("Own: Sail, as <a", guide.html)
        self.assertIn('<div id="block-tide-warning">', guide.html)

    def test_circles_end(self):
        page = self.page("turn")
        self.assertEqual(page.summary.count("Round."), 1)

    def test_lists_say_it_too(self):
        page = self.portal.client.symbol(self.slug, self.slug, "1.0")
        listed = {member.name: member.summary for member in page.members}
        self.assertEqual(listed["turn"].count("Round."), 1)

    def test_what_is_not_there_dangles(self):
        found = {
            f.text: f.message for f in self.portal.client.report(self.slug, "1.0").new if f.rule == "dangling/block"
        }
        self.assertEqual(found, {"gone": "There is no gone whose text could stand here.",
                                 "sail#returns": f"{self.slug}.sail says nothing of returns that could stand here."})  # fmt: skip
        self.assertIn('class="mention dangling"', self.page("turn").body)

    def test_a_changed_text_is_changed_everywhere(self):
        files = {**self.files, "guides/words.md": self.files["guides/words.md"].replace("Not against", "Never against")}
        self.portal.publish(files, self.slug, "1.1")
        self.assertIn("Never against", self.portal.client.symbol(self.slug, f"{self.slug}.rest", "1.1").body)
        self.assertIn("Not against", self.page("rest").body)


if __name__ == "__main__":
    unittest.main()
