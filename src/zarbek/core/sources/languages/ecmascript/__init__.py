"""JavaScript and TypeScript. Sources: ECMA-262; the TypeScript handbook, "Declaration Files"."""
