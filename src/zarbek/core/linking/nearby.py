"""Names that leave out their beginning."""

from __future__ import annotations

from zarbek.core.linking.scopes import ScopeLookup
from zarbek.core.linking.targets import Missing, Target, fits, fits_exactly, shared_parts
from zarbek.core.model.naming import key_of


class NearbyLookup(ScopeLookup):
    """Finds symbols of its own release by the end of their names."""

    def _resolve_prefixed(self, name: str, scope_path: str, role: str) -> Target | Missing:
        """A name whose prefix the project explained: there, else by its last parts below it."""
        found = self.absolute(name, 0)
        if isinstance(found, Target):
            return found
        parts = name.split(".")
        for start in range(len(parts) - 1, 0, -1):
            package = ".".join(parts[:start])
            if package in self.own.symbols:
                suffix = "." + ".".join(parts[start:])
                inside = [n for n in self._suffix_names(suffix, role) if n.startswith(package + ".")]
                best = self._nearest(inside, package, role)
                return best if best is not None else found
        return found

    def _by_suffix(self, name: str, scope_path: str, role: str) -> Target | Missing:
        best = self._nearest_suffix(name.lstrip("."), scope_path, role)
        if best is not None:
            return best
        head, _, last = name.rpartition(".")
        owners = self._suffix_names(head, "class") if head.strip(".") else []
        is_open = any(self.lookup(self.own, f"{owner}.{last}", 0) is True for owner in owners)
        return Missing(self.own.project, name.lstrip("."), open=is_open)

    def _nearest_suffix(self, name: str, scope_path: str, role: str) -> Target | None:
        enclosing = key_of(scope_path)
        while enclosing:
            found = self.lookup(self.own, f"{enclosing}.{name}", 0)
            if isinstance(found, Target) and fits(found.entry, role) and fits_exactly(found.entry, role):
                return found
            enclosing = enclosing.rpartition(".")[0]
        return self._nearest(self._suffix_names("." + name, role), scope_path, role)

    def _suffix_names(self, suffix: str, role: str) -> list[str]:
        """Names of the release that end in the suffix, inherited members included."""
        head, _, last = suffix.rpartition(".")
        names = [n for n in self.own.by_last_name.get(last, ()) if n.endswith(suffix) or "." + n == suffix]
        if not names and head:
            for owner in self._suffix_names(head, "class"):
                found = self.lookup(self.own, f"{owner}.{last}", 0)
                if isinstance(found, Target):
                    names.append(f"{owner}.{last}")
        return names

    def _nearest(self, names: list[str], scope_path: str, role: str) -> Target | None:
        best: tuple[tuple[object, ...], Target] | None = None
        for name in names:
            found = self.lookup(self.own, name, 0)
            if not isinstance(found, Target):
                continue
            rank = (
                not fits(found.entry, role),
                not fits_exactly(found.entry, role),
                found.entry.visibility == "private",
                -shared_parts(key_of(found.entry.path), key_of(scope_path)),
                "bare" in found.entry.flags,
                found.entry.path != name,
                name.count("."),
                name,
            )
            if best is None or rank < best[0]:
                best = (rank, found)
        return best[1] if best else None
