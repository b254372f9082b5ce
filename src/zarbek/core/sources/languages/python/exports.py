"""Public names of symbols that other modules re-export: one symbol, several names."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from zarbek.core.model.bundle import Alias

MAX_CHAIN = 20


@dataclass(frozen=True, slots=True)
class ModuleExports:
    """What one module tells others. defined: names of its top level. exported: ``__all__`` or None."""

    module: str
    is_package: bool
    defined: tuple[str, ...]
    aliases: tuple[tuple[str, str], ...]
    wildcards: tuple[str, ...]
    exported: tuple[str, ...] | None


def resolve_aliases(modules: Iterable[ModuleExports], paths: Mapping[str, str]) -> list[Alias]:
    """Every name that leads to a symbol of another path, sorted by name.

    paths: symbol paths of the project to their kinds. A variable that merely names another
    symbol is an alias too; the caller drops the variable. An alias is public when its module lists it in
    ``__all__``, or when its module is a package without ``__all__`` and no part is private.
    """
    by_name = {m.module: m for m in modules}
    targets: dict[str, str] = {}
    for module in by_name.values():
        targets.update(module.aliases)
    for module in by_name.values():
        for name, target in _wildcard_names(module, by_name, set()):
            targets.setdefault(f"{module.module}.{name}", target)
    roots = frozenset(path.partition(".")[0] for path in paths)
    found = []
    for name in sorted(targets):
        if paths.get(name, "module") not in ("module", "package", "variable", "attribute"):
            continue
        path = _follow(name, targets, paths, roots)
        if path and path != name:
            found.append(Alias(name, path, _is_public(name, by_name)))
    return found


def _wildcard_names(
    module: ModuleExports, by_name: Mapping[str, ModuleExports], visited: set[str]
) -> Iterable[tuple[str, str]]:
    if module.module in visited:
        return
    visited.add(module.module)
    for source in module.wildcards:
        origin = by_name.get(source)
        if origin is None:
            continue
        local = [*origin.defined, *(a.rpartition(".")[2] for a, _ in origin.aliases)]
        for name in origin.exported if origin.exported is not None else local:
            if origin.exported is not None or not name.startswith("_"):
                yield name, f"{source}.{name}"
        if origin.exported is None:
            yield from _wildcard_names(origin, by_name, visited)


def _follow(name: str, targets: Mapping[str, str], paths: Mapping[str, str], roots: frozenset[str]) -> str:
    """The symbol that a name leads to, through aliases of it or of what encloses it."""
    first = name
    for _ in range(MAX_CHAIN):
        if name in paths and name != first and not (name in targets and paths[name] == "variable"):
            return name
        if name in targets:
            target = targets[name]
            if target == name:
                return ""
            if target.partition(".")[0] not in roots:
                # A name of the same scope, as written in an assignment.
                target = f"{name.rpartition('.')[0]}.{target}"
            name = target
            continue
        head, _, last = name.rpartition(".")
        tail = [last]
        while head and head not in targets:
            if paths.get(head) == "function":
                return head  # An attribute of a function is the function in other clothes.
            head, _, last = head.rpartition(".")
            tail.insert(0, last)
        if not head:
            return ""
        name = ".".join([targets[head], *tail])
    return ""


def _is_public(name: str, by_name: Mapping[str, ModuleExports]) -> bool:
    head, _, last = name.rpartition(".")
    if any(part.startswith("_") for part in name.split(".")):
        return False
    module = by_name.get(head)
    if module is None:
        return False
    if module.exported is not None:
        return last in module.exported
    return module.is_package
