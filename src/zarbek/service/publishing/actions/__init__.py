"""Every change to runs."""
