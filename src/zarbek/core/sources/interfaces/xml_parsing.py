"""XML files, read without entities, document types, or anything from elsewhere."""

from __future__ import annotations

from typing import Any

from lxml import etree

from zarbek.core.errors import UnreadableText

MAX_DEPTH = 200


def read_xml(data: bytes) -> Any:
    """The root element, with lines. Raises UnreadableText for what is no XML and for a document type,
    whose entities could name files or multiply (W3C XML 1.0, section 2.8)."""
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, dtd_validation=False, huge_tree=False,
        remove_comments=False,
    )  # fmt: skip
    try:
        root = etree.fromstring(data, parser)
    except etree.XMLSyntaxError as error:
        raise UnreadableText(f"it is no XML: {error.msg}", error.lineno or 1) from error
    except ValueError as error:
        raise UnreadableText(f"it is no XML: {error}", 1) from error
    if root.getroottree().docinfo.doctype:
        raise UnreadableText("it has a document type, whose entities are not read", 1)
    return root


def local(element: Any) -> str:
    """The name of an element without its namespace; empty for comments and instructions."""
    tag = element.tag
    return tag.rpartition("}")[2] if isinstance(tag, str) else ""


def namespace(element: Any) -> str:
    """An element's namespace, or empty."""
    tag = element.tag
    return tag[1:].partition("}")[0] if isinstance(tag, str) and tag.startswith("{") else ""


def text_of(element: Any) -> str:
    """All text in an element, blanks folded line by line."""
    text = "".join(element.itertext())
    lines = [line.strip() for line in text.strip().split("\n")]
    return "\n".join(lines).strip()
