"""Comparison of releases, and what breaks callers."""
