"""The check of everything that is kept: silent where all fits, exact where something does not."""

import unittest
import uuid

from tests.support.running import running


class Integrity(unittest.TestCase):
    def setUp(self):
        self.portal, self.slug = running(), f"whole{uuid.uuid4().hex[:6]}"
        files = {
            f"{self.slug}.py": f"def f():\n    '''See :func:`{self.slug}.g`.'''\ndef g():\n    '''G.'''\n",
            "docs/index.md": "# A\n\n![x](x.svg)\n", "docs/x.svg": f"<svg id='{self.slug}'/>",
        }  # fmt: skip
        self.portal.publish(files, self.slug, "1.0")

    def check(self, damage=""):
        done = self.portal.in_service(f"""
            from django.core.management import call_command
            from django.core.management.base import CommandError
            from zarbek.service.catalog.models import Release
            from zarbek.service.content.models import Asset, Block, SymbolContent
            from zarbek.service.links.models import LinkDocument
            from pathlib import Path
            from django.conf import settings
            slug = {self.slug!r}
            {damage}
            try:
                call_command("check", project=[slug])
            except CommandError as error:
                print("FAULT", error)
        """)
        self.assertEqual(done.returncode, 0, done.stderr[-3000:])
        return done.stdout

    def test_what_fits_is_told_so(self):
        self.assertIn("Everything that is kept fits together.", self.check())

    def test_what_does_not_fit_is_named(self):
        for damage, told in (
            ("Block.objects.filter(project__slug=slug).order_by('pk').last().delete()", "that are not there"),
            ("SymbolContent.objects.filter(project__slug=slug, path=slug + '.g').update(document=b'{}')", "is not what its digest says"),
            ("[Path(settings.MEDIA_ROOT, a.file.name).unlink() for a in Asset.objects.filter(project__slug=slug)]", "cannot be read"),
            ("Release.objects.filter(project__slug=slug).update(health={'total': 99, 'outside': 0, 'dangling': 0, 'stale': 0})",
             "health is kept as"),
        ):  # fmt: skip
            with self.subTest(told):
                self.setUp()
                found = self.check(damage)
                self.assertIn(told, found)
                self.assertRegex(found, r"FAULT \d+ things? differs?\.")


if __name__ == "__main__":
    unittest.main()
