"""The service's code in the process of the tests, on the database of the running portal."""

from __future__ import annotations

import os
import unittest
from datetime import UTC, datetime
from functools import cache
from importlib import reload
from itertools import count

import msgspec

from tests.support.running import Running, running

_numbers = count(1)


@cache
def connected() -> Running:
    """The running portal, once models may be imported and asked here as in a process of its own."""
    portal = running()
    os.environ |= {k: v for k, v in portal.processes.environment.items() if k.startswith(("ZARBEK_", "DJANGO_"))}
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "zarbek.service.settings")
    import django
    from django.db import connections

    from zarbek.service import settings

    django.setup()
    # Another test may have had the settings read before there was a portal.
    connections["default"].close()
    connections["default"].settings_dict.update(reload(settings).DATABASES["default"])
    return portal


class OnTheDatabase(unittest.TestCase):
    """Asks and changes models in this process; whatever a test writes is taken back at its end.

    What is to happen once a change is kept, such as a job, therefore does not.
    """

    @classmethod
    def setUpClass(cls):
        connected()

    def setUp(self):
        from django.db import transaction

        block = transaction.atomic()
        block.__enter__()

        def take_back():
            transaction.set_rollback(True)
            block.__exit__(None, None, None)

        self.addCleanup(take_back)
        self.slug = f"row{next(_numbers)}"

    def project(self, slug="", **values):
        from zarbek.service.catalog.models import Project

        slug = slug or self.slug
        return Project.objects.create(slug=slug, title=slug, **values)

    def release(self, project, version, *, live=True, manifest=None, **values):
        """A release that holds nothing; manifest: keywords of its manifest."""
        from zarbek.core.model.bundle import FORMAT_VERSION, Manifest
        from zarbek.service.catalog.models import Release

        facts = msgspec.json.encode(
            Manifest(format=FORMAT_VERSION, project=project.slug, version=version, **(manifest or {}))
        )
        return Release.objects.create(project=project, version=version, is_live=live, manifest=facts,
                                      published_at=datetime.now(tz=UTC), **values)  # fmt: skip
