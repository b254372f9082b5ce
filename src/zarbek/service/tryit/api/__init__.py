"""What the API says about requests from a page."""
