"""Links to findings: the dangling and stale rules."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterable
from functools import partial
from typing import NamedTuple, Protocol

import msgspec
from rapidfuzz import process

from zarbek.core.changes.change import Detail
from zarbek.core.findings.change_mentions import block_in_page, block_in_symbol, quoted_in_page
from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.findings.mention_context import around_in_page, around_in_symbol, is_history
from zarbek.core.findings.rules import SEVERITIES
from zarbek.core.linking.index import SymbolEntry, variants_of
from zarbek.core.linking.link import Link
from zarbek.core.linking.suggestions import Suggestion
from zarbek.core.model.bundle import Dependency
from zarbek.core.model.doc_text import TEXT
from zarbek.core.model.example import QUOTED, Example, is_quoted
from zarbek.core.model.finding import Finding
from zarbek.core.model.mention import MEANT, Mention
from zarbek.core.model.mention_places import file_of
from zarbek.core.model.naming import enclosing_of, key_of
from zarbek.core.model.page import Page
from zarbek.core.model.supplement import SUPPLEMENT, Supplement
from zarbek.core.model.symbol import GENERATED, Symbol

#: Origins of mentions in prose, which says something of what it names.
_PROSE = frozenset({"link", "see", "code"})
_MENDED = _PROSE | {"raises"}
#: Rules whose findings a patch can mend.
PATCHED_RULES = frozenset(
    {"dangling/symbol", "dangling/supplement", "stale/moved", "stale/deprecated", "stale/removed-later"}
)


class ChangedSince(NamedTuple):
    """What became of a target after the text that names it was written.

    written: the version for which it was written; version: the one that changed the target.
    """

    written: str
    version: str
    details: list[Detail]
    was: str
    now: str


class RuleContext(Protocol):
    """What the rules ask the portal. A version is the one up to which history counts."""

    def suggest(self, project: str, version: str, name: str) -> Suggestion | None:
        """What a name that is not there most likely means."""

    def entry(self, link: Link) -> SymbolEntry | None:
        """The target of a link."""

    def gone_since(self, project: str, name: str, version: str) -> str:
        """The release that removed a name, or empty."""

    def deprecated_in(self, project: str, path: str, version: str) -> str:
        """The release that deprecated a symbol, or empty."""

    def moved_in(self, project: str, version: str, name: str) -> str:
        """The release in which a name became another name of its symbol, or empty."""

    def newest(self, project: str) -> str:
        """The version that ``latest`` names, or empty."""

    def owners_of(self, name: str) -> list[str]:
        """The projects that own the namespace of a name."""

    def example(self, link: Link) -> Example | None:
        """The example that a link leads to; None where it leads to something else."""

    def lacking(self, variants: Collection[str], link: Link) -> list[str]:
        """The editions that have a text of some flags, and not the target of its link."""

    def says(self, link: Link) -> bool:
        """Whether the element that a link leads to has the text that is used of it."""

    def retold(self, subject: str, link: Link, written: str) -> ChangedSince | None:
        """How the text of a link's target changed since a supplement for it was written, or since a release, where
        that is told."""

    def retyped(self, subject: str, link: Link) -> ChangedSince | None:
        """How the type of a column changed since the query that reads it was written."""

    def changed(self, subject: str, link: Link, block: Callable[[], str]) -> ChangedSince | None:
        """What changed about a link's target since the text of a symbol or page was written, as far as
        the block in which the mention stands speaks of it; block is called only where anything has."""


class Judged(NamedTuple):
    """links: as they were, with what was learnt here: ``changed-since``, and whether each is a fault."""

    links: list[Link]
    findings: list[Finding]


def judge_symbol(symbol: Symbol, links: Iterable[Link], rule_context: RuleContext) -> Judged:
    """links: those of the symbol's mentions, in order. Of what is private, or written by a tool, nothing is said."""
    if symbol.visibility == "private" or GENERATED in symbol.flags:
        return Judged(list(links), [])
    text = Text(
        "symbol", symbol.path, partial(file_of, symbol), partial(around_in_symbol, symbol),
        partial(block_in_symbol, symbol), partial(is_history, symbol), variants=variants_of(symbol),
    )  # fmt: skip
    return _judge(text, symbol.mentions, links, rule_context)


def judge_page(page: Page, links: Iterable[Link], rule_context: RuleContext) -> Judged:
    """What is wrong with the references of a guide."""
    text = Text(
        "page", page.path, partial(file_of, page), partial(around_in_page, page), partial(block_in_page, page),
        quoted_in=partial(quoted_in_page, page), supplement=page.supplement, variants=page.variants,
    )  # fmt: skip
    return _judge(text, page.mentions, links, rule_context)


