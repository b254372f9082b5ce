"""``zarbek policy``"""

from __future__ import annotations

import argparse
from typing import Any, TextIO

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for
from zarbek.client.values.projects import Policy
from zarbek.core.findings.gates import FAMILIES
from zarbek.core.findings.rules import COUNTED

EXAMPLE = "zarbek policy crewroster --hold error --family dangling"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", help="the project's slug")
    what = parser.add_mutually_exclusive_group()
    what.add_argument("--hold", choices=COUNTED, help="hold releases with such findings back from latest")
    what.add_argument("--none", action="store_true", help="hold nothing back any longer")
    what.add_argument("--let-through", metavar="VERSION", help="let a release that is held back become latest")
    parser.add_argument("--family", action="append", choices=FAMILIES, default=[], help="with --hold: only this family")
    parser.add_argument("--rule", action="append", default=[], help="with --hold: only this rule")
    parser.add_argument("--more-than", type=int, default=0, metavar="N", help="with --hold: let so many pass")
    parser.add_argument("--count-open", action="store_true", help="with --hold: count findings that stood before")
    parser.add_argument("--why", default="", help="with --let-through: the reason")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print a project's policy; first change it or let a release through, where told to."""
    console = console_for(out)
    with open_portal(options) as portal:
        if options.let_through:
            done = portal.override_hold(options.project, options.let_through, options.why)
            console.print(f"{options.project} {done.version} was let through by {done.released_by}.")
            return Exit.FINE
        if options.hold or options.none:
            policy = portal.set_policy(options.project, {} if options.none else _policy_of(options))
        else:
            policy = portal.policy(options.project)
    if options.json:
        write_json(policy, out)
    else:
        console.print(sentence_of(policy))
    return Exit.FINE


def _policy_of(options: argparse.Namespace) -> dict[str, Any]:
    return {"severity": options.hold, "families": options.family, "rules": options.rule,
            "more_than": options.more_than, "new_only": not options.count_open}  # fmt: skip


def sentence_of(policy: Policy) -> str:
    """What a policy does, in words."""
    if not policy.severity:
        return "Nothing holds a release back from latest."
    which = [*policy.families, *policy.rules]
    most = policy.more_than
    return (
        f"A release is held back from latest by {f'more than {most}' if most else 'any'} "
        f"{'new ' if policy.new_only else ''}finding{'s' if most else ''} of severity "
        f"{policy.severity} or worse" + (f", of {', '.join(which)}." if which else ".")
    )
