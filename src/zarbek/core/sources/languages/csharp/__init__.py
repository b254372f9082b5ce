"""C#. Source: ECMA-334, 7th edition."""
