"""Run the tests and close with ``N passed, N failed``.

usage: runtests.py [PART …], as in ``runtests.py core service/test_publishing.py``
"""

from __future__ import annotations

import sys
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


def load(parts: list[str]) -> unittest.TestSuite:
    """The tests below some folders or in some files of tests/; all for none."""
    loader = unittest.TestLoader()
    suite = unittest.TestSuite()
    for part in parts or [""]:
        path = ROOT / "tests" / part
        folder, pattern = (path.parent, path.name) if path.suffix == ".py" else (path, "test*.py")
        suite.addTests(loader.discover(str(folder), pattern=pattern, top_level_dir=str(ROOT)))
    return suite


def _stop_portal() -> None:
    """End the portal that tests may have started, so that the closing line comes last."""
    from tests.support.running import running

    if running.cache_info().currsize:
        running().stop()


def main(parts: list[str]) -> int:
    """Run tests and print the closing line; 1 where one fails."""
    sys.path.insert(0, str(ROOT))
    result = unittest.TextTestRunner(verbosity=1).run(load(parts))
    _stop_portal()
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    print(f"{max(result.testsRun - failed, 0)} passed, {failed} failed", flush=True)
    return 1 if failed or not result.testsRun else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
