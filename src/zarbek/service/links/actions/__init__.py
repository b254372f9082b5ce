"""Every change to links."""
