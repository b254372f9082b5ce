"""What people call an element, to the element."""

from __future__ import annotations

from zarbek.client import Hit, Portal, PortalError


class NameNotFound(PortalError):
    """alike: a name that differs by case only, or empty."""

    def __init__(self, name: str, alike: str = "") -> None:
        super().__init__(name)
        self.name, self.alike = name, alike

    def __str__(self) -> str:
        told = f"Nothing in the portal is called {self.name!r}."
        return f"{told} There is {self.alike}." if self.alike else f"{told} zarbek find {self.name} looks further."


def exact_hit(portal: Portal, name: str, project: str = "", version: str = "") -> Hit | None:
    """The symbol or guide of exactly that name, as it is written."""
    hits = portal.search(name, project=project, version=version, limit=20)
    exact = [h for h in hits if name in (h.name, h.path) or _ends_in(h.path, name)]
    if " /" in name:
        exact = exact or [h for h in hits if h.kind == "operation"]
    return exact[0] if exact else None


def find_hit(portal: Portal, name: str, project: str = "", version: str = "") -> Hit:
    """The same. Raises NameNotFound."""
    hit = exact_hit(portal, name, project, version)
    if hit is None:
        hits = portal.search(name.rpartition(".")[2], project=project, version=version, limit=20)
        raise NameNotFound(name, next((h.path for h in hits if name.lower() == h.path.lower()), ""))
    return hit


def _ends_in(path: str, name: str) -> bool:
    return any(path.endswith(f"{mark}{name}") for mark in (".", "::", "/"))
