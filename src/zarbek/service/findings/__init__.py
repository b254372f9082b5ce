"""Judging references and texts, keeping the findings, reporting them."""
