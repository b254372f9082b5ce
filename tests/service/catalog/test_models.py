"""Which rows of models are read by whoever asks, and what of a release where nobody asks for more."""

import unittest

from tests.support.inprocess import OnTheDatabase

#: Models of a project whose rows are reached by way of a readable one, or by the portal's own work alone.
INNER = {
    "AddressList", "AddressUse", "Asset", "AuditEntry", "Block", "LinkDocument", "Membership", "PageContent",
    "PortalChange", "ProjectStart", "Sweep", "SymbolContent", "Token",
}  # fmt: skip


class Readable(OnTheDatabase):
    def test_every_model_of_a_project_is_kept_from_who_may_not_read_it(self):
        from django.apps import apps

        from zarbek.service.catalog.models import Project
        from zarbek.service.catalog.visibility import ReadableManager

        models = [m for m in apps.get_models() if m.__module__.startswith("zarbek.")]
        reach, before = {Project}, 0
        while len(reach) > before:
            before = len(reach)
            reach |= {m for m in models if any(f.related_model in reach for f in m._meta.concrete_fields)}
        named = {m for m in models if any(f.name in ("project", "slug") for f in m._meta.concrete_fields)}
        kept = {m.__name__ for m in models if isinstance(m._default_manager, ReadableManager)}
        self.assertEqual({m.__name__ for m in reach | named} - kept, INNER)


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
