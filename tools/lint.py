"""Every check of style, types and layering. Ends with 1 if any fails, after running all."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
BIN = Path(sys.executable).parent
CHECKS = (
    ("ruff", [str(BIN / "ruff"), "check", "."], ROOT),
    ("format", [str(BIN / "ruff"), "format", "--check", "."], ROOT),
    ("mypy", [str(BIN / "mypy")], ROOT),
    ("layers", [str(BIN / "lint-imports")], ROOT),
    ("writes", [sys.executable, "tools/writes.py"], ROOT),
    ("complexity", [sys.executable, "tools/complexity.py"], ROOT),
    ("picture", [sys.executable, "tools/draw_layers.py", "--check"], ROOT),
    ("console", ["npm", "run", "--silent", "check"], ROOT / "console"),
)


def main() -> int:
    """Run every check; 1 where one fails."""
    failed = [name for name, command, folder in CHECKS if subprocess.run(command, cwd=folder, check=False).returncode]
    print("All checks hold." if not failed else f"These fail: {', '.join(failed)}.")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
