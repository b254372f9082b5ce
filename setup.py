"""No wheel without the console in it, which npm builds: everything else stands in pyproject.toml."""

from pathlib import Path

from setuptools import setup
from setuptools.command.build_py import build_py

_PAGE = Path(__file__).parent / "src/zarbek/service/web/dist/index.html"


class BuildWithConsole(build_py):
    """Puts the built console into the package."""

    def run(self) -> None:
        """Raises SystemExit where the console has not been built."""
        if not self.editable_mode and not _PAGE.exists():
            raise SystemExit(
                "The console is not built, so the wheel would have none: run ./run console, then build again."
            )
        super().run()


setup(cmdclass={"build_py": BuildWithConsole})
