"""Columns as this service uses them."""

from __future__ import annotations

from typing import Any

from django.db import models

#: Identifiers compare by code point, trailing blanks included.
IDENTIFIER = "utf8mb4_nopad_bin"


def identifier(max_length: int, **options: Any) -> models.CharField:
    """A text column that is compared byte by byte, as names and addresses are."""
    return models.CharField(max_length=max_length, db_collation=IDENTIFIER, **options)


def digest(**options: Any) -> models.CharField:
    """32 hexadecimal digits."""
    return models.CharField(max_length=32, db_collation="ascii_bin", **options)
