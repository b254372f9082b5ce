"""The command line: one module a verb, and what they share."""
