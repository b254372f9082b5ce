"""What a page says of itself for programs, in the words of schema.org: APIReference and TechArticle, as JSON-LD (W3C,
JSON-LD 1.1, section 7) and as microdata (HTML Living Standard, section 5)."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

import msgspec
from selectolax.lexbor import LexborHTMLParser, LexborNode

#: What a page may be: the kind that says most of it first.
_KINDS = ("APIReference", "TechArticle")
_MARK = "schema.org"
#: What some attributes say in the place of words (section 5.2.4).
_VALUES = {"meta": "content", "a": "href", "link": "href", "area": "href", "time": "datetime", "data": "value"}
_WANTED = frozenset({"headline", "name", "description", "abstract", "inLanguage", "programmingLanguage"})
_MAX_JSON, _MAX_NODES, _MAX_WORDS = 256 * 2**10, 500, 2_000


class PageData(NamedTuple):
    """is_reference: whether the page is about one element. language: of the page; code: of what it describes. All empty
    where it does not say."""

    is_reference: bool = False
    headline: str = ""
    name: str = ""
    description: str = ""
    language: str = ""
    code: str = ""


NO_DATA = PageData()


def page_data(document: LexborHTMLParser, text: str) -> PageData:
    """What a page says of itself. text: that it is parsed from."""
    if _MARK not in text:
        return NO_DATA
    found = sorted((*_linked_data(document), *_microdata(document)), key=lambda node: _KINDS.index(node["@type"]))
    if not found:
        return NO_DATA
    told = {name: next((node[name] for node in found if node.get(name)), "") for name in _WANTED}
    return PageData(
        found[0]["@type"] == "APIReference", told["headline"], told["name"], told["description"] or told["abstract"],
        told["inLanguage"], told["programmingLanguage"].lower(),
    )  # fmt: skip


def _linked_data(document: LexborHTMLParser) -> Iterator[dict[str, str]]:
    for script in document.css('script[type="application/ld+json" i]'):
        text = script.text() or ""
        if len(text) > _MAX_JSON:
            continue
        try:
            told = msgspec.json.decode(text)
        except (msgspec.DecodeError, UnicodeEncodeError, RecursionError):
            continue  # It is nobody's but the program's; the page says what it says.
        for node in _nodes(told):
            kind = next((k for k in _KINDS if k in _texts(node.get("@type"))), "")
            if kind and _MARK in str(node.get("@context", _MARK)):
                yield {"@type": kind, **{name: _word(node.get(name)) for name in _WANTED}, **_code_of(node)}


def _nodes(told: Any) -> Iterator[dict[str, Any]]:
    """The objects of a document: itself, those of a list, those of a graph."""
    left = [told]
    for _ in range(_MAX_NODES):
        if not left:
            return
        node = left.pop()
        if isinstance(node, list):
            left += reversed(node[:_MAX_NODES])
        elif isinstance(node, dict):
            yield node
            left += [node["@graph"]] if "@graph" in node else []


def _texts(value: Any) -> list[str]:
    values = value if isinstance(value, list) else [value]
    return [v.rpartition("/")[2] for v in values if isinstance(v, str)]


def _word(value: Any) -> str:
    """A text, the first of several, or the name of what is described."""
    if isinstance(value, list):
        value = value[0] if value else ""
    if isinstance(value, dict):
        value = value.get("name") or value.get("@value")
    return " ".join(value.split())[:_MAX_WORDS] if isinstance(value, str) else ""


def _code_of(node: dict[str, Any]) -> dict[str, str]:
    """The language of what a page is about, where that says it."""
    for part in ("programmingLanguage", "about", "mainEntity"):
        value = node.get(part)
        told = _word(value.get("programmingLanguage") or "") if isinstance(value, dict) else ""
        if told:
            return {"programmingLanguage": told}
    return {}


def _microdata(document: LexborHTMLParser) -> Iterator[dict[str, str]]:
    for item in document.css("[itemscope][itemtype]")[:_MAX_NODES]:
        types = (item.attributes.get("itemtype") or "").split()
        kind = next((k for k in _KINDS if any(_MARK in t and t.endswith(k) for t in types)), "")
        if kind:
            found = {"@type": kind}
            for inner in item.css("[itemprop]")[:_MAX_NODES]:
                names = (inner.attributes.get("itemprop") or "").split()
                if _item_of(inner) == item.mem_id:
                    for name in _WANTED.intersection(names):
                        found.setdefault(name, _value(inner))
            yield found


def _item_of(node: LexborNode) -> int:
    """The item that a property is of: the nearest around it."""
    outer = node.parent
    while outer is not None and "itemscope" not in outer.attributes:
        outer = outer.parent
    return outer.mem_id if outer is not None else 0


def _value(node: LexborNode) -> str:
    told = node.attributes.get(_VALUES[node.tag]) if node.tag in _VALUES else None
    return " ".join((told or node.text(deep=True)).split())[:_MAX_WORDS]
