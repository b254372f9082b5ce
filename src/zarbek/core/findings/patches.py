"""Patches that mend references in the sources: exactly the name that is wrong, nothing else."""

from __future__ import annotations

import difflib
import re
from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from zarbek.core.model.naming import key_of

_NAME_CHARS = re.compile(r"[\w.:#/@$-]")
_MEMBER = re.compile(r"(?s)^(.*?)(::|[.#])([^.:#]+)$")


@dataclass(frozen=True, slots=True, order=True)
class Edit:
    """Write replacement in place of written. line: 1-based; column: 1-based, 0 for unknown."""

    file: str
    line: int
    column: int
    written: str
    replacement: str
    certain: bool = True
    rule: str = ""
    why: str = ""


@dataclass(frozen=True, slots=True)
class SkippedEdit:
    """An edit that was not made, and why."""

    edit: Edit
    reason: str


def replacement_for(written: str, old: str, new: str) -> str | None:
    """What an author who wrote a name for one path would write for another; None where it cannot be
    told.

    written: as in the source, with its marks. old, new: paths. A name that left out its beginning
    leaves it out again if both paths share it. Marks, call parentheses, the mark between type and
    member, project, version and anchor of an address stay.
    """
    if written.startswith("api://"):
        return _replaced_address(written, old, new)
    if "#/" in written:
        return _replaced_pointer(written, old, new)
    lead = written[: len(written) - len(written.lstrip("~!.`#"))]
    rest = written[len(lead) :]
    tail = "`" if rest.endswith("`") else ""
    rest = rest.removesuffix("`")
    head, paren, params = rest.partition("(")
    old_plain, new_plain = old.partition("(")[0], new.partition("(")[0]
    plain = _shortened(head, old_plain, new_plain)
    if plain is None:
        return None
    if "#" in head:
        match = _MEMBER.match(plain)
        plain = f"{match[1]}#{match[3]}" if match and "#" not in plain else plain
    elif "#" in lead and _MEMBER.match(plain):
        return None  # The member has left its type: the bare mark no longer does.
    if paren and params not in (")", ""):
        params = new.partition("(")[2] or params
    return lead + plain + paren + params + tail


def _replaced_address(written: str, old: str, new: str) -> str | None:
    owner, slash, rest = written[6:].partition("/")
    path, mark, anchor = rest.partition("#")
    if not slash or key_of(path) != key_of(old):
        return None
    return f"api://{owner}/{new.replace('#', '%23')}{mark}{anchor}"


def _replaced_pointer(written: str, old: str, new: str) -> str | None:
    """A reference between descriptions (RFC 6901), of which only the last part names the symbol."""
    before, after = old.rpartition("."), new.rpartition(".")
    if before[0] != after[0] or not written.endswith("/" + before[2]):
        return None
    return written[: len(written) - len(before[2])] + after[2]


def _shortened(head: str, old: str, new: str) -> str | None:
    """The new path without what the author left out of the old one."""
    key, old_key, new_key = key_of(head), key_of(old), key_of(new)
    if key == old_key:
        return new
    if not old_key.endswith("." + key):
        return new if "." in key else None  # Another name of it, such as one through an import.
    left_out = old_key[: len(old_key) - len(key)]
    if not new_key.startswith(left_out):
        return new
    return new[len(left_out) :] if "::" not in new else new[len(_spelt(left_out)) :]


def _spelt(left_out: str) -> str:
    return left_out.replace(".", "::")


def apply_edits(text: str, edits: Iterable[Edit]) -> tuple[str, list[Edit], list[SkippedEdit]]:
    """The text with its edits, those that were made, and those that were not.

    An edit is made only where its line has the name, as a whole word and not already edited: at its
    column, else if the name stands there once. Each mention has an edit of its own.
    """
    lines = text.split("\n")
    made: list[Edit] = []
    left: list[SkippedEdit] = []
    taken: dict[int, list[tuple[int, int]]] = {}
    places: list[tuple[Edit, int]] = []
    for edit in sorted(edits):
        if not 1 <= edit.line <= len(lines):
            left.append(SkippedEdit(edit, "the file is shorter than when it was gathered"))
            continue
        spans = taken.setdefault(edit.line, [])
        at = _find(lines[edit.line - 1], edit, spans)
        if at is None:
            left.append(SkippedEdit(edit, f"the line does not hold {edit.written} once and apart"))
            continue
        spans.append((at, at + len(edit.written)))
        places.append((edit, at))
    for edit, at in sorted(places, key=lambda p: (p[0].line, -p[1])):
        line = lines[edit.line - 1]
        lines[edit.line - 1] = line[:at] + edit.replacement + line[at + len(edit.written) :]
        made.append(edit)
    return "\n".join(lines), sorted(made), left


def _find(line: str, edit: Edit, taken: list[tuple[int, int]]) -> int | None:
    found = [
        m.start() for m in re.finditer(re.escape(edit.written), line)
        if _is_apart(line, m.start(), m.end()) and all(m.end() <= s or m.start() >= e for s, e in taken)
    ]  # fmt: skip
    if edit.column and edit.column - 1 in found:
        return edit.column - 1
    return found[0] if len(found) == 1 else None


def _is_apart(line: str, start: int, end: int) -> bool:
    """Whether a name is not a part of a longer one; a full stop behind it ends a sentence."""
    before = line[start - 1 : start]
    after = line[end : end + 1]
    if after == "." and not re.match(r"\.\w", line[end:]):
        after = ""
    starts = not (before and _NAME_CHARS.match(before)) or not _NAME_CHARS.match(line[start : start + 1])
    return starts and not (after and re.match(r"[\w.:#/]", after) and line[end - 1 : end] not in ")`")


def unified_diff(file: str, old: str, new: str) -> str:
    """The change of one file as ``git apply`` takes it; empty for none."""
    if old == new:
        return ""
    diff = difflib.unified_diff(_lines(old), _lines(new), f"a/{file}", f"b/{file}", n=3)
    body = "".join(line if line.endswith("\n") else f"{line}\n\\ No newline at end of file\n" for line in diff)
    return f"diff --git a/{file} b/{file}\n{body}"


def added_file(file: str, text: str) -> str:
    """A new file, as ``git apply`` takes it; empty for one without text."""
    changed = unified_diff(file, "", text)
    head, _, body = changed.partition("--- ")
    return f"{head}new file mode 100644\n--- /dev/null\n{body.partition(chr(10))[2]}" if changed else ""


def _lines(text: str) -> list[str]:
    parts = text.split("\n")
    return [part + "\n" for part in parts[:-1]] + ([parts[-1]] if parts[-1] else [])


def patch_files(edits: list[Edit], read: Callable[[str], bytes], folder: str) -> tuple[str, int, list[str]]:
    """(diff, names mended, what was left with its reason). folder: of the source in its repository."""
    by_file: dict[str, list[Edit]] = defaultdict(list)
    for edit in edits:
        by_file[edit.file].append(edit)
    diff, made, left = "", 0, []
    for file, wanted in sorted(by_file.items()):
        old = read(file).decode("utf-8", errors="surrogateescape")
        new, done, not_done = apply_edits(old, wanted)
        name = f"{folder.strip('/')}/{file}" if folder.strip("/") else file
        diff += unified_diff(name, old, new)
        made += len(done)
        left += [f"{name}:{n.edit.line}: {n.edit.written}: {n.reason}" for n in not_done]
    return diff, made, left
