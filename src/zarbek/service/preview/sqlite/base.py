"""What ``DATABASES`` names as its engine."""

from __future__ import annotations

from typing import Any

from django.db.backends.sqlite3 import base

from zarbek.service.common.fields import IDENTIFIER

#: Orders by code point under the names that columns have in MariaDB.
COLLATIONS = (IDENTIFIER, "ascii_bin")


def _by_code_point(one: str, other: str) -> int:
    return (one > other) - (one < other)


class DatabaseWrapper(base.DatabaseWrapper):
    """A connection to a file."""

    def get_new_connection(self, conn_params: dict[str, Any]) -> Any:
        """One that knows the orders of text."""
        connection = super().get_new_connection(conn_params)
        for name in COLLATIONS:
            connection.create_collation(name, _by_code_point)
        return connection
