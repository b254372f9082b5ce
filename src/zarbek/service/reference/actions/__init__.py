"""What is written for the pages that are read."""
