"""Examples in a terminal."""

from __future__ import annotations

from rich.console import Console
from rich.text import Text

from zarbek.cli.interfacetext import plain
from zarbek.cli.terminal import print_indented
from zarbek.client.values.examples import ExercisedElement, TestExample, TestExamplePart, TestVerdict

STATES = {"passed": "passed", "failed": "failed", "skipped": "skipped", "not-run": "not run"}


def went(verdict: TestVerdict) -> str:
    """How an example went, in words."""
    took = f" in {verdict.seconds:.3g} s" if verdict.seconds is not None else ""
    at = f", {verdict.at}" if verdict.at else ""
    return f"{STATES.get(verdict.state, verdict.state)}{took}{at}" + (f": {verdict.told}" if verdict.told else "")


def print_example(example: TestExample, exercises: list[ExercisedElement], console: Console) -> None:
    """Print an example with what it calls."""
    console.print(Text(f"\n{example.title}", style="bold"))
    print_indented(Text(went(example.verdict)), 2, console)
    console.print()
    for part in example.parts:
        if part.kind != "set-up":
            print_indented(Text(_shown(part)), 2, console)
    if exercises:
        console.print(Text("\nWhat it shows", style="bold"))
        for one in exercises:
            print_indented(Text(one.name), 2, console)


def print_examples(examples: list[TestExample], home: str, console: Console) -> None:
    """Print which examples an element has. home: the project whose element it is."""
    if examples:
        console.print(Text("\nExamples from tests", style="bold"))
    for example in examples:
        where = "" if example.project == home else f" ({example.project} {example.version})"
        print_indented(Text(f"{example.title}{where}, {went(example.verdict)}"), 2, console)
        print_indented(Text(example.path, style="cyan"), 6, console)


def _shown(part: TestExamplePart) -> str:
    if part.kind != "outcome":
        return plain(part.code)
    return " ".join(filter(None, (plain(part.code), part.how, plain(part.result))))