class Text(NamedTuple):
    """Where mentions stand. kind: ``symbol`` or ``page``. file_of: the file of a mention. around_of: the words before
    it, the shown one, those after. block_of: its paragraph with the examples of its text. is_history: whether it
    stands only in notes of what changed in earlier releases. quoted_in: the code of the block that quotes what it
    names. supplement: what the text says of elements. variants: flags by which editions have it."""

    kind: str
    path: str
    file_of: Callable[[Mention], str]
    around_of: Callable[[Mention], tuple[str, str, str]]
    block_of: Callable[[Mention], str]
    is_history: Callable[[Mention], bool] = lambda _: False
    quoted_in: Callable[[Mention], str] = lambda _: ""
    supplement: Supplement | None = None
    variants: list[str] = []


def _judge(text: Text, mentions: list[Mention], links: Iterable[Link], rule_context: RuleContext) -> Judged:
    judged, found = [], []
    for mention, link in zip(mentions, links, strict=True):
        link = _with_changes(text, mention, _as_used(mention, link, rule_context), rule_context)
        rules = broken_rules(link)
        around = text.around_of(mention) if rules else ("", "", "")
        told = [r for r in rules if not _is_known(r, mention, around)]
        if mention.origin in MEANT and (editions := _lacking(text, link, rule_context)):
            around = text.around_of(mention)
            found.append(_finding("dangling/hidden", text, mention, _hidden_in(link, editions), around, rule_context))
        if "stale/deprecated" in told and (
            _is_family(text, link, mentions, rule_context) or _is_inventory(text, link, mention, around)
        ):
            told.remove("stale/deprecated")
        found += [_finding(r, text, mention, link, around, rule_context) for r in told]
        judged.append(_with_fault(link, told))
    return Judged(judged, list(_once(found)))


def _once(findings: Iterable[Finding]) -> Iterable[Finding]:
    """What a text has several times stands once, where it has it first."""
    found: dict[str, Finding] = {}
    for finding in findings:
        known = found.setdefault(finding.fingerprint, finding)
        if known is not finding:
            found[finding.fingerprint] = msgspec.structs.replace(known, places=known.places + 1)
    return found.values()


def _with_changes(text: Text, mention: Mention, link: Link, rule_context: RuleContext) -> Link:
    """The link, stale where it stands in prose that speaks of what has changed about its target."""
    is_read = mention.origin == "data" and mention.role == "column" and link.outcome == "linked" and not link.stale
    if is_read and rule_context.retyped(text.path, link) is not None:
        return msgspec.structs.replace(link, stale=["column"])
    is_asked = link.kind == "symbol" and link.outcome == "linked" and mention.origin in _PROSE and not link.stale
    if is_asked and mention.field in _OWN_RULES:
        rule, is_other = _OWN_RULES[mention.field]
        return msgspec.structs.replace(link, stale=[rule]) if is_other(text, mention, link, rule_context) else link
    if is_asked and rule_context.changed(text.path, link, partial(text.block_of, mention)) is not None:
        return msgspec.structs.replace(link, stale=["changed-since"])
    return link


def _lacking(text: Text, link: Link, rule_context: RuleContext) -> list[str]:
    return rule_context.lacking(text.variants, link) if link.outcome == "linked" and link.variants else []


def _hidden_in(link: Link, editions: list[str]) -> Link:
    return msgspec.structs.replace(link, wanted=f"{link.path} in {', '.join(editions)}")


def _as_used(mention: Mention, link: Link, rule_context: RuleContext) -> Link:
    """The link; that of a text to be used of an element which does not have it leads nowhere."""
    if mention.role != TEXT or link.kind != "symbol" or rule_context.says(link):
        return link
    wanted = f"{link.path}#{link.anchor}"
    return Link("dangling", project=link.project, version=link.version, path=link.path, reason="block", wanted=wanted)


def _is_quoted_otherwise(text: Text, mention: Mention, link: Link, rule_context: RuleContext) -> bool:
    example = rule_context.example(link)
    return example is not None and not is_quoted(text.quoted_in(mention), example)


def _is_retold(text: Text, mention: Mention, link: Link, rule_context: RuleContext) -> bool:
    return _retold(text, link, rule_context) is not None


#: Of mentions that say how a text goes with its target: the rule, and what breaks it.
_OWN_RULES: dict[str, tuple[str, Callable[[Text, Mention, Link, RuleContext], bool]]] = {
    QUOTED: ("example", _is_quoted_otherwise), SUPPLEMENT: ("supplement", _is_retold),
}  # fmt: skip


