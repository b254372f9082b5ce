"""Supplements: files of Markdown whose front matter names elements."""
