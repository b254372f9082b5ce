"""What whoever runs the portal may ask of it."""
