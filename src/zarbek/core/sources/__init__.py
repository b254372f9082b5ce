"""Reading sources: languages, their comments, guides, interface descriptions and manifests."""
