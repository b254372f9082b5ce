"""The verbs; each module is one, by its name."""
