"""What a reference is made of: values without algorithms."""

from zarbek.core.model.bundle import Alias, Dependency, Manifest, Scope
from zarbek.core.model.doc_text import Change, Deprecation, Doc, DocField, Section
from zarbek.core.model.finding import Finding, Severity
from zarbek.core.model.mention import Mention, Origin
from zarbek.core.model.page import Heading, Page
from zarbek.core.model.symbol import Parameter, Signature, Symbol

__all__ = [
    "Alias",
    "Change",
    "Dependency",
    "Deprecation",
    "Doc",
    "DocField",
    "Finding",
    "Heading",
    "Manifest",
    "Mention",
    "Origin",
    "Page",
    "Parameter",
    "Scope",
    "Section",
    "Severity",
    "Signature",
    "Symbol",
]
