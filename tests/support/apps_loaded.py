"""Imported before models are: the service's applications, without a database."""

import os

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "zarbek.service.settings")
django.setup()
