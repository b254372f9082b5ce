"""What the API says about sources."""
