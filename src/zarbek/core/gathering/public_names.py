"""Under which of its names each symbol is known.

A symbol is known by the name under which its project offers it, not by the file that happens to hold
it. Of several names the one counts that has no private part, then one that is offered on purpose, then
that of the nearest enclosing package of the definition, then the shortest, then by code point.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, field

import msgspec

from zarbek.core.last_answer import LastAnswer
from zarbek.core.linking.index import MODULE_KINDS
from zarbek.core.model.bundle import Alias
from zarbek.core.model.naming import enclosing_of, is_inner_part, key_of, lies_in, lies_inside
from zarbek.core.model.symbol import Symbol
from zarbek.core.model.visibility import LEVELS
from zarbek.core.sources.languages.python.reader import is_private_name
from zarbek.core.sources.languages.reexports import ModuleExports

_ENCODE = msgspec.json.Encoder().encode
_SYMBOL = msgspec.json.Decoder(Symbol)


class Place(msgspec.Struct, omit_defaults=True):
    """Of a symbol, what decides on its name: its first fields, in their order."""

    path: str
    name: str
    kind: str
    language: str
    module: str
    parent: str = ""
    visibility: str = "public"


#: Languages in which a module hands on what another one defines.
_HANDING_ON = frozenset({"python", "rust", "cpp", "typescript", "javascript"})
_ECMASCRIPT = frozenset({"typescript", "javascript"})
#: Languages in which a module that is hidden hides what it holds.
_BY_MODULE = _ECMASCRIPT | {"rust"}
#: What unreachable symbols are at least.
_LEAST = {"python": "private", "rust": "internal", "typescript": "internal", "javascript": "internal"}
_PLACE = msgspec.json.Decoder(Place)


@dataclass(slots=True)
class Renamed:
    """symbols: encoded, sorted by path. paths: of symbols that are known by another name than that
    of their place, with it. hidden: paths of those that nobody can reach."""

    symbols: list[bytes]
    aliases: list[Alias]
    paths: dict[str, str] = field(default_factory=dict)
    hidden: set[str] = field(default_factory=set)


@dataclass(frozen=True, slots=True)
class _Choices:
    """moved: path of a definition to the name by which it is known, where they differ. levels: visibilities, in order
    of the places that are not known by what they say themselves. order: of the places, by the names chosen."""

    moved: dict[str, str]
    levels: dict[str, str]
    order: list[int]
    aliases: list[Alias]


@dataclass(slots=True)
class KnownChoices:
    """What was chosen last, and what lines of symbols say and became by that."""

    last: LastAnswer[_Choices] = field(default_factory=LastAnswer)
    places: dict[bytes, Place] = field(default_factory=dict)
    choices: _Choices | None = None
    renamed: dict[bytes, bytes] = field(default_factory=dict)


def with_public_names(
    symbols: list[bytes], aliases: list[Alias], modules: list[ModuleExports], known: KnownChoices
) -> Renamed:  # fmt: skip
    """The symbols of a project under the names by which they are known; the places of their
    definitions become other names of them.

    known: of the time before, which is brought up to date. Cost: linear in the number of symbols.
    """
    places = [known.places.get(line) or _PLACE.decode(line) for line in symbols]
    known.places = dict(zip(symbols, places, strict=True))
    choices = known.last.to((places, aliases, modules), lambda: _choose(places, aliases, modules))
    before = known.renamed if choices is known.choices else {}
    known.choices, known.renamed = choices, {}
    moved, levels = choices.moved, choices.levels
    for line, place in known.places.items():
        if place.path in moved or place.parent in moved or place.path in levels:
            level = levels.get(place.path, place.visibility)
            known.renamed[line] = before.get(line) or _renamed(line, place, moved, level)
    lines = [known.renamed.get(symbols[at], symbols[at]) for at in choices.order]
    return Renamed(lines, choices.aliases, moved, set(levels))


def _choose(places: list[Place], aliases: list[Alias], modules: list[ModuleExports]) -> _Choices:
    names = _Names(places, aliases, {m.module: m for m in modules})
    moved = names.choose(places)
    paths = [moved.get(place.path, place.path) for place in places]
    levels = {
        place.path: level for place, path in zip(places, paths, strict=True)
        if (level := names.level_of(place, path)) != place.visibility
    }  # fmt: skip
    return _Choices(moved, levels, sorted(range(len(paths)), key=paths.__getitem__), names.other_names(moved))


class _Names:
    def __init__(self, places: list[Place], aliases: list[Alias], modules: Mapping[str, ModuleExports]) -> None:
        self.modules = modules
        self.aliases = aliases
        self.by_key: dict[str, list[Alias]] = defaultdict(list)
        for alias in aliases:
            self.by_key[key_of(alias.path)].append(alias)
        self.module_levels = {key_of(p.path): p for p in places if p.kind in MODULE_KINDS}
        self.languages = {p.path: p.language for p in places}
        self.taken = set(self.languages)
        self.chosen: dict[str, str] = {}
        self._inner: dict[str, bool] = {}
        self._private: dict[str, bool] = {}

    def choose(self, places: list[Place]) -> dict[str, str]:
        """Path to canonical path, for all that are known by another name; enclosing ones first."""
        moved: dict[str, str] = {}
        for place in sorted(places, key=lambda p: len(p.path)):
            path, parent = place.path, place.parent
            outer = moved.get(parent)
            inherited = outer + path[len(parent) :] if outer and lies_in(path, parent) else path
            aliases = self.by_key.get(key_of(path)) if place.language in _HANDING_ON else None
            name = self._best(place, inherited, aliases) if aliases else inherited
            if name != path and name not in self.taken:
                self.taken.add(name)
                moved[path] = name
                if name != inherited:
                    self.chosen[path] = name
        return moved

    def _best(self, place: Place, inherited: str, aliases: list[Alias]) -> str:
        if place.kind in MODULE_KINDS and not self._is_inner(key_of(inherited), place.language):
            return inherited  # A module is where it is.
        params = place.path[len(place.path.partition("(")[0]) :]
        public = (a.name for a in aliases if a.public and key_of(enclosing_of(a.name)) in self.modules)
        names = [self._apart(name + params, place) for name in public]
        home = key_of(place.module)
        rest = [n for n in names if n not in self.taken and not n.endswith(".default")]
        # What a module exports under another name has its own inside of the module only.
        is_local = place.language in _ECMASCRIPT and any(enclosing_of(n) == place.module for n in rest)
        return min(
            rest if is_local else [inherited, *rest], key=lambda name: self._rank(name, inherited, home, place.language)
        )

    def _apart(self, name: str, place: Place) -> str:
        """A name of a function that a module has, too, which nobody else sees (The Rust Reference, "Namespaces")."""
        other = self.module_levels.get(key_of(name)) if place.language == "rust" and place.kind == "function" else None
        return f"{name}()" if other is not None and other.visibility != "public" else name

    def _rank(self, name: str, inherited: str, home: str, language: str) -> tuple[object, ...]:
        key = key_of(name)
        head, _, last = key.rpartition(".")
        module = self.modules.get(head)
        encloses = home == head or home.startswith((head + ".", head + "/"))
        if language == "python" and module is not None and not module.is_package:
            encloses = False  # The file that happens to hold it.
        return (
            self._is_inner(key, language),
            language == "python" and head.partition(".")[0] != home.partition(".")[0],
            self._offer(module, last, language),
            not encloses, -head.count(".") - head.count("/") if encloses else 0,
            name != inherited, last != key_of(inherited).rpartition(".")[2], len(name), name,
        )  # fmt: skip

    def _offer(self, module: ModuleExports | None, last: str, language: str) -> int:
        """0 for a name that a module offers on purpose, 1 for one that it has, 2 for one that it leaves out
        of those that it lists."""
        if module is None or (not module.by_custom and language not in _ECMASCRIPT):
            return 0
        if last in module.handed:
            return 0
        if module.exported is not None and module.by_custom:
            return 0 if last in module.exported else 2
        return 0 if module.is_package else 1

    def _is_offered(self, alias: Alias) -> bool:
        head, _, last = key_of(alias.name).rpartition(".")
        module = self.modules.get(head)
        return alias.public and module is not None and not self._offer(module, last, self.languages.get(alias.path, ""))

    def _is_inner(self, key: str, language: str) -> bool:
        """Whether a name has a part that is nobody's business outside."""
        head, _, last = key.rpartition(".")
        if language == "python":
            return is_private_name(last) or (bool(head) and self._is_private(head))
        if head not in self._inner:
            self._inner[head] = self._is_inner_module(head, language)
        return self._inner[head]

    def _is_private(self, key: str) -> bool:
        """Whether a part of a name of Python is."""
        if key not in self._private:
            self._private[key] = any(map(is_private_name, key.split(".")))
        return self._private[key]

    def _is_inner_module(self, head: str, language: str) -> bool:
        while head:
            known = self.module_levels.get(head)
            is_hidden = known is not None and known.visibility not in ("public", "special")
            if is_hidden and language in _BY_MODULE:
                return True
            head, _, last = head.rpartition(".")
            if language == "cpp" and is_inner_part(last):
                return True
        return False

    def level_of(self, place: Place, path: str) -> str:
        """The visibility of a symbol that is known by a path, by what of it others can reach."""
        if place.kind in MODULE_KINDS:
            is_lost = place.language == "rust" and self._is_inner(key_of(path), "rust")
            return max(place.visibility, "internal", key=LEVELS.index) if is_lost else place.visibility
        if place.language not in _LEAST:
            return place.visibility
        if not self._is_inner(key_of(path), place.language):
            is_offered = path != place.path and place.language == "python" and place.visibility == "private"
            return "public" if is_offered else place.visibility
        return max(place.visibility, _LEAST[place.language], key=LEVELS.index)

    def other_names(self, moved: Mapping[str, str]) -> list[Alias]:
        """The aliases of the symbols as they are known now, sorted by name."""
        found: dict[str, Alias] = {}
        for alias in self.aliases:
            head = enclosing_of(alias.name)
            name = moved[head] + alias.name[len(head) :] if head in moved else alias.name
            path = moved.get(alias.path, alias.path)
            found[name] = Alias(name, path, alias.public, is_offered=self._is_offered(alias))
        found.update({path: Alias(path, name, public=False, is_origin=True) for path, name in self.chosen.items()})
        return sorted((a for a in found.values() if a.name != a.path), key=lambda a: a.name)


def _renamed(line: bytes, place: Place, moved: Mapping[str, str], visibility: str) -> bytes:
    path = moved.get(place.path, place.path)
    name, parent = place.name, moved.get(place.parent, place.parent)
    if path != place.path and not lies_inside(path, parent):
        head = enclosing_of(path)
        parent = moved.get(head, head)
        name = path[len(head) :].lstrip(".:").partition("(")[0]
    new = msgspec.structs.replace(place, path=path, parent=parent, name=name, visibility=visibility)
    before = _ENCODE(place)[:-1]
    if line.startswith(before):  # Most of a symbol is its text, which stays.
        return _ENCODE(new)[:-1] + line[len(before) :]
    return _ENCODE(msgspec.structs.replace(_SYMBOL.decode(line), **msgspec.structs.asdict(new)))
