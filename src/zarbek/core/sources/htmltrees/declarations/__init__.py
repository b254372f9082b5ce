"""Declarations as pages show them, by language."""
