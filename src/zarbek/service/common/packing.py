"""Compact documents for columns that are only ever read whole: MessagePack, compressed where they stay for long."""

from __future__ import annotations

import zlib
from hashlib import blake2b
from typing import Any, TypeVar

import msgspec
from django.conf import settings

T = TypeVar("T")


def pack(value: Any) -> bytes:
    """A value as compressed MessagePack."""
    return zlib.compress(msgspec.msgpack.encode(value), settings.PACK_LEVEL)


def unpack(data: bytes | memoryview, kind: type[T]) -> T:
    """What pack made, as a kind. Raises msgspec.ValidationError."""
    return msgspec.msgpack.decode(zlib.decompress(data), type=kind)


def digest_of(data: bytes) -> str:
    """32 hexadecimal digits of BLAKE2b (RFC 7693): the address of content."""
    return blake2b(data, digest_size=16).hexdigest()
