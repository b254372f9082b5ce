"""The OpenAPI Initiative's own schemas of its specification, by version. See NOTICE and LICENSE beside them."""
