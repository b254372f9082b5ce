"""Zarbek: API references of many repositories as one linked, searchable portal."""
