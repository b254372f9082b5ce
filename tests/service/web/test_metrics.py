"""The portal's figures for Prometheus."""

import re
import unittest
import uuid

from tests.support.running import running


class Metrics(unittest.TestCase):
    def setUp(self):
        self.portal = running()

    def figures(self):
        answer = self.portal.http.get("/metrics", headers={"Authorization": f"Bearer {self.portal.token}"})
        self.assertEqual((answer.status_code, answer.headers["Content-Type"][:10]), (200, "text/plain"))
        return {name: float(value) for name, value in re.findall(r"^([^#\s]\S*) (\S+)$", answer.text, re.MULTILINE)}

    def test_figures_are_of_all_processes_together(self):
        """Publishes are counted by the worker, searches by several web processes, and any of them tells."""
        slug = f"m{uuid.uuid4().hex[:6]}"
        before = self.figures()
        files = {f"{slug}.py": f'"""See :func:`{slug}.gone` and :class:`Ship`."""\nclass Ship:\n    pass\n'}
        self.portal.publish(files, slug, "1.0")
        self.portal.publish(files, slug, "1.1", dry=True)
        for _ in range(8):
            self.assertEqual(
                self.portal.http.get("/api/v1/search?q=Ship", headers={"Connection": "close"}).status_code, 200
            )
        for _ in range(3):
            after = self.figures()
            grown = {name: after[name] - before.get(name, 0) for name in after}
            self.assertEqual(grown['zarbek_publishes_total{outcome="done"}'], 1)
            self.assertEqual(grown['zarbek_publishes_total{outcome="dry"}'], 1)
            self.assertEqual(grown['zarbek_references_total{outcome="held"}'], 1)
            self.assertEqual(grown['zarbek_references_total{outcome="dangling"}'], 1)
            self.assertEqual(grown['zarbek_stage_seconds_count{stage="live"}'], 2)
            self.assertGreater(grown['zarbek_stage_seconds_sum{stage="store"}'], 0)
            self.assertEqual(grown["zarbek_search_seconds_count"], 8)
            self.assertEqual(after["zarbek_waiting_publishes"], 0)

    def test_names_of_projects_are_not_told(self):
        slug = f"m{uuid.uuid4().hex[:6]}"
        self.portal.publish({f"{slug}.py": "X = 1\n"}, slug, "1.0")
        self.assertNotIn(
            slug, self.portal.http.get("/metrics", headers={"Authorization": f"Bearer {self.portal.token}"}).text
        )


if __name__ == "__main__":
    unittest.main()
