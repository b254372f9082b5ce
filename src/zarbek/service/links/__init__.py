"""Linking what releases mention, and what changes for whom."""
