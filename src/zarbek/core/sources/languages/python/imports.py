"""What imports bring into a module's scope. Source: Python 3.11 reference, 7.11 and 5.7."""

from __future__ import annotations

import ast


def read_import(node: ast.Import, imports: dict[str, str]) -> None:
    """Take the names that an import statement binds (language reference 7.11)."""
    for alias in node.names:
        if alias.asname:
            imports[alias.asname] = alias.name
        else:
            head = alias.name.partition(".")[0]
            imports[head] = head


def read_import_from(
    node: ast.ImportFrom, module: str, is_package: bool, imports: dict[str, str], wildcards: list[str]
) -> list[tuple[str, str]]:
    """Extend imports and wildcards; the (local name, absolute target) pairs in source order."""
    base = absolute_base(node, module, is_package)
    found: list[tuple[str, str]] = []
    for alias in node.names:
        if alias.name == "*":
            wildcards.append(base)
            continue
        local = alias.asname or alias.name
        imports[local] = f"{base}.{alias.name}" if base else alias.name
        found.append((local, imports[local]))
    return found


def absolute_base(node: ast.ImportFrom, module: str, is_package: bool) -> str:
    """The module that a from-import is from, with its leading dots resolved; empty above the top."""
    if not node.level:
        return node.module or ""
    parts = module.split(".")
    drop = node.level - (1 if is_package else 0)
    parts = parts[: max(len(parts) - drop, 0)]
    return ".".join([*parts, *([node.module] if node.module else [])])
