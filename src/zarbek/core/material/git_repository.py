"""Commits of git repositories, by the git command with everything risky switched off."""

from __future__ import annotations

import os
import re
import subprocess
import tarfile
import tempfile
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import urlsplit

from zarbek.core.errors import GitRefused
from zarbek.core.material.network_addresses import HostRefused, resolve
from zarbek.core.material.processes import begin_bound

_REF = re.compile(r"[A-Za-z0-9][A-Za-z0-9._/+-]{0,199}")
_TIMEOUT_S = 300.0
#: For what a repository has, without any of it.
_LIST_S = 30.0
_MAX_FILES = 200_000
_MAX_BYTES = 2**31
_ENVIRONMENT = {
    "GIT_TERMINAL_PROMPT": "0",
    "GIT_CONFIG_NOSYSTEM": "1",
    "GIT_CONFIG_GLOBAL": os.devnull,
    "GIT_LFS_SKIP_SMUDGE": "1",
    "LC_ALL": "C",
}
#: What git may know of its surroundings: nothing of the portal's secrets.
_PASSED = (
    "PATH",
    "HOME",
    "TMPDIR",
    "SSH_AUTH_SOCK",
    "https_proxy",
    "HTTPS_PROXY",
    "no_proxy",
    "NO_PROXY",
    "SSL_CERT_FILE",
)
_QUIET = ("-c", "protocol.ext.allow=never", "-c", "core.hooksPath=/dev/null")
#: Never asked by ssh, never sent on by another host, and by no other name than the one that was judged.
_SSH = "ssh -o BatchMode=yes -o ProxyCommand=none -o ProxyJump=none -o PermitLocalCommand=no -o CheckHostIP=no"


@dataclass(frozen=True, slots=True)
class Remote:
    """A repository that may be asked. options, environment: for git, which reaches it only at the
    network address that was judged."""

    address: str
    options: tuple[str, ...] = ()
    environment: dict[str, str] = field(default_factory=dict)


def reach(address: str, local_folders: Sequence[str], *, allowed: Sequence[str] = ()) -> Remote:
    """A repository by its address.

    allowed: hosts that may lie in a private network. Raises GitRefused unless the address is https or
    ssh to a host of the open net, or a folder on the allow-list.
    """
    if address.startswith("-") or any(c.isspace() or ord(c) < 32 for c in address):
        raise GitRefused(address, "this is no repository address")
    if os.path.isabs(address):
        return _reach_folder(address, local_folders)
    try:
        parts = urlsplit(address)
        host, port = parts.hostname, parts.port
    except ValueError as error:
        raise GitRefused(address, "this is no repository address") from error
    if parts.scheme not in ("https", "ssh") or not host:
        raise GitRefused(address, "only https and ssh addresses are fetched")
    if parts.password:
        raise GitRefused(host, "an address may hold no password")
    try:
        found = resolve(host, allowed)
    except HostRefused as error:
        raise GitRefused(host, str(error)) from error
    if parts.scheme == "ssh":
        command = f"{_SSH} -o HostName={found} -o HostKeyAlias={host}"
        return Remote(address, environment={"GIT_ALLOW_PROTOCOL": "ssh", "GIT_SSH_COMMAND": command})
    shown = f"[{found}]" if ":" in found else found
    options = ("-c", "http.followRedirects=false", "-c", f"http.curloptResolve={host}:{port or 443}:{shown}")
    return Remote(address, options, {"GIT_ALLOW_PROTOCOL": "https"})


def _reach_folder(address: str, local_folders: Sequence[str]) -> Remote:
    real = os.path.realpath(address)
    known = [os.path.realpath(folder) for folder in local_folders]
    if not any(real == folder or real.startswith(folder + os.sep) for folder in known):
        raise GitRefused(address, "this folder is not on the portal's list of local sources")
    return Remote(address, environment={"GIT_ALLOW_PROTOCOL": "file"})


def check_ref(ref: str) -> str:
    """The ref, if git may be given it. Raises GitRefused."""
    if not _REF.fullmatch(ref) or ".." in ref or ref.endswith((".lock", "/", ".")) or "//" in ref:
        raise GitRefused(ref, "this cannot be a tag, branch or commit")
    return ref


def list_tags(remote: Remote) -> list[str]:
    """Tags of a repository, as git orders them. Raises GitRefused."""
    out = _ask(remote, ["ls-remote", "--tags", "--refs", "--", remote.address], _LIST_S)
    return [line.rpartition("refs/tags/")[2] for line in out.decode(errors="replace").splitlines()]


