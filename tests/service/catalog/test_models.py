"""What is read of a release where nobody asks for more."""

import unittest

from tests.support.inprocess import OnTheDatabase


class Light(OnTheDatabase):
    def test_a_release_comes_without_its_documents_and_keeps_them_when_saved(self):
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        from zarbek.service.catalog.models import HEAVY, Release

        sea = self.project()
        made = self.release(sea, "1.0", contents=b"contents", links=b"links", gathered=b"gathered")
        for rows in (Release.objects.filter(pk=made.pk), sea.releases.all()):
            (release,) = rows
            self.assertEqual(release.get_deferred_fields(), set(HEAVY))
            release.support = "supported"
            release.save()
        with CaptureQueriesContext(connection) as asked:
            self.assertEqual((release.contents, release.links, release.gathered), (b"contents", b"links", b"gathered"))
        self.assertEqual(len(asked), 3)


if __name__ == "__main__":
    unittest.main()
