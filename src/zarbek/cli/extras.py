"""What a verb needs that the light installation does not bring."""

from __future__ import annotations

from importlib import import_module
from types import ModuleType


class ExtraMissing(Exception):
    """A verb needs packages of an extra of this package that is not installed."""

    def __init__(self, extra: str, package: str) -> None:
        super().__init__(extra, package)
        self.extra, self.package = extra, package

    def __str__(self) -> str:
        return (
            f"This needs zarbek[{self.extra}], which is not installed ({self.package} is missing). "
            f"Run: pip install 'zarbek[{self.extra}]'"
        )


def load_extra(extra: str, module: str) -> ModuleType:
    """A module of ours whose packages an extra brings. Raises ExtraMissing where one of them is not there."""
    try:
        return import_module(module)
    except ModuleNotFoundError as error:
        package = (error.name or "").partition(".")[0]
        if package in ("", "zarbek"):
            raise
        raise ExtraMissing(extra, package) from error
