"""The service's code in the process of the tests, on the database of the running portal."""

from __future__ import annotations

import os
from functools import cache
from importlib import reload

from tests.support.running import Running, running


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
