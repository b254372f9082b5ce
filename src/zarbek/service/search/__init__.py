"""The search index and its queries."""
