"""Every mention of a release to its link or the reason why there is none."""

from __future__ import annotations

import re
from collections.abc import Hashable, Iterable, Iterator
from dataclasses import dataclass, field
from typing import Protocol
from urllib.parse import unquote

import msgspec
from rapidfuzz import process

from zarbek.core.linking.data_names import column_like, has_all_columns, table_at
from zarbek.core.linking.dependency_trace import RELEASES, Asked, DependencyTrace, made_key
from zarbek.core.linking.deprecated_areas import DeprecatedAreas
from zarbek.core.linking.index import MODULE_KINDS, ReleaseIndex, SymbolEntry, variants_of
from zarbek.core.linking.language_profile import profile_of
from zarbek.core.linking.link import OUTSIDE, Link
from zarbek.core.linking.published import ADDRESS, PublishedPlace, bare_address, file_at, is_page_address
from zarbek.core.linking.removed_names import History, RemovedNames
from zarbek.core.linking.resolver import Resolver
from zarbek.core.linking.scopes import OPEN_NAMESPACES
from zarbek.core.linking.targets import Missing, Target, Wanted, beginnings, clean_name
from zarbek.core.linking.tree_links import tree_link
from zarbek.core.model.doc_text import TEXT
from zarbek.core.model.example import EXAMPLE, EXERCISED
from zarbek.core.model.mention import MEANT, Mention, absolute_place
from zarbek.core.model.naming import first_part, key_of, parameter_types, topic_path
from zarbek.core.model.page import Page, label_key
from zarbek.core.model.supplement import SUPPLEMENT, pattern_of, place_of
from zarbek.core.model.symbol import LENT, Symbol
from zarbek.core.model.visibility import KEPT_LEVELS, shown_levels


class ResolutionContext(History, Protocol):
    """The releases of a portal, as one release sees them."""

    def find(self, project: str, version: str) -> ReleaseIndex | None:
        """A release by project and version, alias or range; empty version as in index_of."""

    def has_project(self, project: str) -> bool:
        """Whether the portal knows the project at all."""

    def newest_of(self, project: str) -> ReleaseIndex | None:
        """The release that ``latest`` names."""

    def owners_of(self, namespace: str, family: str = "") -> list[str]:
        """The slugs of all projects that own a namespace in a family of languages, sorted."""

    def moved_in(self, project: str, version: str, name: str) -> str:
        """The first release, up to a version, in which a symbol's own path had become another
        name of it; empty if the name never was a path."""

    def outside_address(self, name: str) -> str:
        """Where the portal sends readers for a qualified name outside of it, or empty."""

    def published_at(self, address: str) -> PublishedPlace | None:
        """What a bare address means, where a release's tree is published there; of several the newest."""


#: How like a label must be to be the one that was meant, of 100.
_LIKE = 70
#: A status of HTTP (RFC 9110, section 15) or a range of them.
_STATUS = re.compile(r"[1-5](\d\d|XX)")

#: The address of a file: a folder, or an ending that prose, pictures and code have.
_FILE = re.compile(
    r"/|\.(?:md|markdown|rst|txt|html?|adoc|ipynb|pdf|png|svg|jpe?g|gif|json|ya?ml|toml|xml|py|js|ts|java|rs|go|c|h|cpp)$"
)


def _of_code(link: Link) -> Link:
    """A link of what code names: a test's verdict says whether that is right, so nothing dangles here, and a test of
    what is deprecated is no fault."""
    if link.outcome != "linked":
        return OUTSIDE
    return msgspec.structs.replace(link, stale=[]) if link.stale else link


def _outside(name: str) -> Link:
    """Nobody's name; wanted is its first part, by which a project that brings it is recognised."""
    root = first_part(name)
    return Link("outside", wanted=root) if root else OUTSIDE


_NAME_WORD = re.compile(r"[A-Z]?[a-z]+|[A-Z]+(?![a-z])|\d+")
#: What a name says before it says of what it is.
_VERB = re.compile(r"^(?:get|set|is|has|try|with|as)(?=[_A-Z])_?")
_MEMBERS = frozenset({"method", "property"})


