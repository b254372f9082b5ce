"""Draw the layers that the contracts of ``pyproject.toml`` hold, as ``docs/architecture.svg``.

usage: python tools/draw_layers.py [--check]   (--check: end with 1 where the kept picture is another)
"""

from __future__ import annotations

import sys
import tomllib
from pathlib import Path
from xml.sax.saxutils import escape

ROOT = Path(__file__).resolve().parent.parent
PICTURE = ROOT / "docs" / "architecture.svg"
#: In pixels: a row, its gap, a column and the space between columns.
ROW, GAP, COLUMN, SPACE, HEAD = 30, 8, 250, 40, 44
COLUMNS = (
    ("Imports point downwards: cli to client and core, service to core", "The four packages", "zarbek."),
    ("The order of the service's applications", "Applications of the service", "zarbek.service."),
    ("Layers inside an application", "Inside each application", ""),
    ("Layers inside the core", "Inside the core", "zarbek.core."),
)


def layers_of(name: str) -> list[str]:
    """The layers of a contract, the highest first."""
    contracts = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"]["contracts"]
    found: list[str] = next(c["layers"] for c in contracts if c["name"] == name)
    return found


def draw() -> str:
    """The picture as SVG."""
    columns = [(title, [_named(layer, prefix) for layer in layers_of(name)]) for name, title, prefix in COLUMNS]
    height = HEAD + max(len(layers) for _, layers in columns) * (ROW + GAP) + GAP
    width = len(columns) * (COLUMN + SPACE)
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" width="{width}" height="{height}" '
        'font-family="Instrument Sans, Arial, sans-serif" font-size="14">',
        f'<rect width="{width}" height="{height}" fill="#f6f8f7"/>',
    ]
    for number, (title, layers) in enumerate(columns):
        left = number * (COLUMN + SPACE) + SPACE // 2
        parts.append(f'<text x="{left}" y="26" font-weight="bold" fill="#14211d">{escape(title)}</text>')
        for row, layer in enumerate(layers):
            top, middle = HEAD + row * (ROW + GAP), left + COLUMN // 2
            parts.append(
                f'<rect x="{left}" y="{top}" width="{COLUMN}" height="{ROW}" rx="3" fill="#ffffff" stroke="#0f6455"/>'
                f'<text x="{middle}" y="{top + 20}" text-anchor="middle" fill="#14211d">{escape(layer)}</text>'
            )
    return "\n".join([*parts, "</svg>"]) + "\n"


def _named(layer: str, prefix: str) -> str:
    return " · ".join(part.strip("() ").removeprefix(prefix) for part in layer.split("|"))


def main() -> int:
    """Write the picture; with --check only say whether it is the contracts' own."""
    drawn = draw()
    if "--check" in sys.argv:
        if PICTURE.read_text() != drawn:
            print("docs/architecture.svg shows other layers than the contracts: run python tools/draw_layers.py")
            return 1
        return 0
    PICTURE.write_text(drawn)
    return 0


if __name__ == "__main__":
    sys.exit(main())
