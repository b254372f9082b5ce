"""The reference of pontoon, a library for floating berths, as a program of the works wrote it years ago: pages of HTML
and nothing else. The sources are lost; the pages are still read."""

from __future__ import annotations

from html import escape
from typing import NamedTuple

#: Where the works have published it.
ADDRESS = "https://docs.halmere.example/pontoon/"


class Entry(NamedTuple):
    """A member: its declaration and what is said of it. Between braces: PAGE#PLACE|WORDS of a link."""

    name: str
    declaration: str
    text: str


class Type(NamedTuple):
    """A class on a page of its own."""

    name: str
    text: str
    entries: tuple[Entry, ...]


DECK = Type("Deck", "A deck that floats, and that ships lie along.", (
    Entry("Deck", "explicit Deck(double length)", "A deck so long, on {float.html#Float|floats} of its own."),
    Entry("length", "double length() const", "How long it is, in metres."),
    Entry("bollards", "int bollards() const", "How many lines it holds."),
    Entry("moor", "Line moor(int bollard, char side)", "Moors a ship to one of its {deck.html#Deck.bollards|bollards}. "
          "See {mooring.html#lines|how lines are laid}."),
    Entry("sink", "void sink()", "Lets the water in, for the winter."),
))  # fmt: skip
FLOAT = Type("Float", "What carries a deck.", (
    Entry("Float", "Float(double volume)", "A float of so many cubic metres, one to each "
          "{deck.html#Deck.bollards|bollard}."),
    Entry("lift", "double lift() const", "What it carries, in tonnes; see {deck.html#Deck.length|length}."),
    Entry("ballast", "double ballast", "The water in it, in tonnes."),
))  # fmt: skip
LINE = Type("Line", "A line between a ship and a deck.", (
    Entry("slack", "double slack(double tide) const", "How far it hangs through at a height of the tide."),
    Entry("cast_off", "void cast_off()", "Lets go of {deck.html#Deck.bollards|its bollard}. "
          "The deck that it came from is {deck.html#Deck|free} again."),
))  # fmt: skip
CRANE = Type("Crane", "Lifts what is to be set on a deck.", (
    Entry("lift", "bool lift(const Float &what, double height)", "Whether {float.html#Float|a float} can go so high."),
    Entry("outreach", "double outreach() const", "How far it reaches, in metres, past "
          "{deck.html#Deck.bollards|bollards}."),
))  # fmt: skip
MOORING = """<h2 id="lines">Lines</h2><p>Lay two lines ahead and two astern, on four {deck.html#Deck.bollards|bollards}.
A {line.html#Line|line} that is too short lifts the deck at high water: leave it {line.html#Line.slack|slack}
for the whole range of the tide.</p>
<h2 id="winter">In winter</h2><p>%s</p>"""
WINTER = "Decks are {deck.html#Deck.sink|sunk} where ice is thick."
AFLOAT = "Decks stay afloat; the {float.html#Float.ballast|ballast} keeps them low. See {floats.html#ice|ice} too."
MOVED = """<!doctype html><title>Mooring</title><meta http-equiv="refresh" content="0; url=lines/mooring.html">
<p>This page has <a href="lines/mooring.html">moved</a>.</p>"""
STYLE = """body { font: 15px/1.5 Georgia, serif; margin: 2em; background: #fffdf6 url(wave.svg) repeat-x bottom; }
.sig { background: #eef3f1; padding: .6em; } nav { font-size: 13px; }"""
WAVE = """<svg xmlns="http://www.w3.org/2000/svg" width="80" height="16"><path d="M0 8q20-16 40 0t40 0" fill="none"
stroke="#9cb8b0" stroke-width="2"/></svg>"""
BERTH = """<svg xmlns="http://www.w3.org/2000/svg" width="420" height="120">
<rect x="40" y="60" width="340" height="14" fill="#8a6d3b"/>
<g fill="#9cb8b0"><rect x="60" y="74" width="70" height="24"/><rect x="290" y="74" width="70" height="24"/></g>
<path d="M0 92q35-14 70 0t70 0 70 0 70 0 70 0 70 0" fill="none" stroke="#34706a" stroke-width="3"/></svg>"""
WOOD = '<p>Decks of wood are in <a href="wood.html">another part</a>, which nobody has found.</p>'
PROJECT = """slug = "pontoon"
title = "Pontoon"
summary = "Floating berths, as the works left them."
version = "{version}"
owner = "Harbour works"

[trees.reference]
address = "{address}"
"""
VERSIONS = ("1.0.0", "1.1.0", "2.0.0")


