"""Where the portal gathers by itself: repositories and running services."""
