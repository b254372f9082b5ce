"""What a schema in its normal form admits, means in words, and looks like in an example."""