def _retold(text: Text, link: Link, rule_context: RuleContext) -> ChangedSince | None:
    """How the text changed that a supplement stands in the place of, or was missing and is there now."""
    said = text.supplement
    if said is None or not (said.language or any(part.how != "add" for part in said.parts)):
        return None
    return rule_context.retold(text.path, link, said.written)


def _with_fault(link: Link, rules: list[str]) -> Link:
    weighty = [rule for rule in rules if SEVERITIES[rule] != "note"]
    return msgspec.structs.replace(link, fault=weighty[0].partition("/")[0]) if weighty else link


#: Words after which a text tells who deals with its element, or does not, and not what to use.
_DONE_BY = re.compile(
    r"\b(?:called|performed|invoked|used|passed|handed|given|returned|emitted|made|set|accepted|pointer|callback|function)"
    r"\s+(?:by|from|to|in|for|with)(?:\s+the)?\s*$|\bthan(?:\s+\w+){0,3}\s*$"
    r"|\b(?:no need to call|unlike|contract of)(?:\s+the)?\s*$",
    re.IGNORECASE,
)
#: Words of an author who knows that what is named is old.
_OLD = re.compile(
    r"deprecat|legacy|obsolete|formerly|previous|renam|replac|supersed|instead of|\bold(?:er)?\b|histor|compatib|"
    r"no longer|discourag|remov|migrat|\bbugs?\b|broken|(?:not|n't|un)[ -]?(?:support|necessary)|\bnor\b",
    re.IGNORECASE,
)


def _is_known(rule: str, mention: Mention, around: tuple[str, str, str]) -> bool:
    """Whether a place says nothing that its maintainer would mend: code that uses what is deprecated or
    hidden, and text that tells it."""
    if mention.origin == "data" and (mention.field == "from" or (mention.field, mention.role) == ("key", "table")):
        return True  # The query that names it is told, where it does; the column that a key refers to.
    if rule == "dangling/hidden":
        return mention.origin not in MEANT or mention.role == "value"  # A constant's value is told all the same.
    if rule == "stale/moved":
        return mention.origin not in _MENDED  # Code compiles.
    if rule == "stale/deprecated":
        is_word = mention.origin == "code" and not re.search(r"[.:#(]", mention.name)
        is_old = bool(_OLD.search(around[0]) or _OLD.search(around[2]))
        return is_word or is_old or mention.origin not in _PROSE or bool(_DONE_BY.search(around[0]))
    return False


def _is_family(text: Text, link: Link, mentions: Iterable[Mention], rule_context: RuleContext) -> bool:
    """Whether a text is that of what takes the deprecated one's place, or names it too: its author knows."""
    entry = rule_context.entry(link)
    instead = entry.deprecated.instead if entry is not None and entry.deprecated is not None else ""
    if not instead:
        return False
    last = _last_of(instead)
    return _last_of(text.path) == last or any(_last_of(m.name) == last for m in mentions)


def _is_inventory(text: Text, link: Link, mention: Mention, around: tuple[str, str, str]) -> bool:
    """Whether a type lists its members, each by its name alone, or tells when something about them changed."""
    is_alone = not around[0].strip() and not around[2].strip()
    return (is_alone and enclosing_of(link.path) == text.path) or text.is_history(mention)


def _last_of(name: str) -> str:
    return re.split(r"[.:#/]", key_of(name.partition("(")[0]))[-1]


class Fix(NamedTuple):
    """What to write for a mention. old: the path that its author meant."""

    rule: str
    old: str
    suggestion: Suggestion


def fixes_of(mention: Mention, link: Link, rule_context: RuleContext) -> list[Fix]:
    """What is known to write in place of a mention in prose, by the rule that it breaks."""
    found = []
    for rule in broken_rules(link) if mention.origin in _MENDED else ():
        suggestion = _explain(rule, mention, link, rule_context)[1] if rule in PATCHED_RULES else None
        if suggestion is not None:
            found.append(Fix(rule, link.via or link.wanted or link.path, suggestion))
    return found


def judge_dependency(slug: str, wanted: Dependency, newest: str) -> Finding:
    """A declared dependency that no published release fits."""
    text = f"=={wanted.exact}" if wanted.exact and not wanted.range else wanted.range
    return Finding(
        "dangling/version", SEVERITIES["dangling/version"], "", subject_kind="project", text=text,
        message=f"The dependency on {slug} asks for {text}, which no release fits; the newest is {newest}. "
        f"References to it are judged against {newest}.",
        target=f"{slug}/{text}", fingerprint=fingerprint("dangling/version", "dependency", slug),
    )  # fmt: skip


