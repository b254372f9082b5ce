"""The names that a symbol has besides its path: where it is defined, where it is handed on."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

from zarbek.core.model.bundle import Alias
from zarbek.core.model.naming import enclosing_of, key_of

#: A symbol that is handed on in more places is found by these.
_MAX_NAMES = 24


class OtherNames:
    """The other names of a release's symbols, members' included: a member has each of its owner's names."""

    def __init__(self, aliases: Iterable[Alias]) -> None:
        self._names: defaultdict[str, list[str]] = defaultdict(list)
        for alias in aliases:
            self._names[key_of(alias.path)].append(alias.name)

    def of(self, path: str) -> list[str]:
        """The other names of the symbol at a path, without parameters, its own before those of its owners;
        at most 24."""
        names: dict[str, None] = {}
        head = key = key_of(path)
        while head and len(names) < _MAX_NAMES:
            names.update(dict.fromkeys(name + key[len(head) :] for name in self._names.get(head, ())))
            head = enclosing_of(head)
        return list(names)[:_MAX_NAMES]
