"""Runs: their queue, their stages, their processes."""
