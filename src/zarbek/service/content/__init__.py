"""What releases hold, stored once, and reading it."""
