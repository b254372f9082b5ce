"""The rules: stable ids, meanings and default severities. An id is never reused."""

from __future__ import annotations

from dataclasses import dataclass

from zarbek.core.model.finding import Severity


@dataclass(frozen=True, slots=True)
class Rule:
    id: str
    severity: Severity
    meaning: str
    mend: str


RULES = (
    Rule("dangling/project", "error", "The text names a project that the portal does not have.", "Correct the name, or publish the project."),
    Rule("dangling/version", "error", "The text names a release that was never published.", "Name a published release, or leave the version out."),
    Rule("dangling/symbol", "error", "The text names a symbol that its project does not have in the release that counts.", "Write the name that took its place."),
    Rule("dangling/page", "error", "The text links to a guide that is not there.", "Correct the path."),
    Rule("dangling/anchor", "error", "The page is there, the section is not.", "Correct the part after #."),
    Rule("dangling/asset", "error", "The text shows a picture that is not there.", "Add the file, or correct the path."),
    Rule("dangling/ambiguous", "warning", "The name means several things.", "Write more of the name."),
    Rule("dangling/hidden", "warning", "The target exists, but its readers may not see it.", "Name something public."),
    Rule("stale/deprecated", "warning", "The target is deprecated.", "Name what the deprecation tells to use."),
    Rule("stale/removed-later", "warning", "The text names an older release; a later one has removed the target.", "Name what took its place in the newest release."),
    Rule("stale/older-release", "note", "The text names a release that is not the newest.", "Leave the version out, unless the old one is meant."),
    Rule("stale/parameter", "warning", "The text describes a parameter that the signature does not have.", "Rename or remove the description."),
    Rule("text/type-conflict", "warning", "The text and the signature give different types.", "Remove the type from the text."),
    Rule("text/wrong-comment", "note", "An ordinary comment stands right above a public element that has no documentation.", "Write it in the language's documentation form."),
    Rule("text/unreached-page", "warning", "No table of contents reaches the guide.", "Add it to guides.contents in zarbek.toml."),
    Rule("text/unreadable", "warning", "A file, or a part of one, could not be read and was left out.", "Mend it, name the macro that hides it in zarbek.toml, or exclude the file."),
)  # fmt: skip
SEVERITIES: dict[str, Severity] = {rule.id: rule.severity for rule in RULES}
SEVERITY_ORDER = ("note", "warning", "error")


def at_least(severity: str, level: str) -> bool:
    """Whether a severity reaches a level."""
    return SEVERITY_ORDER.index(severity) >= SEVERITY_ORDER.index(level)
