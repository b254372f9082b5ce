"""Every change to what is known of addresses."""
