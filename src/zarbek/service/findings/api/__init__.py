"""What the API says about findings."""
