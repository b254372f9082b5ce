"""Languages' documentation comments as CommonMark with mentions."""
