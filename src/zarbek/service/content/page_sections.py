"""The parts of a page, whatever it is written in."""

from __future__ import annotations

from zarbek.core.model.bundle import TreeFacts
from zarbek.core.model.page import Page, Section
from zarbek.core.sources.guides.sections import sections_of as guide_sections
from zarbek.core.sources.htmltrees.sections import sections_of as tree_sections
from zarbek.core.writing.plain_text import plain_text


def sections_of(page: Page, facts: TreeFacts) -> list[Section]:
    """What a page says, by its headings, without markup. facts: of the tree that it is of, if it is of one."""
    if page.form == "html":
        return list(tree_sections(page.text, facts))
    return [section._replace(text=plain_text(section.text)) for section in guide_sections(page)]
