"""What a portal can be asked, by subject."""
