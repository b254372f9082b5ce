"""Rust. Source: The Rust Reference, "Items", "Visibility and Privacy", "Attributes"."""
