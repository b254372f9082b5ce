"""Projects and their releases: what is the latest, supported, held back, and whose names are whose."""
