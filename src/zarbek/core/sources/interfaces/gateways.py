"""A description as callers see the service: behind a gateway that has it under a prefix of its own."""

from __future__ import annotations

from typing import Any

from zarbek.core.model.web_address import split_address
from zarbek.core.sources.interfaces.documents import Document


def put_behind(document: Document, server: str, strip: str = "") -> None:
    """Rewrite a description's servers, and its paths where the gateway leaves out their beginning.

    server: the address under which callers reach the service; empty leaves the servers as they are.
    strip: the beginning of the service's own paths that the gateway adds by itself.
    """
    root = document.value
    if not isinstance(root, dict):
        return
    if server and "swagger" in root:
        place = split_address(server)
        root.update(host=place.netloc, basePath=place.path or "/", schemes=[place.scheme or "https"])
    elif server and "openapi" in root:
        root["servers"] = [{"url": server}]
        for item in _paths(root).values():
            for holder in (item, *(o for o in item.values() if isinstance(o, dict))) if isinstance(item, dict) else ():
                holder.pop("servers", None)
    prefix = strip.rstrip("/")
    if prefix:
        paths = _paths(root)
        renamed = {_stripped(str(path), prefix): item for path, item in paths.items()}
        paths.clear()
        paths.update(renamed)


def _paths(root: dict[str, Any]) -> dict[str, Any]:
    paths = root.get("paths")
    return paths if isinstance(paths, dict) else {}


def _stripped(path: str, prefix: str) -> str:
    return (path[len(prefix) :] or "/") if path == prefix or path.startswith(prefix + "/") else path