def broken_rules(link: Link) -> list[str]:
    """The rules that a link breaks by how it came out; none where it is sound."""
    if link.outcome == "dangling":
        return [f"dangling/{link.reason}"]
    if link.outcome in ("ambiguous", "hidden"):
        return [f"dangling/{link.outcome}"]
    if link.outcome == "outside":
        return [f"text/{link.reason}"] if link.reason else []
    return [f"stale/{reason}" for reason in link.stale]


def _finding(
    rule: str, place: Text, mention: Mention, link: Link, around: tuple[str, str, str], rule_context: RuleContext
) -> Finding:
    message, suggestion = _explain(rule, mention, link, rule_context)
    name = link.path or link.wanted
    if rule == "dangling/anchor":
        name = f"{link.path}#{link.wanted.partition('#')[2]}"
    changed = _changed(rule, place, mention, link, rule_context)
    if changed is not None:
        told = " ".join(d.text for d in changed.details[:3])
        message = (
            f"{link.path} changed in {link.project} {changed.version}; this was written for {changed.written}. {told}"
        )
    was, now = (changed.was, changed.now) if changed is not None and changed.was != changed.now else ("", "")
    return Finding(
        rule, SEVERITIES[rule], place.path, message, subject_kind=place.kind, file=place.file_of(mention),
        line=mention.line, column=mention.column, text=around[1] or mention.text,
        before=around[0], after=around[2], target=f"{link.project}/{name}",
        suggestion=suggestion.name if suggestion else "",
        certain=suggestion.certain if suggestion else False,
        why=suggestion.why if suggestion else "",
        fingerprint=fingerprint(rule, f"{place.kind}:{place.path}", mention.name),
        was=was, now=now,
    )  # fmt: skip


def _changed(
    rule: str, place: Text, mention: Mention, link: Link, rule_context: RuleContext
) -> ChangedSince | None:  # fmt: skip
    """What changed about a target since it was named, where that is what a rule is about."""
    if rule == "stale/column":
        return rule_context.retyped(place.path, link)
    if rule == "stale/supplement":
        return _retold(place, link, rule_context)
    is_asked = rule == "stale/changed-since"
    return rule_context.changed(place.path, link, partial(place.block_of, mention)) if is_asked else None


def _explain(rule: str, mention: Mention, link: Link, rule_context: RuleContext) -> tuple[str, Suggestion | None]:
    explain = _EXPLANATIONS.get(rule)
    if explain is not None:
        return explain(link, rule_context)
    name, project = link.wanted or link.path, link.project
    since = rule_context.gone_since(project, name, link.version)
    suggestion = rule_context.suggest(project, link.version, name)
    if since:
        return f"{name} was removed in {project} {since}.", suggestion
    return f"{project} has no {name}.", suggestion


def _explain_quoted(link: Link, rule_context: RuleContext) -> tuple[str, Suggestion | None]:
    example = rule_context.example(link)
    title = f"the test “{example.title}”" if example is not None else link.path
    return f"The code quotes {title}, which says something else now.", None


def _explain_deprecated(link: Link, rule_context: RuleContext) -> tuple[str, Suggestion | None]:
    entry = rule_context.entry(link)
    deprecated = entry.deprecated if entry else None
    since = deprecated.since if deprecated else ""
    since = since or rule_context.deprecated_in(link.project, link.path, link.version)
    message = f"{link.path} is deprecated" + (f" since {link.project} {since}." if since else ".")
    if deprecated is None or not deprecated.instead or entry is None:
        return message, None
    found = rule_context.suggest(link.project, link.version, _sibling(entry, deprecated.instead))
    name = found.name if found else deprecated.instead
    return message, Suggestion(name, False, "named in the deprecation")


def _sibling(entry: SymbolEntry, name: str) -> str:
    key = key_of(name)
    return key if "." in key else f"{key_of(entry.parent)}.{key}"


def _explain_removed_later(link: Link, rule_context: RuleContext) -> tuple[str, Suggestion | None]:
    newest = rule_context.newest(link.project)
    since = rule_context.gone_since(link.project, link.path, newest)
    message = f"{link.path} was removed in {link.project} {since or newest}."
    return message, rule_context.suggest(link.project, newest, link.path)


