"""The long-running service: thin Django applications over the core."""
