"""Sample documents: checked against the schema that declares them, else the evidence of an inferred one."""

from __future__ import annotations

import posixpath
import re
from typing import Any

import xmlschema

from zarbek.core.errors import UnreadableText
from zarbek.core.material.scratch import scratch_folder
from zarbek.core.model.finding import Finding
from zarbek.core.sources.interfaces.document_set import ReadFile
from zarbek.core.sources.interfaces.documents import read_document
from zarbek.core.sources.interfaces.schema_inference import read_json_samples, read_xml_samples
from zarbek.core.sources.interfaces.xml_parsing import local, namespace, read_xml
from zarbek.core.sources.interfaces.xsd import module_of_namespace
from zarbek.core.sources.languages.reading import SourceFile, SourceReading

_MAX_FAULTS = 5
_BRACED = re.compile(r"\{[^{}]*\}")


def read_samples(source: SourceFile, read: ReadFile) -> SourceReading:
    """Findings of samples that do not fit; symbols of an inferred schema for those that nothing declares."""
    findings: list[Finding] = []
    values: dict[str, Any] = {}
    for file in source.options["files"]:
        try:
            data = read(file) or b""
            values[file] = read_document(file, data).value if file.endswith(".json") else read_xml(data)
        except UnreadableText as error:
            findings.append(Finding("text/unreadable", "warning", file, f"The sample was left out: {error}.",
                                    file=file, line=error.line))  # fmt: skip
    if source.language == "json-samples":
        reading = read_json_samples(values, source.module, source.options["name"][0]) if values else SourceReading()
    else:
        reading = _xml(values, source, read)
    reading.findings += findings
    return reading


def _xml(values: dict[str, Any], source: SourceFile, read: ReadFile) -> SourceReading:
    declared = _Schemas(source.options.get("schemas", []), read)
    undeclared = {}
    findings: list[Finding] = []
    for file, root in values.items():
        schema = declared.for_namespace(namespace(root))
        if schema is None or local(root) not in schema.declares:
            undeclared[file] = root
        else:
            findings += schema.check(file, root)
    reading = read_xml_samples(undeclared, source.module) if undeclared else SourceReading()
    reading.findings += findings + declared.findings
    return reading


class _Schema:
    def __init__(self, schema: Any, uri: str, module: str) -> None:
        self.schema, self.module = schema, module
        self.declares = {name.rpartition("}")[2] for name in schema.elements}
        self.uri = uri

    def check(self, file: str, root: Any) -> list[Finding]:
        faults = []
        for error in self.schema.iter_errors(root):
            line = getattr(error.elem, "sourceline", None) or getattr(error, "sourceline", None) or root.sourceline or 1
            faults.append((line, _reason(error)))
            if len(faults) == _MAX_FAULTS:
                break
        if not faults:
            return []
        line, reason = min(faults)
        more = f" {len(faults) - 1} more of it do not fit." if len(faults) > 1 else ""
        subject = f"{self.module}.{local(root)}"
        return [Finding("stale/example", "error", subject, f"The sample {file.rpartition('/')[2]} does not fit "
                        f"{local(root)}: {reason}.{more}", file=file, line=line, text=file.rpartition("/")[2],
                        target=subject)]  # fmt: skip


def _reason(error: Any) -> str:
    """What is wrong and where, without the checker's own words around it."""
    where = (error.path or "").rpartition("/")[2].partition(":")[2] or (error.path or "").rpartition("/")[2]
    reason = str(error.reason or error.message or "it does not fit").strip().rstrip(".")
    reason = _BRACED.sub("", reason).replace("Unexpected child with tag", "there must be no").replace(". Tag ", "; ")
    return f"at {where}, {reason}" if where else reason


class _Schemas:
    """The project's schema documents, made ready when a sample asks for their namespace."""

    def __init__(self, files: list[str], read: ReadFile) -> None:
        self._read = read
        self._texts: dict[str, bytes] = {}
        self._targets: dict[str, str] = {}
        self._known: dict[str, _Schema | None] = {}
        self.findings: list[Finding] = []
        for file in files:
            self._take(file)

    def _take(self, file: str) -> None:
        """A schema document with all that it names of the same source."""
        data = self._read(file) if file not in self._texts else None
        if data is None:
            return
        try:
            root = read_xml(data)
        except UnreadableText:
            return  # Its own reader tells of it.
        if local(root) != "schema":
            return
        self._texts[file] = data
        self._targets[file] = root.get("targetNamespace") or ""
        for node in root:
            place = node.get("schemaLocation") if local(node) in ("include", "import", "redefine", "override") else None
            if place and "://" not in place:
                self._take(posixpath.normpath(posixpath.join(posixpath.dirname(file), place)))

    def for_namespace(self, uri: str) -> _Schema | None:
        if uri not in self._known:
            self._known[uri] = self._load(uri)
        return self._known[uri]

    def _load(self, uri: str) -> _Schema | None:
        """Of several documents of a namespace the one that declares most; the rest is included by it."""
        loaded = [self._compiled(file) for file, target in self._targets.items() if target == uri]
        found = [_Schema(s, uri, module_of_namespace(uri, "schemas")) for s in loaded if s is not None]
        return max(found, key=lambda s: len(s.declares), default=None)

    def _compiled(self, file: str) -> Any:
        data = self._texts[file]
        is_newer = any(
            word in data for word in (b":assert", b":override", b":alternative", b":openContent", b"minVersion")
        )
        version = xmlschema.XMLSchema11 if is_newer else xmlschema.XMLSchema10
        with scratch_folder("xsd", self._texts) as folder:
            try:
                return version(str(folder / file), allow="sandbox", base_url=str(folder), defuse="always",
                               validation="lax")  # fmt: skip
            except (xmlschema.XMLSchemaException, OSError, ValueError) as error:
                self.findings.append(Finding(
                    "text/breaks-standard", "warning", file,
                    f"Samples cannot be checked against it: {str(error).partition(chr(10))[0].rstrip('.: ')}.",
                    file=file, line=1,
                ))  # fmt: skip
                return None
