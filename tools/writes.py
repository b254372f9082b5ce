"""Who writes to the database: in each application of the service its actions, and nobody else.

Ends with 1 where a model is created, changed or deleted elsewhere.
"""

from __future__ import annotations

import ast
import sys
from collections.abc import Iterator
from pathlib import Path

SERVICE = Path(__file__).resolve().parent.parent / "src" / "zarbek" / "service"
#: Methods of querysets and models that write, whatever they are called on; and those that only querysets have
#: under names that others have, too.
_ALWAYS = frozenset({"bulk_create", "bulk_update", "get_or_create", "update_or_create", "select_for_update"})
_OF_QUERYSETS = frozenset({"create", "update", "delete"})
_OF_MODELS = frozenset({"save", "delete"})


def writes_of(file: Path) -> Iterator[tuple[int, str]]:
    """(line, what is called) of a file."""
    for node in ast.walk(ast.parse(file.read_text())):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute):
            receiver, method = ast.unparse(node.func.value), node.func.attr
            is_queryset = ".objects" in receiver or ".filter(" in receiver
            is_model = not node.args and method in _OF_MODELS
            if method in _ALWAYS or (method in _OF_QUERYSETS and is_queryset) or is_model:
                yield node.lineno, f"{receiver}.{method}"


def _may_write(file: Path) -> bool:
    parts = file.relative_to(SERVICE).with_suffix("").parts
    return "actions" in parts or "migrations" in parts


def main() -> int:
    """Print writes that stand outside actions; 1 where there is one."""
    found = [
        f"  {file.relative_to(SERVICE)}:{line}  {what}"
        for file in sorted(SERVICE.rglob("*.py")) if not _may_write(file) for line, what in writes_of(file)
    ]  # fmt: skip
    print("Writes: only in actions." if not found else "These write outside of actions:")
    print(*found, sep="\n", end="\n" if found else "")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
