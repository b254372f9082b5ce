"""A finding: one problem, as a value."""

from __future__ import annotations

from typing import Literal

import msgspec

from zarbek.core.model.limits import File, Fingerprint, Number, Owner, Path, RuleId

Severity = Literal["error", "warning", "note"]


class Finding(msgspec.Struct, frozen=True, omit_defaults=True):
    """One problem in one place.

    rule: ``family/name``. subject: path of the symbol or page where it stands.
    text: what was written, with before and after for its surroundings on the line.
    target: what it was about: ``PROJECT/PATH`` or a name. suggestion: the likely name to
    write in its place; certain: whether that is beyond doubt; why: its reason.
    was, now: declarations or texts, old beside new. fingerprint: 16 hexadecimal digits that survive
    line moves. places: how often the text has it.
    """

    rule: RuleId
    severity: Severity
    subject: Path
    message: str
    subject_kind: str = "symbol"
    file: File = ""
    line: Number = 0
    column: Number = 0
    text: str = ""
    before: str = ""
    after: str = ""
    target: str = ""
    suggestion: str = ""
    certain: bool = False
    why: str = ""
    fingerprint: Fingerprint = ""
    owner: Owner = ""
    was: str = ""
    now: str = ""
    places: Number = 1

    @property
    def family(self) -> str:
        """What a rule's name begins with: dangling, stale or text."""
        return self.rule.partition("/")[0]

    @property
    def is_note(self) -> bool:
        """Whether it is merely worth knowing: told apart, and never held against a release."""
        return self.severity == "note"

    @property
    def about(self) -> str:
        """Slug of the project that it is about, where that is known."""
        return self.target.partition("/")[0] if "/" in self.target and "://" not in self.target else ""

    def sort_key(self) -> tuple[str, int, int, str, str]:
        """By place, then by rule."""
        return (self.file, self.line, self.column, self.rule, self.text)
