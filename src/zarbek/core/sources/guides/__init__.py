"""Guides: their text, headings and order."""
