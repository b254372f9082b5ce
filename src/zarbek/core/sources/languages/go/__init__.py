"""Go. Source: The Go Programming Language Specification."""