def _are_family(one: SymbolEntry, other: SymbolEntry) -> bool:
    """Overloads, what reads and writes one property, and members of which one is the other in a special way
    (``set_zero_linger``, ``set_linger``)."""
    if one.parent != other.parent or not one.parent:
        return False
    if len({_VERB.sub("", entry.name.strip("_")).lower() for entry in (one, other)}) == 1:
        return True
    words = [{w.lower() for w in _NAME_WORD.findall(entry.name)} for entry in (one, other)]
    return {one.kind, other.kind} <= _MEMBERS and len(words[1]) > 1 and words[1] <= words[0]


@dataclass(frozen=True, slots=True)
class LinkedText:
    """The links of one symbol or page, one a mention, in order.

    asked: names of other projects on which the links rest, as in ``dependency_trace``.
    """

    kind: str
    path: str
    mentions: list[Mention]
    links: list[Link]
    asked: frozenset[Asked]


@dataclass(frozen=True, slots=True)
class _Seen:
    """What names lead to as they are seen from one text, and from all that see the same. known: by name, origin and
    role, with what it rests on."""

    path: str
    known: dict[tuple[str, str, str], tuple[Link, frozenset[Asked]]] = field(default_factory=dict)


def _beside(symbol: Symbol) -> Hashable:
    """What the code of an example shares with all that see the same names: those of its file, in the same type."""
    is_deprecated = symbol.doc is not None and symbol.doc.deprecated is not None
    return (symbol.language, symbol.module, symbol.parent, symbol.file, symbol.visibility, is_deprecated)


