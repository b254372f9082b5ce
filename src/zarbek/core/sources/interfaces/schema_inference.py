"""Schemas inferred from sample documents, where nothing declares one.

What is inferred says so, and from how many samples: a schema of three documents is a guess, and a
reader must see that it is.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping
from typing import Any

from zarbek.core.model.bundle import Scope
from zarbek.core.model.doc_text import Doc
from zarbek.core.model.interface import Example, Interface, Particle, Schema
from zarbek.core.model.symbol import Signature, Symbol
from zarbek.core.sources.interfaces.document_set import plain_name
from zarbek.core.sources.interfaces.symbol_builder import write_json
from zarbek.core.sources.interfaces.xml_parsing import local
from zarbek.core.sources.languages.reading import ModulePart, SourceReading

_MAX_ENUM = 6
#: So many values, each seen so often on average, make a list of choices likely.
_SEEN_EACH = 3
_FORMATS = (
    ("date-time", re.compile(r"\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d+)?)?(Z|[+-]\d\d:\d\d)\Z")),
    ("date", re.compile(r"\d{4}-\d\d-\d\d\Z")),
    ("time", re.compile(r"\d\d:\d\d(:\d\d)?\Z")),
    ("uuid", re.compile(r"[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}\Z")),
    ("email", re.compile(r"[^@\s]+@[^@\s]+\.[^@\s]+\Z")),
    ("uri", re.compile(r"[a-z][a-z0-9+.-]*://\S+\Z")),
)
MAX_DEPTH = 60
_NUMBER = re.compile(r"-?\d+(\.\d+)?\Z")


def infer_schema(values: Iterable[Any], depth: int = 0) -> Schema:
    """The narrowest schema of the model's normal form that admits all values."""
    known = list(values)
    if not known or depth > MAX_DEPTH:
        return {}
    kinds = list(dict.fromkeys(_kind(v) for v in known))
    if "integer" in kinds and "number" in kinds:
        kinds.remove("integer")
    made: Schema = {"type": kinds[0] if len(kinds) == 1 else kinds}
    if objects := [v for v in known if isinstance(v, dict)]:
        made.update(_object_facts(objects, depth))
    if lists := [v for v in known if isinstance(v, list)]:
        made["items"] = infer_schema([i for v in lists for i in v], depth + 1)
    if texts := [v for v in known if isinstance(v, str)]:
        made.update(_text_facts(texts, kinds))
    return made


def _object_facts(objects: list[dict[str, Any]], depth: int) -> Schema:
    names = list(dict.fromkeys(name for v in objects for name in v))
    made: Schema = {"properties": {n: infer_schema([v[n] for v in objects if n in v], depth + 1) for n in names}}
    required = [n for n in names if all(n in v for v in objects)]
    return made | ({"required": required} if required else {})


def _kind(value: Any) -> str:
    if value is None:
        return "null"
    if isinstance(value, bool):
        return "boolean"
    if isinstance(value, (int, float)):
        return "integer" if isinstance(value, int) else "number"
    return "object" if isinstance(value, dict) else "array" if isinstance(value, list) else "string"


def _text_facts(texts: list[str], kinds: list[str]) -> Schema:
    """kinds: of all values; choices are those of all of them (JSON Schema Validation 2020-12, 6.1.2)."""
    for name, pattern in _FORMATS:
        if all(pattern.match(t) for t in texts):
            return {"format": name}
    counts = Counter(texts)
    is_choice = 1 < len(counts) <= _MAX_ENUM and len(texts) >= _SEEN_EACH * len(counts)
    if is_choice and {*kinds} <= {"string", "null"}:
        return {"enum": [*sorted(counts), *([None] if "null" in kinds else [])]}
    return {}


def read_json_samples(samples: Mapping[str, Any], module: str, name: str) -> SourceReading:
    """One schema symbol from samples of one thing. samples: file to value."""
    files = sorted(samples)
    schema = infer_schema(samples[f] for f in files)
    path = f"{module}.{plain_name(name)}"
    examples = [Example(write_json(samples[f]), f.rpartition("/")[2]) for f in files[:3]]
    return SourceReading(
        symbols=[Symbol(
            path=path, name=name, kind="schema", language="json-schema", module=module, parent=module, file=files[0],
            line=1, end_line=1, flags=["inferred"],
            interface=Interface(schema=schema, examples=examples, evidence=evidence_of(files)),
            doc=Doc(f"Inferred from {_counted(len(files))}."),
        )],
        parts=[ModulePart(Scope(files[0], module, language="json-schema"))],
    )  # fmt: skip


