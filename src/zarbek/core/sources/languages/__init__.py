"""Source files as symbols with what they say and mention."""
