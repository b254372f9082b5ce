"""A page of a tree to safe HTML in the portal's own form: what is its own, in its own order, with all its places."""

from __future__ import annotations

import re
from collections.abc import Iterable
from html import escape

from selectolax.lexbor import LexborHTMLParser, LexborNode

from zarbek.core.model.bundle import TreeFacts
from zarbek.core.sources.htmltrees.page_reader import heading_of, parse_page
from zarbek.core.sources.htmltrees.sections import own_content
from zarbek.core.writing.code_tokens import Resolve
from zarbek.core.writing.html import SafeHtml, highlight_code, sanitise_page
from zarbek.core.writing.mathematics import set_mathematics, set_scripts, sets_mathematics
from zarbek.core.writing.shown import Shown

#: What asks for something or acts: nothing is left of it.
_ACTS = "button,select,textarea,input,object,embed,applet,audio,video,canvas,svg,dialog,map"
#: What code may have within it and still be no more than code.
_MARKS = frozenset("b code em font i span strong tt u".split())
#: So many elements of a page are looked at for its title.
_BEGINNING = 40
#: How a page says the language of its code (HTML, section 4.5.15).
_LANGUAGE = re.compile(r"(?:^|\s)lang(?:uage)?-([\w+#.-]+)")


def show_page(text: str, facts: TreeFacts, title: str, resolve: Resolve) -> SafeHtml:
    """What a page of a tree says. title: as it stands above it already. resolve: called with each address as the page
    has it, of links and of pictures; None leaves plain words."""
    document = parse_page(text)
    has_mathematics = sets_mathematics(document)
    set_scripts(document)
    framed = _frames(document, resolve)
    root, gone = own_content(document, facts)
    if root is None:
        return sanitise_page(framed)
    for node in root.css(_ACTS):
        node.decompose()
    _forget_classes(root)
    _settle_places(document, root)
    _settle_links(root, resolve)
    _settle_pictures(document, root, resolve)
    _leave_out_title(root, title)
    _settle_headings(root, title)
    _settle_code(root, facts.language)
    if has_mathematics:
        set_mathematics(root)
    return sanitise_page(_places(gone) + framed + (root.inner_html or ""))


def _places(names: Iterable[str]) -> str:
    """What leads to the page's frame leads to its beginning."""
    return "".join(f'<span id="{escape(name)}"></span>' for name in names)


def _forget_classes(root: LexborNode) -> None:
    """A page looks like no part of the portal that it is not; code keeps its language."""
    for node in root.css("[class]"):
        language = _LANGUAGE.search(node.attributes.get("class") or "") if node.tag in ("pre", "code") else None
        _set(node, "class", f"language-{language[1]}" if language else "")


def _settle_places(document: LexborHTMLParser, root: LexborNode) -> None:
    """Old pages name their places by ``a name`` (obsolete, section 16.2)."""
    for node in root.css("a[name]"):
        name, identity = node.attributes.get("name"), node.attributes.get("id")
        if name and not identity:
            node.attrs["id"] = name
        elif name and name != identity:
            place = document.create_node("span")
            place.attrs["id"] = name
            node.insert_before(place)


def _settle_links(root: LexborNode, resolve: Resolve) -> None:
    for node in root.css("a[href]"):
        shown = resolve(node.attributes.get("href") or "")
        _set(node, "href", shown.href if shown else "")
        if shown is not None:
            _set(node, "title", shown.title)
            _set(node, "class", f"mention {shown.state}" if shown.state else "")
            _set(node, "data-finding", shown.finding)


def _set(node: LexborNode, name: str, value: str) -> None:
    if value:
        node.attrs[name] = value
    elif name in node.attributes:
        del node.attrs[name]


def _settle_pictures(document: LexborHTMLParser, root: LexborNode, resolve: Resolve) -> None:
    """Those of the portal; a page asks nobody else for anything."""
    for node in root.css("img"):
        shown = resolve(node.attributes.get("src") or "")
        words = node.attributes.get("alt") or ""
        if shown is not None and shown.href and not _is_elsewhere(shown.href):
            node.attrs["src"] = shown.href
            continue
        node.replace_with(_in_place_of_picture(shown, words))


def _in_place_of_picture(shown: Shown | None, words: str) -> LexborNode | str:
    if shown is None:
        return words
    if shown.href:
        return _made(f'<a href="{escape(shown.href)}">{escape(words or "picture")}</a>', "a")
    return _made(
        f'<span class="mention {escape(shown.state)}" data-finding="{escape(shown.finding)}">'
        f"{escape(words or 'picture')}</span>", "span",
    )  # fmt: skip


def _is_elsewhere(address: str) -> bool:
    return address.startswith(("http://", "https://"))


def _made(html: str, tag: str) -> LexborNode | str:
    return LexborHTMLParser(html).css_first(tag) or ""


def _leave_out_title(root: LexborNode, title: str) -> None:
    """Before its first heading, a page may say its title in an element that is none."""
    wanted = "".join(title.split())
    for node in root.css("h1,h2,h3,p,div,b,strong,font,td")[:_BEGINNING]:
        if node.tag in ("h1", "h2", "h3"):
            return
        own = [inner for inner in node.iter(include_text=True) if inner.is_text_node]
        if "".join("".join(inner.text_content or "" for inner in own).split()) == wanted:
            for inner in own:
                inner.decompose()
            return


def _settle_headings(root: LexborNode, title: str) -> None:
    """The page's title stands above it: what says the same again is left out, but for its places; others go below."""
    first = root.css_first("h1")
    for node in root.css("h1,h2,h3,h4,h5,h6"):
        level = min(int((node.tag or "h6")[1]) + 1, 6)
        if first is not None and node.mem_id == first.mem_id and heading_of(node) == title:
            node.replace_with(_made(f"<div>{_kept_places(node)}</div>", "div"))
        else:
            node.replace_with(_made(f"<h{level}{_identity(node)}>{node.inner_html or ''}</h{level}>", f"h{level}"))


def _identity(node: LexborNode) -> str:
    identity = node.attributes.get("id")
    return f' id="{escape(identity)}"' if identity else ""


def _kept_places(node: LexborNode) -> str:
    names = (inner.attributes.get("id") for inner in node.css("[id]"))  # Its own among them.
    return _places(filter(None, names))


def _settle_code(root: LexborNode, language: str) -> None:
    for node in root.css("pre"):
        inner = [n for n in node.css("*") if n.mem_id != node.mem_id]
        if all(n.tag in _MARKS and not n.attributes.get("id") for n in inner):
            code = str(highlight_code(node.text().strip("\n"), _language_of(node) or language))
            node.replace_with(_made(code, "pre"))


def _language_of(node: LexborNode) -> str:
    for around in (node, node.parent, node.css_first("code")):
        found = _LANGUAGE.search((around.attributes.get("class") or "") if around is not None else "")
        if found:
            return found[1].lower()
    return ""


def _frames(document: LexborHTMLParser, resolve: Resolve) -> str:
    """A link in the place of each page that stands within this one."""
    lines = []
    for node in document.css("frame[src],iframe[src]"):
        shown = resolve(node.attributes.get("src") or "")
        words = node.attributes.get("title") or node.attributes.get("name") or node.attributes.get("src") or ""
        if shown is not None and shown.href:
            lines.append(f'<li><a href="{escape(shown.href)}">{escape(words)}</a></li>')
    return f"<ul>{''.join(lines)}</ul>" if lines else ""
