"""What the API says about accounts."""
