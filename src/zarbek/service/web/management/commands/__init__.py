"""Commands for whoever runs the portal; each module is one, by its name."""
