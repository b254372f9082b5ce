"""Zarbek: API references of many repositories as one linked, searchable portal."""

__version__ = "0.1.0"
