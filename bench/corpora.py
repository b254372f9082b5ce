"""Real sources to measure on, from the package registry, kept in the state folder."""

from __future__ import annotations

import os
import subprocess
import sys
import sysconfig
import zipfile
from pathlib import Path

PACKAGES = {
    "sqlalchemy": "sqlalchemy==1.4.46",
    "django": "django==5.2.8",
    "numpy": "numpy==2.3.4",
    "scipy": "scipy==1.16.3",
}
HOME = Path(os.environ.get("ZARBEK_HOME", ".zarbek")) / "bench"


def corpus(name: str) -> Path:
    """The folder that holds a package, fetched at first use; ``stdlib`` is this Python's own."""
    if name == "stdlib":
        return Path(sysconfig.get_path("stdlib"))
    folder = HOME / "corpora" / name
    if not folder.is_dir():
        wheels = HOME / "wheels"
        command = [
            sys.executable,
            "-m",
            "pip",
            "download",
            "-q",
            "--no-deps",
            "--only-binary",
            ":all:",
            "-d",
            str(wheels),
        ]
        subprocess.run([*command, PACKAGES[name]], check=True)
        wheel = next(w for w in wheels.iterdir() if w.name.lower().startswith(f"{name}-"))
        with zipfile.ZipFile(wheel) as archive:
            members = [m for m in archive.namelist() if m.startswith(f"{name}/") and m.endswith((".py", ".pyi"))]
            archive.extractall(folder, members)
    return folder
