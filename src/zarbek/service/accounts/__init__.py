"""Who may do what: people, tokens and signing in."""
