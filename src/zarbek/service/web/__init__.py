"""The portal to the outside: its routes, servers, console, health and description."""
