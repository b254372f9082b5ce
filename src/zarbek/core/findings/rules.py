"""The rules: stable ids, meanings and default severities. An id is never reused."""

from __future__ import annotations

from dataclasses import dataclass

from zarbek.core.model.finding import Severity


@dataclass(frozen=True, slots=True)
class Rule:
    """id: FAMILY/NAME. severity: unless a finding says otherwise. fix: what to do about it."""

    id: str
    severity: Severity
    meaning: str
    fix: str


RULES = (
    Rule("dangling/project", "error", "The text names a project that the portal does not have.", "Correct the name, or publish the project."),
    Rule("dangling/version", "error", "The text names a release that was never published.", "Name a published release, or leave the version out."),
    Rule("dangling/symbol", "error", "The text names a symbol that its project does not have in the release that counts.", "Write the name that took its place."),
    Rule("dangling/page", "error", "The text links to a guide that is not there.", "Correct the path."),
    Rule("dangling/anchor", "error", "The page is there, the section is not.", "Correct the part after #."),
    Rule("dangling/asset", "error", "The text shows a picture that is not there.", "Add the file, or correct the path."),
    Rule("dangling/column", "error", "A query or text names a column that its table does not have.", "Write the column that took its place."),
    Rule("dangling/block", "error", "A description or guide uses a block of text, a part of a file or a piece of code that is not there.", "Correct the name, or write the block."),
    Rule("dangling/label", "error", "The text refers to a label or term that no guide has, or two places have the same label.", "Correct the label, or give each place one of its own."),
    Rule("dangling/supplement", "error", "A supplement is for an element that its project does not have.", "Write the name that took its place, or remove the supplement."),
    Rule("dangling/url", "error", "The address leads to nothing.", "Correct the address, or remove the link."),
    Rule("dangling/service", "error", "A service or database that the project is gathered from does not say what it has.", "See that it runs and answers, or correct its address."),
    Rule("dangling/ambiguous", "warning", "The name means several things.", "Write more of the name."),
    Rule("dangling/hidden", "note", "The target exists, but its readers may not see it.", "Name something public."),
    Rule("stale/deprecated", "warning", "The target is deprecated.", "Name what the deprecation tells to use."),
    Rule("stale/moved", "warning", "The target has moved; the name that the text uses is kept for old callers only.", "Write the target's own name."),
    Rule("stale/changed-since", "note", "The signature or the text of the target has changed since the text that names it was written.", "Read the text again beside the target, and mend or confirm it."),
    Rule("stale/removed-later", "warning", "The text names an older release; a later one has removed the target.", "Name what took its place in the newest release."),
    Rule("stale/older-release", "note", "The text names a release that is not the newest.", "Leave the version out, unless the old one is meant."),
    Rule("stale/parameter", "warning", "The text describes a parameter that the signature does not have.", "Rename or remove the description."),
    Rule("stale/type", "warning", "The text gives a type that the signature had when it was written, and has no more.", "Give the type that the signature has, or leave it out."),
    Rule("stale/column", "warning", "A column is described that is not there or not in the database, or a query reads one whose type has changed.", "Correct the description, or read the query again."),
    Rule("stale/table", "warning", "A table is described that nothing makes any more, or that the database does not have.", "Remove the description, or correct its name."),
    Rule("stale/example", "error", "A written example does not fit the schema that it is an example of, or quotes a test that says something else now.", "Correct the example, or the schema; quote the test as it is."),
    Rule("stale/status", "warning", "The text names a status that the operation does not answer.", "Name the status that took its place."),
    Rule("stale/redirect", "note", "The address has moved for good.", "Write the new address."),
    Rule("stale/source-ahead", "note", "The repository has tags or commits that the portal has not published.", "Publish them, or have the portal fetch them."),
    Rule("stale/supplement", "warning", "A supplement stands in the place of a text that says something else now, or fills in for one that is there now.", "Read both, and mend the supplement or remove it."),
    Rule("stale/verdict", "warning", "A test that is an example failed when it was run last, or is there no more.", "Mend the test, or what it shows; give the element another example."),
    Rule("stale/result", "note", "A result is of a check that is not there.", "Run the checks again, or correct the name."),
    Rule("stale/database", "warning", "The database does not have a table or column of the newest release, or has it of another type.", "Publish the model as it is, or bring the database up to it."),
    Rule("stale/database-ahead", "note", "The database has tables or columns that the newest release does not have.", "Publish the model as it is."),
    Rule("text/type-conflict", "warning", "The text and the signature, or the database, give different types.", "Remove the type from the text, or correct the one that is wrong."),
    Rule("text/wrong-comment", "note", "An ordinary comment stands right above a public element that has no documentation.", "Write it in the language's documentation form."),
    Rule("text/undocumented", "note", "Public elements have no documentation.", "Write a sentence on each."),
    Rule("text/duplicate-definition", "warning", "A name is defined twice; the later definition hides the former and its documentation.", "Rename or remove one of them."),
    Rule("text/hides-break", "note", "The release breaks callers, and its version number says that it does not.", "Publish the change under the number that it asks for."),
    Rule("text/contested-name", "warning", "Two projects say that a namespace or package is their own.", "Correct the one that is wrong, or ask an administrator to decide: zarbek names --give NAME --to PROJECT."),
    Rule("text/unreached-page", "warning", "No table of contents reaches the guide, or no page of its tree leads to it.", "Add it to guides.contents in zarbek.toml, or link to it."),
    Rule("text/duplicate-page", "warning", "Two guides have the same address; one of them is not shown.", "Give one of the files another name."),
    Rule("text/unused-asset", "note", "No guide shows a picture that lies among them.", "Show it, or remove it."),
    Rule("text/leaves-tree", "note", "A link of a page leads out of the folder that was gathered.", "Gather the folder that holds both, or say in trees.address where the tree is published."),
    Rule("text/duplicate-anchor", "note", "A place stands more than once in a page; links lead to the first.", "Give each place a name of its own."),
    Rule("text/unused-block", "note", "No description uses a block of text.", "Remove it, or use it."),
    Rule("text/untold", "note", "The database has tables or columns of which nothing tells.", "Describe them."),
    Rule("text/breaks-standard", "warning", "A description or schema breaks the standard of its format; what is right in it was read.", "Correct it at the line that the finding names."),
    Rule("text/unreadable", "warning", "A file, or a part of one, could not be read and was left out.", "Mend it, name the macro that hides it in zarbek.toml, or exclude the file."),
)  # fmt: skip
SEVERITIES: dict[str, Severity] = {rule.id: rule.severity for rule in RULES}
SEVERITY_ORDER = ("note", "warning", "error")


#: Severities that count in totals and may stop something; a note is only worth knowing.
COUNTED = SEVERITY_ORDER[1:]


def at_least(severity: str, level: str) -> bool:
    """Whether a severity reaches a level."""
    return SEVERITY_ORDER.index(severity) >= SEVERITY_ORDER.index(level)
