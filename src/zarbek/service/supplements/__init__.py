"""Supplements that are written in the console: kept as revisions, published beside the project that they are for."""
