"""What callers of each language notice: one table instead of one judge a language."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

from zarbek.core.linking.language_profile import family_of


@dataclass(frozen=True, slots=True, kw_only=True)
class CompatibilityRules:
    """names: whether arguments may be given by name. defaults: whether a parameter may be left
    out. unions: what may stand between the alternatives of a type, for what widens and narrows.
    nothing: alternatives that mean the absence of a value. inlines: whether a constant's value is
    compiled into callers. matches_all: whether callers must name every member of an enumeration.
    implements: whether a new member without a body breaks those who implement its type.
    checks_errors: whether the compiler asks callers to handle declared errors. constructs: whether the
    signature of a type is how it is made. aliases: whether types have a second, older spelling.
    structural: whether a type takes what has the same members, so that another name tells nothing.
    aliased: names that stand for other types, of the language's library or of the project.
    """

    names: bool = False
    defaults: bool = True
    union: str = ""
    nothing: frozenset[str] = frozenset()
    inlines: bool = False
    matches_all: bool = False
    implements: bool = True
    checks_errors: bool = False
    constructs: bool = False
    aliases: bool = False
    structural: bool = False
    aliased: frozenset[str] = frozenset()


#: Sources: Python Language Reference 6.3.4; Java Language Specification 13 (binary compatibility);
#: C# specification 12.6.2; Kotlin specification, "Function declaration"; the Rust Reference and
#: The Cargo Book, "SemVer Compatibility"; Go 1 compatibility promise; TypeScript Handbook; GraphQL
#: Specification, section 3.
_BY_LANGUAGE = {
    "python": CompatibilityRules(
        names=True,
        union="|",
        nothing=frozenset({"None"}),
        implements=False,
        constructs=True,
        aliases=True,
        structural=True,
    ),
    "java": CompatibilityRules(defaults=False, inlines=True, checks_errors=True),
    "kotlin": CompatibilityRules(names=True, union="?", nothing=frozenset({"null"}), inlines=True),
    "csharp": CompatibilityRules(names=True, union="?", nothing=frozenset({"null"}), inlines=True),
    "cpp": CompatibilityRules(inlines=True),
    "c": CompatibilityRules(defaults=False, inlines=True),
    "go": CompatibilityRules(defaults=False, inlines=True),
    "rust": CompatibilityRules(defaults=False, matches_all=True, aliased=frozenset({"Result"})),
    "typescript": CompatibilityRules(union="|", nothing=frozenset({"undefined", "null", "void"}), structural=True),
    "graphql": CompatibilityRules(union="!", nothing=frozenset({"null"}), implements=False),
    "protobuf": CompatibilityRules(defaults=False, implements=False),
    "javascript": CompatibilityRules(union="|", nothing=frozenset({"undefined", "null", "void"}), structural=True),
}


@lru_cache(maxsize=64)
def callers_of(language: str, aliases: frozenset[str] = frozenset()) -> CompatibilityRules:
    """aliases: names of types of the project that stand for others."""
    known = _BY_LANGUAGE.get(language, CompatibilityRules())
    return replace(known, aliased=known.aliased | aliases) if aliases else known


def is_overloading(language: str) -> bool:
    """Whether one name may have several signatures, each a symbol of its own."""
    return family_of(language) in ("jvm", "dotnet", "c")