def files_of(version: str) -> dict[str, str]:
    """The files of a release, by their paths."""
    types = (DECK, FLOAT, LINE)
    if version != "1.0.0":
        gone = {"bollards"} if version == "1.1.0" else {"bollards", "sink"}
        types = (_without(DECK, gone), FLOAT, LINE, CRANE)
    mooring = "lines/mooring.html" if version == "2.0.0" else "mooring.html"
    guide = MOORING % (WINTER if version == "1.0.0" else AFLOAT)
    picture = '<p><img src="berth.svg" alt="A deck on two floats"></p>' if version != "2.0.0" else ""
    pages = {f"{t.name.lower()}.html": _type_page(t, version) for t in types}
    pages[mooring] = _page("Mooring", f"<h1>Mooring</h1>{guide}{picture}", version, mooring)
    pages["index.html"] = _index(types, version, mooring)
    if version == "2.0.0":
        pages["mooring.html"] = MOVED
    return {
        "zarbek.toml": PROJECT.format(version=version, address=f"{ADDRESS}{version.partition('.')[0]}.x/"),
        **{f"reference/{name}": _linked(text, name, mooring) for name, text in pages.items()},
        "reference/style.css": STYLE, "reference/wave.svg": WAVE, "reference/berth.svg": BERTH,
    }  # fmt: skip


def _without(shown: Type, gone: set[str]) -> Type:
    """What is gone is not told of; pages that led to it still do."""
    return shown._replace(entries=tuple(entry for entry in shown.entries if entry.name not in gone))


def _index(types: tuple[Type, ...], version: str, mooring: str) -> str:
    rows = [f'<li><a href="{t.name.lower()}.html">{t.name}</a>: {t.text}</li>' for t in types]
    rows.append(f'<li><a href="{mooring}">Mooring</a></li>')
    older = WOOD if version == "1.0.0" else ""
    body = f"<h1>Pontoon {version}</h1><p>Floating berths, in C++.</p><ul>{''.join(rows)}</ul>{older}"
    return _page("Pontoon", body, version, "index.html")


def _type_page(shown: Type, version: str) -> str:
    name = f"halmere::{shown.name}"
    head = f'<h1 id="{shown.name}">Class {name}</h1><p class="sig"><code>class {name}</code></p><p>{shown.text}</p>'
    body = "".join(
        f'<section id="{shown.name}.{entry.name}"><h3>{entry.name}</h3>'
        f'<pre class="sig">{escape(entry.declaration)};</pre><p>{entry.text}</p></section>'
        for entry in shown.entries
    )
    return _page(shown.name, f"{head}<h2>Members</h2>{body}", version, f"{shown.name.lower()}.html")


def _page(title: str, body: str, version: str, file: str) -> str:
    up = "../" * file.count("/")
    return (
        f'<!doctype html><html lang="en"><head><title>{title} - Pontoon {version}</title>'
        f'<link rel="stylesheet" href="{up}style.css"></head><body>\n'
        f'<nav><a href="{up}index.html">Pontoon</a> | <a href="{up}deck.html">Decks</a></nav>\n{body}\n'
        f"<footer>Pontoon {version}, by Halmere's harbour works</footer></body></html>\n"
    )


def _linked(text: str, file: str, mooring: str) -> str:
    """The text with its links, from where its page stands."""
    up = "../" * file.count("/")
    parts = text.replace("{mooring.html", "{" + mooring).split("{")
    linked = [parts[0]]
    for part in parts[1:]:
        inner, closed, rest = part.partition("}")
        target, bar, words = inner.partition("|")
        linked.append(f'<a href="{up}{target}">{words}</a>{rest}' if closed and bar else "{" + part)
    return "".join(linked)
