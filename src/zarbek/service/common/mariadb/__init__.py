"""MariaDB as Django knows it, with inserts of many rows put together faster."""
