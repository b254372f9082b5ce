"""Interface descriptions and schemas: HTTP APIs, messages, GraphQL, Protocol Buffers, XML."""