def evidence_of(files: list[str]) -> str:
    """The files that a schema was inferred from, as a sentence says it: the first five by name."""
    shown = ", ".join(files[:5])
    return f"{_counted(len(files))}: {shown}" + (f" and {len(files) - 5} more" if len(files) > 5 else "")


def _counted(count: int) -> str:
    return "1 sample" if count == 1 else f"{count} samples"


# XML --------------------------------------------------------------------------------------


class _Seen:
    """What all elements of one name looked like."""

    def __init__(self) -> None:
        self.count = 0
        self.line, self.file = 1, ""
        self.children: dict[str, list[int]] = {}
        self.order: list[str] = []
        self.keeps_order = True
        self.attributes: Counter[str] = Counter()
        self.values: dict[str, list[str]] = {}
        self.texts: list[str] = []


def read_xml_samples(samples: Mapping[str, Any], module: str) -> SourceReading:
    """Element symbols from sample documents. samples: file to root element."""
    seen: dict[str, _Seen] = {}
    for file in sorted(samples):
        _watch(samples[file], file, seen, 0)
    evidence = evidence_of(sorted(samples))
    reading = SourceReading(parts=[ModulePart(Scope(min(samples), module, language="xsd"))])
    for name, facts in seen.items():
        path = f"{module}.{plain_name(name)}"
        content = Particle("sequence" if facts.keeps_order else "choice", parts=[
            Particle("element", child, f"{module}.{plain_name(child)}",
                     least=1 if len(facts.children[child]) == facts.count else 0,
                     most=-1 if max(facts.children[child]) > 1 else 1)
            for child in facts.order
        ]) if facts.order else None  # fmt: skip
        type_text = "" if facts.order else _xml_type(facts.texts)
        reading.symbols.append(Symbol(
            path=path, name=name, kind="element", language="xsd", module=module, parent=module, file=facts.file,
            line=facts.line, end_line=facts.line, flags=["inferred"], type=type_text,
            signatures=[Signature(text=f"{name}: {type_text}" if type_text else name)],
            doc=Doc(f"Inferred from {_counted(len(samples))}; the element stands in them "
                    f"{facts.count} {'time' if facts.count == 1 else 'times'}."),
            interface=Interface(content=content, evidence=evidence),
        ))  # fmt: skip
        for attribute, times in sorted(facts.attributes.items()):
            kind = _xml_type(facts.values[attribute])
            flags = ["inferred", "required"] if times == facts.count else ["inferred"]
            reading.symbols.append(
                Symbol(
                    path=f"{path}.@{plain_name(attribute)}",
                    name=attribute,
                    kind="attribute",
                    language="xsd",
                    module=module,
                    parent=path,
                    file=facts.file,
                    line=facts.line,
                    end_line=facts.line,
                    flags=flags,
                    type=kind,
                    signatures=[Signature(text=f"@{attribute}: {kind}")],
                    interface=Interface(evidence=evidence),
                )
            )
    return reading


def _watch(element: Any, file: str, seen: dict[str, _Seen], depth: int) -> None:
    facts = seen.setdefault(local(element), _Seen())
    if not facts.count:
        facts.file, facts.line = file, element.sourceline or 1
    facts.count += 1
    for name, value in element.attrib.items():
        plain = str(name).rpartition("}")[2]
        facts.attributes[plain] += 1
        facts.values.setdefault(plain, []).append(str(value))
    children = [c for c in element if local(c)]
    counts = Counter(local(c) for c in children)
    for name, times in counts.items():
        if name not in facts.children:
            facts.order.append(name)
        facts.children.setdefault(name, []).append(times)
    places = [facts.order.index(local(c)) for c in children]
    facts.keeps_order = facts.keeps_order and places == sorted(places)
    if not children:
        facts.texts.append((element.text or "").strip())
    if depth < MAX_DEPTH:
        for child in children:
            _watch(child, file, seen, depth + 1)


def _xml_type(texts: list[str]) -> str:
    """A type of XML Schema part 2 that admits all texts."""
    known = [t for t in texts if t]
    if not known:
        return "string"
    facts = _text_facts(known, ["string"]).get("format")
    if facts in ("date", "date-time", "time"):
        return {"date": "date", "date-time": "dateTime", "time": "time"}[facts]
    if all(_NUMBER.match(t) for t in known):
        return "integer" if all("." not in t for t in known) else "decimal"
    return "boolean" if set(known) <= {"true", "false"} else "string"
