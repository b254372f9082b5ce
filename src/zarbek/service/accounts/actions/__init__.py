"""Every change to accounts."""
