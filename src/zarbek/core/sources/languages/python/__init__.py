"""Python: modules to symbols, by the standard library's ``ast``. Nothing is imported or run."""
