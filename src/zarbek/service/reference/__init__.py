"""The pages that are read, and what leads to them."""
