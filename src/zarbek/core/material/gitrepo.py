"""Commits of git repositories, by the git command with everything risky switched off."""

from __future__ import annotations

import ipaddress
import os
import re
import socket
import subprocess
import tarfile
from collections.abc import Sequence
from pathlib import Path
from urllib.parse import urlsplit

from zarbek.core.errors import GitRefused

_REF = re.compile(r"[A-Za-z0-9][A-Za-z0-9._/+-]{0,199}")
_TIMEOUT_S = 300
_MAX_FILES = 200_000
_MAX_BYTES = 2**31
_ENVIRONMENT = {
    "GIT_TERMINAL_PROMPT": "0",
    "GIT_CONFIG_NOSYSTEM": "1",
    "GIT_CONFIG_GLOBAL": os.devnull,
    "GIT_ALLOW_PROTOCOL": "https:ssh:file",
    "GIT_LFS_SKIP_SMUDGE": "1",
    "LC_ALL": "C",
}


def check_address(address: str, local_folders: Sequence[str], *, allow_private: bool = False) -> None:
    """Raises GitRefused unless the address is https, ssh, or a folder on the allow-list."""
    if address.startswith("-") or any(c.isspace() or ord(c) < 32 for c in address):
        raise GitRefused(address, "this is no repository address")
    if os.path.isabs(address):
        real = os.path.realpath(address)
        allowed = [os.path.realpath(folder) for folder in local_folders]
        if not any(real == folder or real.startswith(folder + os.sep) for folder in allowed):
            raise GitRefused(address, "this folder is not on the portal's list of local sources")
        return
    parts = urlsplit(address)
    if parts.scheme not in ("https", "ssh") or not parts.hostname:
        raise GitRefused(address, "only https and ssh addresses are fetched")
    if parts.password:
        raise GitRefused(parts.hostname, "an address may hold no password")
    if not allow_private:
        _refuse_private(parts.hostname)


def _refuse_private(host: str) -> None:
    try:
        found = {info[4][0] for info in socket.getaddrinfo(host, None)}
    except OSError as error:
        raise GitRefused(host, f"the host is not known: {error}") from error
    for text in found:
        if not ipaddress.ip_address(str(text).partition("%")[0]).is_global:
            raise GitRefused(host, "the address leads into a private network")


def check_ref(ref: str) -> str:
    """The ref, if git may be given it. Raises GitRefused."""
    if not _REF.fullmatch(ref) or ".." in ref or ref.endswith((".lock", "/", ".")) or "//" in ref:
        raise GitRefused(ref, "this cannot be a tag, branch or commit")
    return ref


def list_tags(address: str) -> list[str]:
    """Tags of a repository, as git orders them. Raises GitRefused."""
    out = _git(["ls-remote", "--tags", "--refs", "--", address], address)
    return [line.rpartition("refs/tags/")[2] for line in out.decode(errors="replace").splitlines()]


def list_refs(address: str) -> dict[str, str]:
    """Ref, such as ``refs/tags/v1.0``, to the commit it leads to. Raises GitRefused."""
    out = _git(["ls-remote", "--heads", "--tags", "--", address], address).decode(errors="replace")
    found: dict[str, str] = {}
    for line in out.splitlines():
        commit, _, ref = line.partition("\t")
        found[ref.removesuffix("^{}")] = commit  # The commit of an annotated tag comes after the tag.
    return found


def count_commits(address: str, since: str, until: str, folder: Path) -> int:
    """How many commits lie between two of them, without their files. Raises GitRefused."""
    store = folder / ".history"
    _git(["init", "--quiet", "--bare", str(store)], address)
    repo = ["--git-dir", str(store), "-c", "protocol.ext.allow=never", "-c", "core.hooksPath=/dev/null"]
    wanted = ["fetch", "--quiet", "--filter=tree:0", "--no-tags", "--no-recurse-submodules", "--", address]
    _git([*repo, *wanted, check_ref(since), check_ref(until)], address)
    out = _git([*repo, "rev-list", "--count", f"{since}..{until}"], address)
    subprocess.run(["rm", "-rf", str(store)], check=True)
    return int(out)


def read_file_at(folder: Path, commit: str, file: str) -> bytes:
    """A file of a checkout as it was in a commit. Raises GitRefused."""
    return _git(["-C", str(folder), "show", f"{check_ref(commit)}:{file}"], str(folder))


def root_of_checkout(folder: Path) -> Path:
    """The root of the repository that a folder lies in. Raises GitRefused."""
    return Path(_git(["-C", str(folder), "rev-parse", "--show-toplevel"], str(folder)).decode().strip())


def export_commit(address: str, ref: str, folder: Path) -> str:
    """Write the files of a ref into an empty folder; its commit in hexadecimal.

    No work tree is checked out, no hook, filter or submodule runs; links are left out.
    Raises GitRefused.
    """
    check_ref(ref)
    store = folder / ".repository"
    _git(["init", "--quiet", "--bare", str(store)], address)
    repo = ["--git-dir", str(store), "-c", "protocol.ext.allow=never", "-c", "core.hooksPath=/dev/null"]
    _git(
        [*repo, "fetch", "--quiet", "--depth", "1", "--no-tags", "--no-recurse-submodules", "--", address, ref], address
    )
    commit = _git([*repo, "rev-parse", "--verify", "FETCH_HEAD^{commit}"], address).decode().strip()
    archive = folder / ".archive.tar"
    _git([*repo, "archive", "--format=tar", "-o", str(archive), commit], address)
    _unpack(archive, folder, address)
    archive.unlink()
    subprocess.run(["rm", "-rf", str(store)], check=True)
    return commit


def _unpack(archive: Path, folder: Path, address: str) -> None:
    total = count = 0
    with tarfile.open(archive) as tar:
        for member in tar:
            if not (member.isfile() or member.isdir()):
                continue
            total, count = total + member.size, count + 1
            if total > _MAX_BYTES or count > _MAX_FILES:
                raise GitRefused(address, "the commit holds more than 2 GiB or 200,000 files")
            tar.extract(member, folder, filter="data")


def _git(arguments: list[str], address: str) -> bytes:
    try:
        done = subprocess.run(
            ["git", *arguments], capture_output=True, timeout=_TIMEOUT_S, check=True,
            env={**os.environ, **_ENVIRONMENT}, stdin=subprocess.DEVNULL,
        )  # fmt: skip
    except subprocess.TimeoutExpired as error:
        raise GitRefused(address, f"git took longer than {_TIMEOUT_S} s") from error
    except subprocess.CalledProcessError as error:
        reason = error.stderr.decode(errors="replace").strip().splitlines()
        raise GitRefused(address, reason[-1] if reason else "git failed") from error
    except FileNotFoundError as error:
        raise GitRefused(address, "git is not installed on this machine") from error
    return done.stdout
