"""What the portal says of real projects, release by release, held against what people found on reading it."""
