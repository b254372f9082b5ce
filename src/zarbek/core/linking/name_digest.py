"""All names of a release in a few bytes each: enough to tell quickly that one is not there."""

from __future__ import annotations

import sys
from array import array
from bisect import bisect_left
from collections.abc import Iterable, Iterator
from zlib import crc32

import msgspec

from zarbek.core.model.naming import key_of


class NameDigest(msgspec.Struct, frozen=True):
    """names: the CRC-32 (RFC 1952, section 8) of every key and path, in order. aliases: of those that stand for
    others. leads_to: to each of these, that of the key where it leads. Each in four bytes, the lowest first."""

    names: bytes
    aliases: bytes
    leads_to: bytes


class NameFilter:
    """Whether a release may have a name: a no is certain, a yes is wrong once in some ten thousand."""

    def __init__(self, digest: NameDigest) -> None:
        self._names, self._aliases, self._leads_to = map(_numbers, (digest.names, digest.aliases, digest.leads_to))

    @property
    def size(self) -> int:
        """In bytes."""
        return 4 * (len(self._names) + len(self._aliases) + len(self._leads_to)) + 200

    def may_have(self, name: str) -> bool:
        """Whether a qualified name, in any spelling, may be that of a symbol or page, or another name of one; as
        ``ReleaseIndex.has_name``."""
        key = key_of(name)
        if self.may_be_path(name) or (key != name and self.may_be_path(key)):
            return True
        head, _, last = key.rpartition(".")
        return any(_has(self._names, crc32(f".{last}".encode(), target)) for target in self._targets(head))

    def may_be_path(self, name: str) -> bool:
        """Whether a name may be the very path, key or other name of something."""
        return _has(self._names, _number(name))

    def _targets(self, name: str) -> Iterator[int]:
        number = _number(name)
        at = bisect_left(self._aliases, number)
        while at < len(self._aliases) and self._aliases[at] == number:
            yield self._leads_to[at]
            at += 1


def digest_names(paths: Iterable[str], aliases: Iterable[tuple[str, str]], pages: Iterable[str]) -> NameDigest:
    """The names of a release. paths: of its symbols. aliases: another name, and the path that it stands for."""
    pairs = sorted({(_number(key_of(name)), _number(key_of(path))) for name, path in aliases})
    names = {number for number, _ in pairs}
    for path in paths:
        names.update((_number(path), _number(key_of(path))))
    names.update(map(_number, pages))
    return NameDigest(_bytes(sorted(names)), _bytes(n for n, _ in pairs), _bytes(n for _, n in pairs))


def _number(name: str) -> int:
    return crc32(name.encode(errors="surrogatepass"))


def _has(numbers: array[int], number: int) -> bool:
    at = bisect_left(numbers, number)
    return at < len(numbers) and numbers[at] == number


def _bytes(numbers: Iterable[int]) -> bytes:
    found = array("I", numbers)
    if sys.byteorder == "big":
        found.byteswap()
    return found.tobytes()


def _numbers(data: bytes) -> array[int]:
    found = array("I")
    found.frombytes(data)
    if sys.byteorder == "big":
        found.byteswap()
    return found
