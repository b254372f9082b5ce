"""Commands for whoever runs the portal."""