def _explain_moved(link: Link, rule_context: RuleContext) -> tuple[str, Suggestion | None]:
    if link.kind == "page":
        message = f"The guide {link.via} is {link.path} now; the old address still works."
    else:
        since = rule_context.moved_in(link.project, link.version, link.via)
        message = f"{link.via} moved to {link.path} in {link.project} {since}; the old name still works."
    return message, Suggestion(link.path, True, "the old name leads there")


def _explain_status(link: Link, rule_context: RuleContext) -> tuple[str, Suggestion | None]:
    entry, status = rule_context.entry(link), link.wanted.rpartition("#")[2]
    answers = [a for a in entry.anchors if a[:1].isdigit()] if entry else []
    told = f" It answers {', '.join(answers)}." if answers else ""
    return f"{link.path} does not answer {status} in {link.project} {link.version}.{told}", None


def _file_of(link: Link) -> str:
    return link.wanted.partition("#")[0] or link.path


def _with_near(told: str, link: Link) -> tuple[str, Suggestion | None]:
    if not link.via:
        return f"{told}.", None
    return f"{told}; {link.via} differs in case only.", Suggestion(link.via, True, "it differs in case only")


def _explain_anchor(link: Link, rule_context: RuleContext) -> tuple[str, Suggestion | None]:
    part = link.wanted.partition("#")[2]
    entry = rule_context.entry(link)
    if entry is None:
        return _with_near(f"The page {link.path} has no section {part}", link)
    near = process.extractOne(part, entry.anchors, score_cutoff=70)
    return f"{link.path} has no part {part}." + (f" It has {near[0]}." if near else ""), None


def _explain_hidden(link: Link, rule_context: RuleContext) -> tuple[str, Suggestion | None]:
    if link.outcome == "linked":  # For some readers.
        editions = link.wanted.removeprefix(f"{link.path} in ")
        return f"{link.path} is not in the edition {editions}, which has this text.", None
    return f"{link.wanted or link.path} is private to {link.project}.", None


def _explain_label(link: Link, rule_context: RuleContext) -> tuple[str, Suggestion | None]:
    name, near = link.wanted.removeprefix("term:"), link.via.removeprefix("term:")
    told = "explains the term" if name != link.wanted else "has the label"
    return f"No guide {told} {name}." + (f" There is {near}." if near else ""), None


def _explain_ambiguous(link: Link, rule_context: RuleContext) -> tuple[str, Suggestion | None]:
    owners = rule_context.owners_of(link.wanted)
    return f"{link.wanted} may mean {' or '.join(owners) or 'several things'}; none of them is a dependency.", None


def _explain_block(link: Link, rule_context: RuleContext) -> tuple[str, Suggestion | None]:
    part = link.wanted.partition("#")[2]
    if link.path:
        return f"{link.path} says nothing{' of ' * bool(part)}{part} that could stand here.", None
    if "{" not in link.wanted:
        return f"There is no {link.wanted} whose text could stand here.", None
    name = link.wanted.rpartition(".")[2]
    found = rule_context.suggest(link.project, link.version, link.wanted)
    near = found if found is not None and found.name.endswith("}") else None
    return f"There is no block {name.strip('{}')}.", near


_Explain = Callable[[Link, RuleContext], tuple[str, Suggestion | None]]
_EXPLANATIONS: dict[str, _Explain] = {
    "stale/deprecated": _explain_deprecated,
    "stale/removed-later": _explain_removed_later,
    "stale/moved": _explain_moved,
    "stale/changed-since": lambda link, rule_context: ("", None),
    "stale/column": lambda link, rule_context: ("", None),
    "stale/supplement": lambda link, rule_context: ("", None),
    "stale/example": _explain_quoted,
    "stale/older-release": lambda link, rule_context: (
        f"This names {link.project} {link.version}; the newest is {rule_context.newest(link.project)}.", None
    ),
    "dangling/ambiguous": _explain_ambiguous,
    "dangling/block": _explain_block,
    "dangling/hidden": _explain_hidden,
    "dangling/project": lambda link, rule_context: (f"No project {link.project} is in the portal.", None),
    "dangling/version": lambda link, rule_context: (f"{link.project} has no release {link.version}.", None),
    "dangling/asset": lambda link, _: _with_near(f"There is no file {_file_of(link)}", link),
    "dangling/label": _explain_label,
    "dangling/page": lambda link, _: _with_near(f"There is no page {_file_of(link)}", link),
    "dangling/anchor": _explain_anchor,
    "text/leaves-tree": lambda link, _: (
        f"{_file_of(link)} is above the folder that was gathered: nobody can say whether it is there.", None
    ),
    "stale/status": _explain_status,
}  # fmt: skip
