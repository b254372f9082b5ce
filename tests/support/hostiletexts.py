"""Texts that make a careless reader go back and forth for ever, in every place that a reader reads."""

from __future__ import annotations

#: Repeated, each of these once cost some reader time that grew faster than the text.
UNITS = (
    "[", "]", "(", "{", "}", "<", ">", "<!--", "`", "``", "*", "_", "{@link ", "{@code ", "{", "|", ":", "a:", "!", "![", "[[", "](", "\\[",
    "<a ", "</a>", "&", "@", "@param ", "@link a b ", "$", "\\f$", "#", " ", "a ", "a.", "a(", "[a](", "[a]", "::", "a::", "a<", "\n ", "\n\n",
    "- ", "\n- ", "\n> ", "\n* a", ":a:`", "`a", "``a ", "``` ", "\n```\n", "http://", "=", "-", "'", '"', "/", ",", "a,", ";", "<b>", "<ul><li>",
    "<pre>", "\n=", "\n.. a::\n", "\n:a: ", "||", "\n|", "+-", "\n+-+\n", "<see cref='a'>", "<x", "]]>", "\\", "\\\\", "%", "~", "^", "\t", "\u00a0",
)  # fmt: skip
#: Language to a file of it, with a place for text in a documentation comment and one outside of any.
FRAMES = {
    "a.py": ('def f(a):\n    """One.\n\n    {0}\n    """\n', "# {0}\nx = 1\n"),
    "A.java": ("/** One.\n * {0}\n */\npublic class A {{ }}\n", "class A {{ String s = {0}; }}\n"),
    "a.kt": ("/** One.\n * {0}\n */\nclass A\n", "val a = {0}\n"),
    "a.h": ("/** One.\n * {0}\n */\nint f(int a);\n", "{0}\n"),
    "a.hpp": ("/// One.\n/// {0}\nint f(int a);\n", "namespace a {{ {0} }}\n"),
    "a.cs": ("/// <summary>One.\n/// {0}</summary>\npublic class A {{ }}\n", "class A {{ int a = {0}; }}\n"),
    "a.ts": ("/** One.\n * {0}\n */\nexport function f() {{}}\n", "export const a = {0};\n"),
    "a.js": ("/** One.\n * {0}\n */\nexport function f() {{}}\n", "export const a = {0};\n"),
    "a.go": ("package a\n\n// F does.\n// {0}\nfunc F() {{}}\n", "package a\n\nvar A = {0}\n"),
    "a.rs": ("/// One.\n/// {0}\npub fn f() {{}}\n", "pub const A: u8 = {0};\n"),
}  # fmt: skip


def hostile_source(frame: str, unit: str, size: int) -> bytes:
    """A file in whose place so many characters of a repeated unit stand; lines go on in the same form."""
    text = unit * (size // len(unit))
    before = frame[: frame.index("{0}")].rpartition("\n")[2]
    lead = before if before.strip() in ("*", "///", "//", "") else ""
    return frame.format(text.replace("\n", f"\n{lead}")).encode()
