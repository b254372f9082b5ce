"""What the API says about publishing."""
