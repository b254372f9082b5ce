"""``zarbek inspect``"""

from __future__ import annotations

import argparse
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any, TextIO

import msgspec

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.terminal import console_for, titled
from zarbek.core.errors import SourceNotFound
from zarbek.core.findings.formats.wording import count
from zarbek.core.material.bundle_file import BundleReader, digest_file
from zarbek.core.model.bundle_schema import bundle_schema
from zarbek.core.sources.datamodels.form_schemas import model_schema, results_schema
from zarbek.core.sources.supplements.head import head_schema

EXAMPLE = "zarbek inspect tidebook.bundle"


_SCHEMAS: dict[str, Callable[[], dict[str, Any]]] = {
    "bundle": bundle_schema, "model": model_schema, "results": results_schema, "supplement": head_schema,
}  # fmt: skip
_PLURALS = {"class": "classes", "property": "properties", "alias": "aliases"}


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("bundle", type=Path, nargs="?", help="the bundle's file")
    parser.add_argument("--schema", nargs="?", const="bundle", choices=tuple(_SCHEMAS),
                        help="print the JSON Schema of a form instead; of a bundle if left out")  # fmt: skip


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print what a bundle holds, or the JSON Schema of a form."""
    if options.schema:
        write_json(_SCHEMAS[options.schema](), out)
        return Exit.FINE
    if options.bundle is None or not options.bundle.is_file():
        raise SourceNotFound(str(options.bundle or "a bundle"))
    with BundleReader(options.bundle) as bundle:
        kinds = Counter(symbol.kind for symbol in bundle.symbols())
        rest = [
            sum(1 for _ in lines) for lines in (bundle.aliases(), bundle.scopes(), bundle.pages(), bundle.findings())
        ]
        manifest = bundle.manifest
    if options.json:
        write_json({"digest": digest_file(options.bundle), "kinds": dict(kinds), **msgspec.to_builtins(manifest)}, out)
        return Exit.FINE
    console = console_for(out)
    console.print(titled(f"{manifest.project} {manifest.version}", f", format {manifest.format}, valid"))
    console.print(f"SHA-256 {digest_file(options.bundle)}")
    console.print(", ".join(count(n, kind, _PLURALS.get(kind, "")) for kind, n in kinds.most_common()) or "no symbols")
    counted = zip(rest, ("alias", "scope", "guide", "finding"), strict=True)
    console.print(", ".join(count(n, what, _PLURALS.get(what, "")) for n, what in counted))
    for dependency in manifest.dependencies:
        console.print(f"depends on {dependency.purl} {dependency.range or 'at any version'}")
    return Exit.FINE
