"""What the symbols of a release say of interfaces, by path, read once."""

from __future__ import annotations

from zarbek.core.model.interface import Interface, Schema, Service
from zarbek.core.model.symbol import Symbol
from zarbek.service.content.queries import find_exact, read_symbol


class InterfaceLookup:
    """One release; not shared between requests. Cost: a row for each path that is asked for."""

    def __init__(self, release_id: int) -> None:
        self.release_id = release_id
        self._known: dict[str, Symbol | None] = {}

    def symbol(self, path: str) -> Symbol | None:
        """A symbol of the release in full, read once; None where there is none."""
        if path not in self._known:
            entry = find_exact(self.release_id, path)
            self._known[path] = read_symbol(entry) if entry is not None else None
        return self._known[path]

    def opened(self) -> list[str]:
        """The paths that were asked for so far."""
        return list(self._known)

    def interface(self, path: str) -> Interface | None:
        """What a symbol of an interface description is; None for another."""
        found = self.symbol(path)
        return found.interface if found is not None else None

    def schema(self, path: str) -> Schema | None:
        """The schema at a path; None where there is none."""
        found = self.interface(path)
        return found.schema if found is not None else None

    def service(self, module: str) -> Service | None:
        """The service that a module describes; None where it describes none."""
        found = self.interface(module)
        return found.service if found is not None else None

    def has(self, path: str) -> bool:
        """Whether the release has a symbol at a path."""
        return find_exact(self.release_id, path) is not None