class Linker:
    """Links one release. Not shared between threads."""

    def __init__(self, own: ReleaseIndex, context: ResolutionContext) -> None:
        self.own, self.context = own, context
        self._resolvers: dict[str, Resolver] = {}
        self.removed_names = RemovedNames(own, context)
        self.deprecated_areas = DeprecatedAreas(own)
        self.trace = DependencyTrace()
        self._shown = shown_levels(own.manifest.options)
        #: By the path of the text, and for code of examples by what it shares with others'.
        self._seen: dict[Hashable, _Seen] = {}

    def link_symbols(self, symbols: Iterable[Symbol]) -> Iterator[LinkedText]:
        """The links of each symbol that mentions something."""
        for symbol in symbols:
            if symbol.mentions:
                yield self.link_symbol(symbol)

    def link_symbol(self, symbol: Symbol) -> LinkedText:
        """Cost: a look into a table for a name that was seen in the same place before."""
        path = symbol.path
        said = self._seen_from(path, path)
        code = self._seen_from(_beside(symbol), path) if symbol.kind == EXAMPLE else None
        resolver = self.resolver_for(path)
        links: list[Link] = []
        rests: frozenset[Asked] = frozenset()
        for mention in symbol.mentions:
            seen = code if code is not None and mention.field == EXERCISED else said
            key = (mention.name, mention.origin, mention.role)
            known = seen.known.get(key)
            if known is None:
                mark = self.trace.mark()
                link = self._link(seen.path, mention, resolver)
                known = seen.known[key] = (_of_code(link) if seen is code else link, self.trace.since(mark))
            links.append(known[0])
            if known[1]:
                rests = rests | known[1]
        self.trace.clear()
        return LinkedText("symbol", path, symbol.mentions, links, rests)

    def _seen_from(self, key: Hashable, path: str) -> _Seen:
        """path: of a text from which the same is seen as from all of its key."""
        seen = self._seen.get(key)
        if seen is None:
            seen = self._seen[key] = _Seen(path)
        return seen

    def link_pages(self, pages: Iterable[Page]) -> Iterator[LinkedText]:
        """The links of each guide."""
        return map(self.link_page, pages)

    def link_page(self, page: Page) -> LinkedText:
        """The links of one guide, and what of other projects they rest on."""
        mark = self.trace.mark()
        links = [self._page_link(page, mention) for mention in page.mentions]
        asked = self.trace.since(mark)
        self.trace.clear()
        return LinkedText("page", page.path, page.mentions, links, asked)

    def resolver_for(self, path: str) -> Resolver:
        """The resolver for names in the text of a symbol; for a guide's names with an empty path."""
        entry = self.own.symbols.get(path)
        language = entry.language if entry is not None else ""
        if language not in self._resolvers:
            made = self._resolvers[language] = Resolver(self.own, self.context, profile_of(language))
            made.trace = self.trace
        return self._resolvers[language]

    def _link(self, path: str, mention: Mention, resolver: Resolver) -> Link:
        if mention.origin == "url":
            return self._url_link(mention)
        if mention.role == TEXT:
            return self._text_link(path, mention)
        if mention.name.startswith("api:"):
            if mention.origin == "block":
                return self._block_link(mention.name[4:])
            if mention.origin in ("schema", "code") and not mention.name.startswith("api://"):
                return self._own_part(mention.name[4:])
            return self._api_link(path, mention)
        if mention.origin == "data":
            return self._data_link(mention.name, path, resolver)
        if mention.role == "topic":  # Its identifier; else that of an element.
            topic = self.own.module_at(topic_path(mention.name))
            if topic is not None:
                return self._found(Target(self.own, topic, topic.path))
            mention = msgspec.structs.replace(mention, role="")
        found = resolver.resolve(mention.name, path, mention.role, is_related=mention.origin == "see")
        if isinstance(found, Missing) and (not found.project or found.open) and mention.origin in MEANT:
            found = self.removed_names.find(resolver, found, mention.name, path, mention.role) or found
        return self._judge(found, mention, path)

    def _own_part(self, name: str) -> Link:
        """What a description refers to within its own project, told by its path; an operation's answer
        with its status."""
        path, _, part = name.partition("#")
        entry = self.own.symbols.get(path)
        if entry is None and path in self.own.file_scopes:
            return OUTSIDE  # A file that is there and could not be read, which its own finding tells.
        if entry is None:
            return Link("dangling", project=self.own.project, reason="symbol", wanted=path)
        if _STATUS.fullmatch(part):
            if {part, f"{part[0]}XX", "default"} & set(entry.anchors):
                return Link("linked", "symbol", self.own.project, self.own.version, path, part)
            return Link("linked", "symbol", self.own.project, self.own.version, path, stale=["status"], wanted=name)
        stale = ["deprecated"] if entry.deprecated is not None else []
        return Link("linked", "symbol", self.own.project, self.own.version, path, stale=stale)

    def _block_link(self, path: str) -> Link:
        """A text of the same project that a description uses by its name."""
        if path in self.own.symbols:
            return Link("linked", "symbol", self.own.project, self.own.version, path)
        return Link("dangling", project=self.own.project, reason="block", wanted=path)

    def _text_link(self, path: str, mention: Mention) -> Link:
        """A block of the guides by its name, or an element whose text is used, perhaps a part of it."""
        name, _, part = mention.name.partition("#")
        block = self.own.labels.get(label_key(f"block:{mention.name}"))
        if block is not None:
            return Link("linked", "page", self.own.project, self.own.version, *block)
        if name.startswith("api://"):
            place = f"{name}#block-{part}" if part else name
            project, version, page = absolute_place(name)
            index = self.own if project == self.own.project and not version else self.context.find(project, version)
            link = self._api_link(path, Mention(mention.text, place if index and page in index.pages else name, "link"))
        else:
            link = self._link(path, Mention(mention.text, name, "link"), self.resolver_for(path))
        if link.outcome == "linked" and link.kind in ("symbol", "page"):
            return msgspec.structs.replace(link, stale=[], anchor=link.anchor or part)
        return Link("dangling", project=link.project or self.own.project, reason="block", wanted=mention.name)

    def _data_link(self, name: str, path: str, resolver: Resolver) -> Link:
        """A table or column that a query reads, or that a key refers to."""
        found = resolver.resolve(name, path)
        if isinstance(found, Missing):
            index = self.own if found.project == self.own.project else self.context.index_of(found.project)
            entry = column_like(index, found.name) if found.project and index is not None else None
            if entry is None or index is None:
                return self._lost_data(found, index)
            found = Target(index, entry, entry.path)
        return self._found(found, path, name)

    def _lost_data(self, found: Missing, index: ReleaseIndex | None) -> Link:
        """What is not there dangles where its table is known in full, or had it once; a table that nobody has told of
        may be there all the same."""
        if not found.project or index is None:
            return _outside(found.name)
        if has_all_columns(index, found.name):
            return Link("dangling", project=found.project, reason="column", wanted=found.name)
        if self.context.last_with(found.project, found.name) and table_at(index, found.name) is None:
            return Link("dangling", project=found.project, reason="symbol", wanted=found.name)
        return OUTSIDE

    def _judge(self, found: Target | Missing, mention: Mention, path: str) -> Link:
        if isinstance(found, Target):
            return self._found(found, path, mention.name)
        pattern = self._outside_address(found.name)
        if pattern:
            return Link("linked", "url", path=pattern)
        if not found.project and mention.origin in MEANT and (owners := self._owners_with(found.name, path)):
            return Link("ambiguous", project=owners[0], reason="ambiguous", wanted=found.name)
        if not found.project or found.open or self._may_be_made(found) or self._is_told_apart(found, mention, path):
            return _outside(found.name)
        if self._is_anyones(found, path):
            return OUTSIDE
        if mention.origin == "code":
            gone = self.context.last_with(found.project, found.name)
            if not gone or "." not in clean_name(mention.name):
                return OUTSIDE
        elif mention.origin not in MEANT and ("." not in found.name or self._is_compiled(found, path)):
            return OUTSIDE
        return Link("dangling", project=found.project, reason="symbol", wanted=found.name)

    def _is_told_apart(self, found: Missing, mention: Mention, path: str) -> bool:
        """Whether a name that is not where it was looked for is that of exactly one public symbol: readers
        know what is meant."""
        resolver = self.resolver_for(path)
        return found.project == self.own.project and resolver.only(mention.name, mention.role) is not None

    def _may_be_made(self, found: Missing) -> bool:
        """Whether a macro may have declared a name that no text declares."""
        index = self.own if found.project == self.own.project else self.context.index_of(found.project)
        if index is None:
            return False
        last = key_of(found.name).rpartition(".")[2]
        if index is not self.own:
            self.trace.ask(found.project, made_key(last))
        return last in index.macro_words or last in index.misplaced

    def _owners_with(self, name: str, path: str) -> list[str]:
        """The projects, two or more, that own the namespace of a name together and have the name."""
        resolver = self.resolver_for(path)
        key = key_of(name)
        for namespace in beginnings(key):
            owners = self.context.owners_of(namespace, resolver.profile.family)
            if len(owners) > 1:
                indexes = [i for o in owners if o != self.own.project and (i := self.context.index_of(o)) is not None]
                found = [i.project for i in indexes if isinstance(resolver.lookup(i, key, 0), Target)]
                return found if len(found) > 1 else []
        return []

    def _is_anyones(self, found: Missing, path: str) -> bool:
        """Whether a name that another project's namespace never had may come from a third: in some languages
        everybody may add to a namespace, though nobody to a type."""
        entry = self.own.symbols.get(path)
        if entry is None or entry.language not in OPEN_NAMESPACES or found.project == self.own.project:
            return False
        index = self.context.index_of(found.project)
        outer = index.named(key_of(found.name).rpartition(".")[0]) if index is not None else []
        return all(e.kind in MODULE_KINDS for e in outer) and not self.context.last_with(found.project, found.name)

    def _is_compiled(self, found: Missing, path: str) -> bool:
        """Whether a compiler has found the name of code where we have not: in its own project, or beside
        what another project adds to a namespace. What that project had once, it has lost."""
        entry = self.own.symbols.get(path)
        if entry is None or entry.language == "python":
            return False
        return found.project == self.own.project or not self.context.last_with(found.project, found.name)

    def _found(self, found: Target, path: str = "", name: str = "") -> Link:
        index, entry = found.index, found.entry
        if self._is_hidden(found, path):
            return Link("hidden", project=index.project, version=index.version, reason="hidden", wanted=entry.path)
        via = found.via if found.via not in (entry.path, key_of(entry.path)) else ""
        stale: list[str] = []
        if entry.deprecated is not None and self._is_deprecated(found, name) and not self._is_near(found, path):
            stale.append("deprecated")
        if (
            via
            and via in index.aliases
            and self._must_change(name, via, entry)
            and via not in index.offered_names
            and self.context.moved_in(index.project, index.version, via)
        ):
            stale.append("moved")
        kept = entry.visibility in KEPT_LEVELS and entry.visibility not in shown_levels(index.manifest.options)
        variants = entry.variants if kept else variants_of(entry)
        return Link(
            "linked", "symbol", index.project, index.version, entry.path, via=via, stale=stale, is_kept=kept,
            variants=variants,
        )  # fmt: skip

    def _must_change(self, name: str, via: str, entry: SymbolEntry) -> bool:
        """Whether a text that follows its target has another name to write."""
        return "." in clean_name(name).strip(".") or via.rpartition(".")[2] != key_of(entry.name)

    def _is_deprecated(self, found: Target, name: str) -> bool:
        """Whether what is named is deprecated as a whole: one overload of several is only itself."""
        if name and clean_name(name).rpartition(".")[2] not in (key_of(found.entry.name), ""):
            return False
        overloads = found.index.named(key_of(found.entry.path))
        return parameter_types(name) is not None or all(e.deprecated is not None for e in overloads)

    def _is_near(self, found: Target, path: str) -> bool:
        """A text that itself is deprecated, or stands in what is, may name its like; so may that of what does the
        same in another way."""
        at = self.own.symbols.get(path)
        if at is not None:
            is_family = found.index is self.own and _are_family(at, found.entry)
            if is_family or "deprecated" in at.file.split("/")[:-1]:
                return True
        while at is not None:
            if at.deprecated is not None or at.path == found.entry.path or self.deprecated_areas.holds(at):
                return True
            at = self.own.symbols.get(at.parent)
        return False

    def _is_hidden(self, found: Target, path: str) -> bool:
        """Whether the readers of the text do not see its target."""
        entry = found.entry
        if found.index is not self.own:
            return entry.visibility == "private" and not entry.summary
        if not profile_of(entry.language).hides or entry.visibility in self._shown:
            return False
        at = self.own.symbols.get(path)
        return (at is None or at.visibility in self._shown) and not self._is_lent(found)

    def _is_lent(self, found: Target) -> bool:
        """Whether a member of a hidden type was reached through one that readers see."""
        if LENT not in found.entry.flags:
            return False
        owners = self.own.named(found.via.rpartition(".")[0])
        return any(o.path != found.entry.parent and o.visibility in self._shown for o in owners)

    def _outside_address(self, name: str) -> str:
        outside = self.own.manifest.outside
        head = name
        while head and outside:
            if head in outside:
                return outside[head].replace("{name}", name)
            head = head.rpartition(".")[0]
        return self.context.outside_address(name)

    # api: references ----------------------------------------------------------------------

    def _api_link(self, path: str, mention: Mention) -> Link:
        address = mention.name
        if not address.startswith("api://"):
            name = unquote(address[4:].partition("?")[0])
            found = self.resolver_for(path).resolve(name, path, mention.role)
            if isinstance(found, Missing) and not found.project:
                found = Missing(self.own.project, name)
            return self._judge(found, mention, path)
        place, _, anchor = address.partition("#")
        project, version, name = absolute_place(place)
        if project != self.own.project:
            self.trace.ask(project, RELEASES if version else key_of(name))
            self.trace.ask(project, name)
        if not self.context.has_project(project) and project != self.own.project:
            return Link("dangling", project=project, reason="project", wanted=name)
        index = self.own if project == self.own.project and not version else self.context.find(project, version)
        if index is None:
            return Link("dangling", project=project, version=version, reason="version", wanted=name)
        link = self._in_release(index, name, anchor, pinned=bool(version))
        if link.outcome == "dangling" and index is self.own and "partial" in self.own.manifest.options:
            whole = self.context.newest_of(project)
            return self._in_release(whole, name, anchor, pinned=False) if whole is not None else link
        return link

    def _in_release(self, index: ReleaseIndex, name: str, anchor: str, *, pinned: bool) -> Link:
        if not name:
            return Link("linked", "project", index.project, index.version)
        page = index.pages.get(name)
        if page is not None:
            return self._page_target(index, page.path, anchor)
        found = self._absolute(index, name)
        if not isinstance(found, Target) and name in index.former_pages:
            link = self._page_target(index, index.former_pages[name], anchor)
            return msgspec.structs.replace(link, stale=["moved"], via=name) if link.outcome == "linked" else link
        if not isinstance(found, Target):
            return Link("dangling", project=index.project, version=index.version, reason="symbol", wanted=name)
        link = self._with_anchor(self._found(found), found, anchor)
        if pinned and link.outcome == "linked":
            return self._pinned(link, found)
        return link

    def _with_anchor(self, link: Link, found: Target, anchor: str) -> Link:
        """A part of an operation or schema; a status that is no longer answered is told as such."""
        entry, part = found.entry, unquote(anchor)
        if not part or link.outcome != "linked" or not entry.anchors:
            return link
        if part in entry.anchors:
            return msgspec.structs.replace(link, anchor=part)
        if _STATUS.fullmatch(part) and entry.kind == "operation":
            return msgspec.structs.replace(link, stale=[*link.stale, "status"], wanted=f"{entry.path}#{part}")
        return Link("dangling", project=link.project, version=link.version, path=entry.path, reason="anchor",
                    wanted=f"{entry.path}#{part}")  # fmt: skip

    def _absolute(self, index: ReleaseIndex, name: str) -> Target | bool:
        entry = index.symbols.get(name)
        if entry is not None:
            return Target(index, entry, name)
        resolver = self.resolver_for("")
        found = resolver.lookup(index, key_of(name), 0)
        params = parameter_types(name)
        if params is None or not isinstance(found, Target):
            return found
        return resolver.choose(found, Wanted(key_of(name), "call", params)) or False

    def _pinned(self, link: Link, found: Target) -> Link:
        """A link to a named version is stale when a newer release is out."""
        newest = self.context.newest_of(link.project)
        if newest is None or newest.version == link.version:
            return link
        gone = not isinstance(self._absolute(newest, found.entry.path), Target)
        reason = "removed-later" if gone else "older-release"
        return msgspec.structs.replace(link, stale=[*link.stale, reason])

    def _url_link(self, mention: Mention) -> Link:
        """An address of the web; one where a tree of the portal is published leads there."""
        address = bare_address(mention.name)
        if address:
            self.trace.ask_nobody(address, ADDRESS)
            place = self.context.published_at(address)
            link = self._published(place, mention) if place is not None else None
            if link is not None:
                return link
        return Link("linked", "url", path=mention.name)

    def _published(self, place: PublishedPlace, mention: Mention) -> Link | None:
        project, version, _ = place.tree
        if project != self.own.project:
            self.trace.ask(project, RELEASES)
        is_own = (project, version) == (self.own.project, self.own.version)
        index = self.own if is_own else self.context.find(project, version)
        file = file_at(index, place.path) if index is not None else ""
        if index is None or (not file and not is_page_address(place.path)):
            return None
        _, _, fragment = mention.name.partition("#")
        name = f"{file or place.path}#{fragment}" if fragment else file or place.path
        link = tree_link(index, msgspec.structs.replace(mention, name=name, origin="page"))
        newest = self.context.newest_of(project)
        if link.outcome != "linked" or newest is None or newest.version == index.version:
            return link
        reason = "older-release" if file in newest.pages_by_file or file in newest.assets else "removed-later"
        return msgspec.structs.replace(link, stale=[reason])

    # Pages --------------------------------------------------------------------------------

    def _page_link(self, page: Page, mention: Mention) -> Link:
        if page.form == "html" and mention.origin in ("page", "asset"):
            return tree_link(self.own, mention)
        if mention.origin == "asset":
            if mention.name in self.own.assets:
                return Link("linked", "asset", self.own.project, self.own.version, mention.name)
            return Link("dangling", project=self.own.project, reason="asset", wanted=mention.name)
        if mention.origin == "page":
            return self._relative_page(page, mention)
        if mention.origin == "label":
            return self._label_link(mention)
        if mention.field == SUPPLEMENT:
            return self._supplement_link(mention)
        link = self._link("", mention, self.resolver_for(""))
        return _of_code(link) if mention.field == EXERCISED else link

    def _supplement_link(self, mention: Mention) -> Link:
        """The element that a supplement is for; of a pattern the project of those that match it."""
        pattern = pattern_of(mention.name)
        link = self._link("", mention, self.resolver_for("")) if pattern is None else self._matching(mention.name)
        if link.outcome == "dangling" and link.reason in ("symbol", "anchor"):
            return msgspec.structs.replace(link, reason="supplement")
        if link.outcome == "outside":  # It names nothing that is here.
            return Link("dangling", project=self.own.project, reason="supplement", wanted=mention.text)
        return msgspec.structs.replace(link, stale=[reason for reason in link.stale if reason == "moved"])

    def _matching(self, address: str) -> Link:
        """The project whose elements a pattern names, if it has any such."""
        project, version, path = place_of(address, self.own.project)
        if project != self.own.project:
            self.trace.ask(project, RELEASES)
        whole = self._link("", Mention(address, f"api://{project}{'@' * bool(version)}{version}/", "link"),
                           self.resolver_for(""))  # fmt: skip
        index = self.own if project == self.own.project and not version else self.context.find(project, version)
        pattern = pattern_of(path)
        if whole.outcome != "linked" or index is None or pattern is None:
            return whole
        if any(pattern.fullmatch(known) for known in index.symbols):
            return whole
        return Link("dangling", project=project, version=index.version, reason="supplement", wanted=path)

    def _label_link(self, mention: Mention) -> Link:
        """A place of the guides by its label. One that another program may know is nobody's business; of terms that is
        so where no guide explains any."""
        key = label_key(mention.name)
        place = self.own.labels.get(key)
        if place is not None:
            return Link("linked", "page", self.own.project, self.own.version, *place)
        is_term = key.startswith("term:")
        if mention.role != "label" and not (is_term and any(known.startswith("term:") for known in self.own.labels)):
            return OUTSIDE
        near = process.extractOne(key, list(self.own.labels), score_cutoff=_LIKE)
        return Link(
            "dangling", project=self.own.project, reason="label", wanted=mention.name, via=near[0] if near else ""
        )

    def _relative_page(self, page: Page, mention: Mention) -> Link:
        file, _, anchor = mention.name.partition("#")
        target = self.own.pages_by_file.get(file) if file else self.own.pages.get(page.path)
        if target is None:
            places = (f"{file}{end}" for end in (".md", ".rst", "/index.md", "/index.rst"))
            target = next((found for place in places if (found := self.own.pages_by_file.get(place))), None)
        if target is None:
            label = file.removeprefix(page.file.rpartition("/")[0]).strip("/")
            if not _FILE.search(label):
                return self._labelled(mention, label)
            return Link("dangling", project=self.own.project, reason="page", wanted=file)
        return self._page_target(self.own, target.path, anchor)

    def _labelled(self, mention: Mention, label: str) -> Link:
        """What is no path of a file may be a name, or a label that only the site's own program knows."""
        found = self._link(
            "", msgspec.structs.replace(mention, name=label, origin="code", role=""), self.resolver_for("")
        )
        return found if found.outcome == "linked" else OUTSIDE

    def _page_target(self, index: ReleaseIndex, path: str, anchor: str) -> Link:
        """Places are told apart by case where a page has both; else a reader comes to the one that is there."""
        if anchor:
            known = index.places_of(path)
            spelt = (anchor, unquote(anchor))
            here = next((a for a in spelt if a in known), "")
            if not here:
                folded = [a.lower() for a in spelt]
                here = next((a for a in index.pages[path].anchors if a.lower() in folded), "")
            if not here:
                return Link("dangling", project=index.project, version=index.version, path=path,
                            reason="anchor", wanted=f"{path}#{anchor}")  # fmt: skip
            anchor = here
        variants = index.pages[path].variants
        return Link("linked", "page", index.project, index.version, path, anchor, variants=variants)
