"""What packages say of themselves and what they depend on."""
