"""What databases say of themselves."""
