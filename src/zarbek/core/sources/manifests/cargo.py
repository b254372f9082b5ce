"""What ``Cargo.toml`` declares. Source: The Cargo Book, "The Manifest Format", "Specifying Dependencies"."""

from __future__ import annotations

import tomllib

from packageurl import PackageURL

from zarbek.core.model.bundle import Dependency
from zarbek.core.sources.manifests.facts import PackageFacts


def cargo_purl(name: str) -> str:
    """The package URL of a crate (ECMA-427, type cargo)."""
    return PackageURL(type="cargo", name=name).to_string()


def read_cargo(text: str) -> PackageFacts:
    """What a Cargo.toml says (Cargo reference, The Manifest Format)."""
    try:
        data = tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        return PackageFacts(unreadable=[f"it is no TOML: {error}"], file="Cargo.toml")
    package, wanted = (value if isinstance(value := data.get(key), dict) else {} for key in ("package", "dependencies"))
    name = str(package.get("name", ""))
    found = []
    for key, version in wanted.items():
        table = version if isinstance(version, dict) else {"version": version}
        found.append(Dependency(cargo_purl(str(table.get("package", key))), str(table.get("version", ""))))

    def plain(key: str) -> str:
        value = package.get(key, "")
        return value if isinstance(value, str) else ""

    return PackageFacts(
        name, plain("version"), plain("description"), plain("repository"), cargo_purl(name) if name else "",
        sorted(found, key=lambda d: d.purl), [], "Cargo.toml",
    )  # fmt: skip
