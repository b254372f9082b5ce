"""Every change to projects, releases, names and policies."""
