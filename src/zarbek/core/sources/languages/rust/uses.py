"""``use`` declarations to imports. Source: The Rust Reference, "Use declarations", "Paths"."""

from __future__ import annotations

from collections.abc import Collection, Iterator

from tree_sitter import Node

from zarbek.core.sources.languages.syntax_tree import SourceTree


def iter_uses(node: Node, tree: SourceTree, prefix: str = "") -> Iterator[tuple[str, str]]:
    """(local name, path with ``::``) of one use tree; the local name of a wildcard is ``*``."""
    kind = node.type
    if kind in ("identifier", "self", "super", "crate", "scoped_identifier", "metavariable"):
        path = _joined(prefix, _text(node, tree))
        yield (
            path.rpartition("::")[2] if not path.endswith("::self") else path.split("::")[-2],
            path.removesuffix("::self"),
        )
    elif kind == "use_as_clause":
        path = _joined(prefix, _text(node.child_by_field_name("path"), tree)).removesuffix("::self")
        yield tree.text(node.child_by_field_name("alias")), path
    elif kind == "use_wildcard":
        inner = node.named_children[0] if node.named_child_count else None
        yield "*", _joined(prefix, _text(inner, tree)) if inner is not None else prefix
    elif kind == "scoped_use_list":
        above = node.child_by_field_name("path")
        inside = _joined(prefix, _text(above, tree)) if above is not None else prefix
        yield from iter_uses(node.child_by_field_name("list"), tree, inside)  # type: ignore[arg-type]
    elif kind == "use_list":
        for child in node.named_children:
            yield from iter_uses(child, tree, prefix)


def _text(node: Node | None, tree: SourceTree) -> str:
    return "".join(tree.text(node).split()).removeprefix("r#")


def _joined(prefix: str, path: str) -> str:
    return f"{prefix}::{path}" if prefix else path


def absolute_path(path: str, module: str, local: Collection[str]) -> str:
    """A path from the crate's root or another crate's, as a key.

    local: names that the module itself declares.
    """
    parts = path.removeprefix("::").split("::")
    base = module.split("::")
    if path.startswith("::"):
        return ".".join(parts)
    if parts[0] in ("crate", "$crate"):
        return ".".join([base[0], *parts[1:]])
    if parts[0] == "self":
        return ".".join([*base, *parts[1:]])
    if parts[0] == "super":
        while parts and parts[0] == "super" and base:
            parts, base = parts[1:], base[:-1]
        return ".".join([*base, *parts])
    if parts[0] in local:
        return ".".join([*base, *parts])
    return ".".join(parts)
