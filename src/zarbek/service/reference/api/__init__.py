"""What the API says about reference."""
