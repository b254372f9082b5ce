"""What the console inserts as HTML is, on the other side, a field that takes sanitised HTML only."""

import json
import re
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
CONSOLE = ROOT / "console" / "src"
_INTERFACE = re.compile(r"export interface (\w+) \{(.*?)\n\}", re.DOTALL)
_FIELD = re.compile(r"^  (\w+)\??:", re.MULTILINE)
_HTML = re.compile(r"(\w+)\??: SafeHtml")


def html_properties():
    """Names of the HTML properties of each component of the API's description, beside all its properties."""
    api = json.loads((ROOT / "docs" / "zarbek-api.json").read_text())
    return [
        (set(c["properties"]), {n for n, p in c["properties"].items() if p.get("contentMediaType") == "text/html"})
        for c in api["components"]["schemas"].values() if "properties" in c
    ]  # fmt: skip


class HtmlFields(unittest.TestCase):
    def test_what_the_console_takes_for_html_is_html_in_the_api(self):
        components = html_properties()
        checked = 0
        for file in sorted(CONSOLE.glob("features/**/*.ts")):
            for name, body in _INTERFACE.findall(file.read_text()):
                wanted = set(_HTML.findall(body))
                fields = set(_FIELD.findall(body))
                own = {n for n in wanted if n in fields}
                if not own:
                    continue
                checked += 1
                with self.subTest(name):
                    fitting = [html for properties, html in components if fields <= properties]
                    self.assertNotEqual([html for html in fitting if own <= html], [], f"{name}: {own}")
        self.assertGreater(checked, 10)

    def test_one_component_inserts_html_and_no_comment_switches_the_rule_off(self):
        using = [f.name for f in CONSOLE.rglob("*.svelte") if "{@html" in f.read_text()]
        self.assertEqual(using, ["Html.svelte"])
        self.assertIn("noInlineConfig: true", (ROOT / "console" / "eslint.config.js").read_text())


if __name__ == "__main__":
    unittest.main()
