"""What the API says about search."""
