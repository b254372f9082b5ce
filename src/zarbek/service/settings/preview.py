"""Settings of a preview: the service's own, over a database that is a file and goes with it."""

from __future__ import annotations

import os

from zarbek.service.settings import *  # noqa: F403
from zarbek.service.settings import HOME, INSTALLED_APPS, REST_FRAMEWORK

PREVIEW = True
#: The portal whose projects a preview links to, and what opens it; empty for none.
ELSEWHERE_URL = os.environ.get("ZARBEK_URL", "").rstrip("/")
ELSEWHERE_TOKEN = os.environ.get("ZARBEK_TOKEN", "")
PACK_LEVEL = 0
ROOT_URLCONF = "zarbek.service.preview.urls"
INSTALLED_APPS = [*INSTALLED_APPS, "zarbek.service.preview"]
DATABASES = {
    "default": {
        "ENGINE": "zarbek.service.preview.sqlite",
        "NAME": str(HOME / "preview.sqlite"),
        "OPTIONS": {"timeout": 30, "transaction_mode": "IMMEDIATE",
                    "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=OFF;"},
    }
}  # fmt: skip
#: Tables are made at once, as they are now: there is nothing old to bring along.
MIGRATION_MODULES = {name.rpartition(".")[2]: None for name in INSTALLED_APPS}
#: Nothing runs beside: who publishes does all of it.
TASKS = {"default": {"BACKEND": "zarbek.service.preview.tasks.Noted", "QUEUES": ["default", "chores", "outside"]}}
REST_FRAMEWORK = {
    **REST_FRAMEWORK,
    "DEFAULT_AUTHENTICATION_CLASSES": ["zarbek.service.preview.authentication.LocalReader"],
}
