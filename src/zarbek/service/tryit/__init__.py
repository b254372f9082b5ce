"""Requests that readers send from a page, through the portal."""
