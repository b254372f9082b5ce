"""Tests that are examples."""
