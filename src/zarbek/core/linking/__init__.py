"""Mentions to targets: scopes, version choice, resolution, suggestions."""