def list_refs(remote: Remote) -> dict[str, str]:
    """Ref, such as ``refs/tags/v1.0``, to the commit it leads to. Raises GitRefused."""
    out = _ask(remote, ["ls-remote", "--heads", "--tags", "--", remote.address], _LIST_S).decode(errors="replace")
    found: dict[str, str] = {}
    for line in out.splitlines():
        commit, _, ref = line.partition("\t")
        found[ref.removesuffix("^{}")] = commit  # The commit of an annotated tag comes after the tag.
    return found


def count_commits(remote: Remote, since: str, until: str, folder: Path) -> int:
    """How many commits lie between two of them, without their files. Raises GitRefused."""
    store, address = folder / "history", remote.address
    _git(["init", "--quiet", "--bare", str(store)], address)
    repo = ["--git-dir", str(store), *_QUIET]
    wanted = ["fetch", "--quiet", "--filter=tree:0", "--no-tags", "--no-recurse-submodules", "--", address]
    _ask(remote, [*repo, *wanted, check_ref(since), check_ref(until)])
    return int(_git([*repo, "rev-list", "--count", f"{since}..{until}"], address))


def read_file_at(folder: Path, commit: str, file: str) -> bytes:
    """A file of a checkout as it was in a commit. Raises GitRefused."""
    return _git(["-C", str(folder), "show", f"{check_ref(commit)}:{file}"], str(folder))


def root_of_checkout(folder: Path) -> Path:
    """The root of the repository that a folder lies in. Raises GitRefused."""
    return Path(_git(["-C", str(folder), "rev-parse", "--show-toplevel"], str(folder)).decode().strip())


def export_commit(remote: Remote, ref: str, folder: Path) -> str:
    """Write the files of a ref into an empty folder; its commit in hexadecimal.

    No work tree is checked out, no hook, filter or submodule runs; links are left out.
    Raises GitRefused.
    """
    check_ref(ref)
    address = remote.address
    # Beside the folder: whatever the repository calls its files, none of them meets ours.
    with tempfile.TemporaryDirectory(prefix="repository-") as beside:
        store, archive = Path(beside, "store"), Path(beside, "archive.tar")
        _git(["init", "--quiet", "--bare", str(store)], address)
        repo = ["--git-dir", str(store), *_QUIET]
        wanted = ["fetch", "--quiet", "--depth", "1", "--no-tags", "--no-recurse-submodules", "--", address, ref]
        _ask(remote, [*repo, *wanted])
        commit = _git([*repo, "rev-parse", "--verify", "FETCH_HEAD^{commit}"], address).decode().strip()
        _git([*repo, "archive", "--format=tar", "-o", str(archive), commit], address)
        _unpack(archive, folder, address)
    return commit


def _unpack(archive: Path, folder: Path, address: str) -> None:
    total = count = 0
    try:
        with tarfile.open(archive) as tar:
            for member in tar:
                if not (member.isfile() or member.isdir()):
                    continue
                total, count = total + member.size, count + 1
                if total > _MAX_BYTES or count > _MAX_FILES:
                    raise GitRefused(address, "the commit holds more than 2 GiB or 200,000 files")
                tar.extract(member, folder, filter="data")
    except (tarfile.TarError, OSError, UnicodeError) as error:
        raise GitRefused(address, f"its files cannot be written: {error}") from error


def _ask(remote: Remote, arguments: list[str], timeout_s: float = _TIMEOUT_S) -> bytes:
    return _git([*remote.options, *arguments], remote.address, remote.environment, timeout_s)


def _bound() -> None:
    begin_bound(2 * _MAX_BYTES)


def _git(
    arguments: list[str], address: str, environment: dict[str, str] | None = None, timeout_s: float = _TIMEOUT_S
) -> bytes:
    passed = {name: os.environ[name] for name in _PASSED if name in os.environ}
    try:
        done = subprocess.run(
            ["git", *arguments], capture_output=True, timeout=timeout_s, check=True, preexec_fn=_bound,
            env={**passed, **_ENVIRONMENT, **(environment or {})}, stdin=subprocess.DEVNULL,
        )  # fmt: skip
    except subprocess.TimeoutExpired as error:
        raise GitRefused(address, f"git took longer than {timeout_s:g} s") from error
    except subprocess.CalledProcessError as error:
        reason = error.stderr.decode(errors="replace").strip().splitlines()
        raise GitRefused(address, reason[-1] if reason else "git failed") from error
    except FileNotFoundError as error:
        raise GitRefused(address, "git is not installed on this machine") from error
    return done.stdout
