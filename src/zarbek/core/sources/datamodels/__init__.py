"""Reading data models: SQL, its templates, and the descriptions beside them."""
