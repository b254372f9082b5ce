"""SQLite as Django knows it, with the orders of text that the service's columns name."""
