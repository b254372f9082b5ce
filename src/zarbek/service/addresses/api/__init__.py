"""What the API says about addresses."""
