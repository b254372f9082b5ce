"""Sources of real releases from the package registries, kept in the state folder."""

from __future__ import annotations

import re
import subprocess
import sys
import tarfile
import tempfile
import tomllib
from collections.abc import Callable
from functools import lru_cache
from pathlib import Path

import msgspec

from bench.corpora import HOME

LIST = Path(__file__).with_name("projects.toml")
#: Suites that hold different versions of one source package.
SUITES = ("bullseye", "bookworm", "trixie", "forky", "sid")
_KEYRING = "/usr/share/keyrings/debian-archive-keyring.gpg"


class Project(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One entry of the list. package: its name in the registry, if that is not the slug."""

    slug: str
    language: str
    registry: str
    versions: list[str]
    package: str = ""
    folder: str = ""
    #: Whether faults are planted in it, and nothing else is done with it.
    is_planted_only: bool = False

    def source(self, version: str) -> Path:
        """The folder that is gathered, fetched at first use."""
        kept = HOME / "releases" / f"{self.registry}-{(self.package or self.slug).replace('/', '-')}-{version}"
        if not kept.is_dir():
            kept.parent.mkdir(parents=True, exist_ok=True)
            with tempfile.TemporaryDirectory(dir=kept.parent) as folder:
                place = Path(folder)
                (place / "archive").mkdir()
                _FETCH[self.registry](self.package or self.slug, version, place / "archive")
                _unpack(place / "archive", place / "tree").rename(kept)
        (folder,) = kept.glob(self.folder) if self.folder else (kept,)
        return folder


def list_projects() -> list[Project]:
    """Those that are published release by release."""
    return [p for p in list_planted() if not p.is_planted_only]


def list_planted() -> list[Project]:
    """Those in whose newest release faults are planted: all."""
    return msgspec.convert(tomllib.loads(LIST.read_text())["project"], list[Project])


def _unpack(archives: Path, target: Path) -> Path:
    """The root of what the archive holds."""
    (archive,) = [f for f in archives.iterdir() if re.search(r"\.(tar\.\w+|tgz)$", f.name)]
    with tarfile.open(archive) as opened:
        opened.extractall(target, filter=_inside)
    inside = list(target.iterdir())
    return inside[0] if len(inside) == 1 and inside[0].is_dir() else target


def _inside(member: tarfile.TarInfo, path: str) -> tarfile.TarInfo | None:
    try:
        return tarfile.data_filter(member, path)
    except tarfile.FilterError:
        return None  # Links out of the tree: nothing that is read.


def _from_pypi(package: str, version: str, folder: Path) -> None:
    options = ["--no-deps", "--no-binary", ":all:", "-d", str(folder)]
    subprocess.run([sys.executable, "-m", "pip", "download", "-q", *options, f"{package}=={version}"], check=True)


def _from_npm(package: str, version: str, folder: Path) -> None:
    command = ["npm", "pack", "--silent", f"{package}@{version}"]
    subprocess.run(command, cwd=folder, check=True, stdout=subprocess.DEVNULL)


def _from_debian_source(package: str, version: str, folder: Path) -> None:
    exact = _exact(version, _told("apt-cache", "showsrc", "--only-source", package), r"^Version: (.+)$")
    _apt(folder, "source", "--download-only", "--tar-only", "--only-source", f"{package}={exact}")
    for file in folder.iterdir():
        if not re.search(r"\.orig\.tar\.\w+$", file.name):
            file.unlink()


def _from_debian(package: str, version: str, folder: Path) -> None:
    exact = _exact(version, _told("apt-cache", "madison", package), r"^[^|]*\| *(\S+)")
    _apt(folder, "download", f"{package}={exact}")
    (deb,) = folder.iterdir()
    subprocess.run(["dpkg-deb", "-x", deb.name, "tree"], cwd=folder, check=True)
    subprocess.run(["tar", "cf", "tree.tar.gz", "tree"], cwd=folder, check=True)
    deb.unlink()


def _told(command: str, *arguments: str) -> str:
    return subprocess.run([command, *_apt_options(), *arguments], check=True, capture_output=True, text=True).stdout


def _apt(folder: Path, *arguments: str) -> None:
    subprocess.run(["apt-get", *_apt_options(), "-qq", *arguments], cwd=folder, check=True)


def _exact(version: str, told: str, pattern: str) -> str:
    """The Debian version of an upstream one."""
    for exact in re.findall(pattern, told, re.MULTILINE):
        if re.match(rf"(\d+:)?{re.escape(version)}(?![\w]*\.?\d)", exact):
            return str(exact)
    raise LookupError(f"no suite has {version}")


@lru_cache(maxsize=1)
def _apt_options() -> tuple[str, ...]:
    """apt with packages and sources of all suites, beside the machine's own lists."""
    command = ["apt-get", "indextargets", "--format", "$(REPO_URI)", "Created-By: Packages", "Origin: Debian"]
    address = subprocess.run(command, check=True, capture_output=True, text=True).stdout.split()[0]
    place = HOME.absolute() / "apt"
    (place / "lists").mkdir(parents=True, exist_ok=True)
    lines = [f"{kind} [signed-by={_KEYRING}] {address} {suite} main" for suite in SUITES for kind in ("deb", "deb-src")]
    (place / "sources.list").write_text("\n".join(lines) + "\n")
    options = (f"-oDir::Etc::SourceList={place}/sources.list", "-oDir::Etc::SourceParts=/dev/null",
               f"-oDir::State::Lists={place}/lists", f"-oDir::Cache={place}")  # fmt: skip
    subprocess.run(["apt-get", *options, "update", "-qq"], check=True)
    return options


_FETCH: dict[str, Callable[[str, str, Path], None]] = {
    "pypi": _from_pypi, "npm": _from_npm, "debian": _from_debian, "debian-source": _from_debian_source,
}  # fmt: skip
