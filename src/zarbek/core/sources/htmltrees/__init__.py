"""Trees of HTML pages that another program has written. Source: HTML Living Standard (WHATWG)."""
