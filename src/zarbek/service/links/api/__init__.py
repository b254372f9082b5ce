"""What the API says about links."""
