"""How branched functions are, conditions inside expressions counted too, as radon does.

Ends with 1 where a function is above MOST, or too many are above MANY.
"""

from __future__ import annotations

import sys
from collections.abc import Iterator
from pathlib import Path

from radon.complexity import cc_visit
from radon.visitors import Class, Function

SOURCES = Path(__file__).resolve().parent.parent / "src"
MOST, MANY, SO_MANY = 18, 15, 20


def functions_of(file: Path) -> Iterator[tuple[int, str, int]]:
    """(complexity, name, line) of a file's functions and methods."""
    for block in cc_visit(file.read_text()):
        parts = block.methods if isinstance(block, Class) else [block] if isinstance(block, Function) else []
        yield from ((part.complexity, part.fullname, part.lineno) for part in parts)


def main() -> int:
    """Print the highest complexity; 1 where more functions are dense than are allowed."""
    found = {
        (complexity, str(file.relative_to(SOURCES)), name, line)
        for file in sorted(SOURCES.rglob("*.py")) for complexity, name, line in functions_of(file)
    }  # fmt: skip
    branched = sorted((row for row in found if row[0] > MANY), reverse=True)
    most = max(row[0] for row in found)
    if most <= MOST and len(branched) <= SO_MANY:
        print(f"Complexity: the highest is {most}; {len(branched)} of {len(found):,} functions are above {MANY}.")
        return 0
    print(f"Too branched: none may be above {MOST}, and {SO_MANY} above {MANY}; these are {len(branched)}.")
    for complexity, file, name, line in branched:
        print(f"  {complexity}  {file}:{line}  {name}")
    return 1


if __name__ == "__main__":
    sys.exit(main())
