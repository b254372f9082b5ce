"""Public names of symbols that other modules re-export: one symbol, several names."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass

from zarbek.core.model.bundle import Alias

MAX_CHAIN = 20


@dataclass(frozen=True, slots=True)
class ModuleExports:
    """What one module tells others. defined: names of its top level. exported: the names that a
    wildcard brings, or None. reexports: names in aliases that the module hands on by its
    language's own word, or seems to import for others. by_custom: whether custom tells what is public (Python).
    handed: last names of what custom says is imported for others: ``import X as X`` (PEP 484, stub files)."""

    module: str
    is_package: bool
    defined: tuple[str, ...]
    aliases: tuple[tuple[str, str], ...]
    wildcards: tuple[str, ...]
    exported: tuple[str, ...] | None
    reexports: frozenset[str] = frozenset()
    by_custom: bool = True
    handed: frozenset[str] = frozenset()

    def joined(self, other: ModuleExports) -> ModuleExports:
        """Both parts of one module."""
        exported = None if self.exported is None and other.exported is None else (
            *(self.exported or ()), *(other.exported or ())
        )  # fmt: skip
        return ModuleExports(
            self.module, self.is_package or other.is_package, self.defined + other.defined,
            self.aliases + other.aliases, self.wildcards + other.wildcards, exported,
            self.reexports | other.reexports, self.by_custom, self.handed | other.handed,
        )  # fmt: skip


def resolve_aliases(modules: Iterable[ModuleExports], paths: Mapping[str, str]) -> list[Alias]:
    """Every name that leads to a symbol of another path, sorted by name.

    paths: symbol paths of the project to their kinds. A variable that merely names another
    symbol is an alias too; the caller drops the variable. An alias is public when its module lists it in
    ``__all__``, or when its module is a package without ``__all__``, which hands on what is below it, and no
    part is private.
    """
    by_name = {m.module: m for m in modules}
    targets, spread = _targets(by_name, paths)
    overlaid = frozenset(n for n in targets if not _module_of(n, by_name).by_custom)
    roots = frozenset(path.partition(".")[0] for path in paths)
    found = []
    for name in sorted(targets):
        kind = paths.get(name, "module")
        if kind not in ("module", "package", "variable", "attribute"):
            continue
        if kind != "module" and not ((module := _module_of(name, by_name)).by_custom or name in module.reexports):
            continue  # What a module declares hides what it imports; a function and a module may share a name.
        path = _follow(name, targets, paths, roots, overlaid)
        if path and path != name:
            found.append(Alias(name, path, _is_public(name, path, by_name, spread)))
    return found


def _targets(by_name: Mapping[str, ModuleExports], paths: Mapping[str, str]) -> tuple[dict[str, str], set[str]]:
    """(name to what it stands for, names that wildcards hand on)."""
    targets: dict[str, str] = {}
    spread: set[str] = set()
    for module in by_name.values():
        targets.update(module.aliases)
    for module in by_name.values():
        for name, target in _wildcard_names(module, by_name, set()):
            full = f"{module.module}.{name}"
            if not _is_used_only(by_name[target.rpartition(".")[0]], name):
                spread.add(full)
            if paths.get(full, "module") == "module":
                targets.setdefault(full, target)
    return targets, spread


def _is_used_only(origin: ModuleExports, name: str) -> bool:
    """Whether a module that lists nothing has a name because it uses it: nobody hands that on, though all have it."""
    is_listed = origin.exported is not None or not origin.by_custom or origin.is_package
    return not is_listed and name not in origin.defined and f"{origin.module}.{name}" not in origin.reexports


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
        shown = [a for a, _ in origin.aliases if origin.by_custom or a in origin.reexports]
        local = [*origin.defined, *(a.rpartition(".")[2] for a in shown)]
        for name in origin.exported if origin.exported is not None else local:
            if origin.exported is not None or not origin.by_custom or not name.startswith("_"):
                yield name, f"{source}.{name}"
        if origin.exported is None:
            yield from _wildcard_names(origin, by_name, visited)


def _follow(
    name: str, targets: Mapping[str, str], paths: Mapping[str, str], roots: frozenset[str], overlaid: frozenset[str]
) -> str:
    """The symbol that a name leads to, through aliases of it or of what encloses it; a variable where nobody knows what
    it names.

    overlaid: aliases that a module may share their name with.
    """
    first, known = name, ""
    for _ in range(MAX_CHAIN):
        covered = name in targets and (
            paths.get(name) == "variable" or (name in overlaid and paths.get(name) == "module")
        )
        if name in paths and name != first:
            if not covered:
                return name
            known = name
        if name in targets:
            target = targets[name]
            if target == name:
                return known
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
            return known
        name = ".".join([targets[head], *tail])
    return known


def _module_of(name: str, by_name: Mapping[str, ModuleExports]) -> ModuleExports:
    found = by_name.get(name.rpartition(".")[0])
    return found if found is not None else ModuleExports("", False, (), (), (), None)


def _is_public(name: str, path: str, by_name: Mapping[str, ModuleExports], spread: Collection[str]) -> bool:
    head = name.rpartition(".")[0]
    own = by_name.get(head)
    if own is not None and not own.by_custom:
        return name in own.reexports or name in spread
    if any(part.startswith("_") for part in head.split(".")):
        return False
    return True if own is None else _hands_on(own, name, path, spread)  # A class gives its member another name.


def _hands_on(own: ModuleExports, name: str, path: str, spread: Collection[str]) -> bool:
    """Whether a public module of Python means a name for others."""
    head, _, last = name.rpartition(".")
    if name in own.reexports or (name in spread and own.exported is None):
        return True
    if own.exported is not None:
        return last in own.exported
    if path.rpartition(".")[2].startswith("_") and not last.startswith("_"):
        return True  # Nobody gives what is private another name but for others.
    # A package hands on what is below it, or what nobody can have from where it is; else it merely uses it.
    is_hidden = any(p.startswith("_") for p in path.split("."))
    return own.is_package and not last.startswith("_") and (is_hidden or path.startswith(f"{head}."))
