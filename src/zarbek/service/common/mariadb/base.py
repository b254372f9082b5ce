"""What ``DATABASES`` names as its engine."""

from __future__ import annotations

from django.db.backends.mysql import base
from django.db.backends.mysql.operations import DatabaseOperations as MysqlOperations


class DatabaseOperations(MysqlOperations):
    compiler_module = "zarbek.service.common.mariadb.compiler"


class DatabaseWrapper(base.DatabaseWrapper):
    ops_class = DatabaseOperations
