"""What ``pom.xml`` declares. Sources: Maven POM reference; Maven "Dependency Version Requirement
Specification"."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException
from packageurl import PackageURL

from zarbek.core.model.bundle import Dependency
from zarbek.core.sources.manifests.facts import PackageFacts

_PROPERTY = re.compile(r"\$\{([\w.\-]+)\}")
_NAMESPACE = re.compile(r"\{[^}]*\}")


def maven_purl(group: str, artifact: str) -> str:
    """The package URL of an artifact of Maven (ECMA-427, type maven)."""
    return PackageURL(type="maven", namespace=group, name=artifact).to_string()


def _reader_of(root: Any) -> Callable[[Any, str], str]:
    """Reads the text of an element's child, with the properties of the file filled in."""
    for element in root.iter():
        element.tag = _NAMESPACE.sub("", element.tag) if isinstance(element.tag, str) else ""
    values = {f"project.{e.tag}": e.text for e in root if e.text and e.text.strip()}
    values |= {e.tag: (e.text or "").strip() for e in root.iterfind("properties/*")}

    def value(element: Any, tag: str) -> str:
        found = element.findtext(tag, "") if element is not None else ""
        return _PROPERTY.sub(lambda m: values.get(m[1], m[0]), found or "").strip()

    return value


def read_pom(text: str) -> PackageFacts:
    """Facts of one POM; properties of the same file are filled in, those of parents are not known."""
    try:
        root = ElementTree.fromstring(text)
    except (ElementTree.ParseError, DefusedXmlException, ValueError) as error:
        return PackageFacts(unreadable=[f"it is no readable XML: {error}"], file="pom.xml")
    value = _reader_of(root)
    parent = root.find("parent")
    group = value(root, "groupId") or value(parent, "groupId")
    version = value(root, "version") or value(parent, "version")
    name = value(root, "artifactId")
    found, unreadable = [], []
    for holder in root.findall("dependencies/dependency"):
        wanted = value(holder, "version")
        if "${" in wanted:
            unreadable.append(f"{value(holder, 'artifactId')} {wanted}")
            wanted = ""
        found.append(Dependency(maven_purl(value(holder, "groupId"), value(holder, "artifactId")), wanted))
    return PackageFacts(
        name, version, value(root, "description"), value(root.find("scm"), "url"), maven_purl(group,
        name) if name else "",
        sorted(found, key=lambda d: d.purl), unreadable, "pom.xml",
    )  # fmt: skip
