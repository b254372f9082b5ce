"""What an audience sees."""
