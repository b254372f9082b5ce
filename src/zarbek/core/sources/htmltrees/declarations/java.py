"""Declarations of Java. Source: The Java Language Specification 17, sections 7 to 9."""

from __future__ import annotations

import re

from zarbek.core.sources.htmltrees.declarations.form import Form, Owner

#: A type, with those that it stands in.
_JAVA_TYPE = re.compile(r"((?:^|\s)(?:class|@?interface|enum|record)\s+)(?:\w+\.)*(\w+)")

#: What stands before a parameter list, where it is one name behind modifiers (JLS 17, section 8.8).
_CALLED = re.compile(r"(?:@\w+(?:\([^)]*\))? |public |protected |private |<[^(]*> )*(?P<name>[\w$]+)\s*\(")


def java_form(text: str, owner: Owner) -> Form | None:
    """A source with a declaration in its package and types."""
    package = f"package {owner.package}; " if owner.package else ""
    keyword = {"interface": "interface", "annotation": "@interface", "enum": "class"}.get(owner.kind, "class")
    before = package + "".join(f"public class {name} {{ " for name in owner.names[:-1])
    before += "".join(f"public {keyword} {name} {{ " for name in owner.names[-1:])
    text = _JAVA_TYPE.sub(r"\1\2", text, count=1)
    called = _CALLED.match(text) if owner.names else None
    is_constructor = called is not None and called["name"] == owner.names[-1]
    body = " {}" if (_JAVA_TYPE.search(text) or is_constructor) and "{" not in text else ";"
    return Form("X.java", before, text + body, "} " * len(owner.names))
