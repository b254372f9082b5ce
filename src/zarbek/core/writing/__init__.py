"""A reference written out for readers."""
