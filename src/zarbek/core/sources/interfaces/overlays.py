"""Overlays: changes to a description that stand in a file of their own. Source: OpenAPI Overlay 1.1.0."""

from __future__ import annotations

from typing import Any

import jsonpath_rfc9535 as jsonpath

from zarbek.core.sources.interfaces.documents import Document
from zarbek.core.sources.interfaces.symbol_builder import items, mapping


class OverlayError(ValueError):
    """An overlay that cannot be applied; ``str()`` says which action and why."""


def apply_overlay(target: Document, overlay: Document) -> None:
    """Change a document's value by the overlay's actions, in their order.

    Raises OverlayError for a target that is no JSONPath (RFC 9535). A target that matches nothing
    changes nothing (section 4.4.3).
    """
    for index, action in enumerate(items(mapping(overlay.value).get("actions")), start=1):
        if isinstance(action, dict):
            _apply(target, action, index)


def _apply(target: Document, action: dict[str, Any], index: int) -> None:
    try:
        nodes = list(jsonpath.find(str(action.get("target", "")), target.value))
    except jsonpath.JSONPathError as error:
        raise OverlayError(f"action {index}: {action.get('target')!r} is no JSONPath: {error}") from error
    for node in reversed(nodes):  # Backwards, so that items that go do not shift those still to come.
        if action.get("remove") is True:
            if not node.location:
                raise OverlayError(f"action {index} would remove the whole description")
            holder = target.at(node.location[:-1])
            del holder[node.location[-1]]
        elif "update" in action:
            _update(node.value, action["update"])


def _update(value: Any, update: Any) -> None:
    if isinstance(value, list):
        value.append(update)
    elif isinstance(value, dict) and isinstance(update, dict):
        for key, inner in update.items():
            if isinstance(value.get(key), dict) and isinstance(inner, dict):
                _update(value[key], inner)
            elif isinstance(value.get(key), list) and isinstance(inner, list):
                value[key].extend(inner)
            else:
                value[key] = inner
