"""Markup dialects to CommonMark with ``api:`` mentions."""
