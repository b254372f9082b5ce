"""Where bundles lie that are to be published: in files, or in the memory of the process that publishes them."""

from __future__ import annotations

from pathlib import Path

from django.conf import settings

from zarbek.core.material.bundle_file import BundleReader
from zarbek.core.material.held_bundle import HeldBundle

_held: dict[str, HeldBundle] = {}


def bundle_path(name: str) -> Path:
    """Where an uploaded bundle lies."""
    return Path(settings.MEDIA_ROOT) / name


def hold_bundle(name: str, bundle: HeldBundle) -> None:
    """Have this process publish a bundle from memory; the one before is forgotten."""
    _held.clear()
    _held[name] = bundle


def open_bundle(name: str) -> BundleReader:
    """For use as a context manager. Raises BundleRefused."""
    return _held.get(name) or BundleReader(bundle_path(name))
