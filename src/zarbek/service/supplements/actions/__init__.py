"""Every change to supplements."""
