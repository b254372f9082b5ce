"""What a search looks for, and in which order its hits stand."""
