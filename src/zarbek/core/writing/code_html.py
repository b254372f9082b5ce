"""Code with classes for its tokens and links at its names, as safe HTML."""

from __future__ import annotations

from collections.abc import Iterable

from zarbek.core.writing.code_tokens import CodeLink, code_lines
from zarbek.core.writing.html import SafeHtml, sanitise


def linked_code(code: str, language: str, links: Iterable[CodeLink]) -> SafeHtml:
    """A block of code; links that overlap one before are left out. Unknown languages and huge blocks have no classes
    for their tokens."""
    return sanitise(f'<pre class="code" tabindex="0"><code>{code_lines(code, language, links)}</code></pre>\n')
