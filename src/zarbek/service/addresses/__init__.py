"""Addresses of the web that projects link to: which of them lead nowhere."""
