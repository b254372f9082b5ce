"""How a run ends."""

import unittest
from unittest.mock import patch

from tests.support.inprocess import OnTheDatabase


class TheEndOfARun(OnTheDatabase):
    def test_is_seen_only_once_the_pages_that_it_changed_are_made_anew(self):
        from zarbek.service.publishing import execution
        from zarbek.service.publishing.models import Run
        from zarbek.service.reference.page_cache import current_epochs

        run = Run.objects.create(project=self.slug, bundle="absent.bundle")
        before, at_the_end = current_epochs(self.slug), []
        with patch.object(execution, "close_run", side_effect=lambda *a, **k: at_the_end.append(current_epochs(self.slug))):  # fmt: skip
            execution.execute(run.pk, run.attempt)
        self.assertEqual(len(at_the_end), 1)
        self.assertNotEqual(at_the_end[0], before)


if __name__ == "__main__":
    unittest.main()
