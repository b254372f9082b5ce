"""Names that are defined twice in one body, where the later definition hides the former."""

from __future__ import annotations

import ast

from zarbek.core.model.finding import Finding

_Definition = ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef


def find_duplicates(tree: ast.Module, *, file: str, module: str) -> list[Finding]:
    """One finding for each definition that hides a former one.

    Not a slip, and so not found: what stands in branches, what is decorated (overloads, setters,
    registrations), and a name that is used or deleted before it is defined again.
    """
    found: list[Finding] = []
    _check_body(tree.body, file, module, found, 0)
    return found


def _check_body(body: list[ast.stmt], file: str, owner: str, found: list[Finding], depth: int) -> None:
    seen: dict[str, int] = {}
    for index, node in enumerate(body):
        if not isinstance(node, _Definition):
            continue
        if not node.decorator_list:
            first = seen.get(node.name)
            if first is not None and not _is_used(node.name, body[first + 1 : index]):
                found.append(_finding(node, body[first], file, owner))
            seen[node.name] = index
        if isinstance(node, ast.ClassDef) and depth < 20:
            _check_body(node.body, file, f"{owner}.{node.name}", found, depth + 1)


def _is_used(name: str, statements: list[ast.stmt]) -> bool:
    return any(isinstance(n, ast.Name) and n.id == name for s in statements for n in ast.walk(s))


def _finding(node: _Definition, first: ast.stmt, file: str, owner: str) -> Finding:
    documented = isinstance(first, _Definition) and ast.get_docstring(first, clean=False) is not None
    with_text = " and its documentation" if documented else ""
    message = f"{node.name} is defined again here; this hides the definition on line {first.lineno}{with_text}."
    path = f"{owner}.{node.name}"
    return Finding("text/duplicate-definition", "warning", path, message, file=file, line=node.lineno,
                   column=node.col_offset + 1, text=node.name, target=path)  # fmt: skip
