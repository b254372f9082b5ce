"""What the API says about notices."""
