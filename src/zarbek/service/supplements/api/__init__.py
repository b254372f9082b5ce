"""What the API says of supplements, and takes of them."""
