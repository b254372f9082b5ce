"""What the API says about catalog."""
