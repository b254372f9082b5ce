"""What ``DATABASES`` names as its engine."""

from __future__ import annotations

from django.db.backends.mysql import base
from django.db.backends.mysql.operations import DatabaseOperations as MysqlOperations


class DatabaseOperations(MysqlOperations):
    """Django's, with our own way of writing inserts."""

    compiler_module = "zarbek.service.common.mariadb.compiler"


class DatabaseWrapper(base.DatabaseWrapper):
    """A connection to MariaDB."""

    ops_class = DatabaseOperations
