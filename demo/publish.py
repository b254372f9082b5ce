"""Publish Halmere Ferries through the real path: repositories, gather, publish, report.

usage: publish.py STATE_FOLDER, with ZARBEK_URL and ZARBEK_TOKEN set
"""

from __future__ import annotations

import os
import secrets
import subprocess
import sys
from pathlib import Path

import gateway
from build import WRITTEN_HOST, build_all

from zarbek.client import Portal
from zarbek.core.findings.formats.wording import faults_of

#: Where the stand-ins for the world outside are, as the handbook's links say too.
STANDINS = os.environ.get("ZARBEK_STANDINS", f"http://{WRITTEN_HOST}")
ROOT = Path(__file__).resolve().parent.parent
#: In the order of their days: each release meets what was out when it came.
ORDER = (
    ("tidebook", "1.0.0"), ("crewroster", "1.0.0"), ("harbour-handbook", "1.0"),
    ("tidebook", "1.1.0"), ("crewroster", "2.0.0"), ("harbour-handbook", "1.1"),
    ("tidebook", "2.0.0"), ("harbour-handbook", "1.2"), ("tidebook", "2.1.0"),
    ("berthplan", "1.0.0"), ("keelmath", "0.3.0"), ("hullsense", "1.0.0"), ("signalmast", "1.0.0"),
    ("deckboard", "1.0.0"), ("gangway", "1.0.0"), ("fareglow", "1.0.0"), ("berthplan", "1.1.0"),
    ("crewroster", "3.0.0"), ("berthplan", "2.0.0"), ("fareglow", "1.1.0"), ("hullsense", "2.0.0"),
    ("signalmast", "1.1.0"), ("gangway", "1.1.0"), ("deckboard", "2.0.0"), ("harbour-handbook", "1.3"),
    ("keelmath", "0.4.0"), ("crewroster", "3.1.0"), ("quayside", "1.0.0"), ("cargo-manifest", "1.0.0"),
    ("fleet-events", "1.0.0"), ("fareglow", "1.2.0"), ("harbour-handbook", "1.4"), ("quayside", "1.1.0"),
    ("fleet-events", "1.1.0"), ("cargo-manifest", "1.1.0"), ("quayside", "2.0.0"),
    ("pontoon", "1.0.0"), ("crewroster", "3.2.0"), ("harbour-handbook", "1.5"), ("pontoon", "1.1.0"),
    ("pontoon", "2.0.0"), ("logbook", "1.0.0"), ("tally", "1.0.0"), ("harbour-handbook", "1.6"),
    ("fleet-events", "1.2.0"), ("logbook", "1.1.0"), ("logbook", "1.2.0"),
    ("harbour-handbook", "1.7"),
)  # fmt: skip


def main(state: Path) -> None:
    """Publish the demo; state: the portal's folder."""
    zarbek = str(Path(sys.executable).parent / "zarbek")
    repositories = state / "demo"
    with Portal(os.environ["ZARBEK_URL"], os.environ["ZARBEK_TOKEN"]) as portal:
        add_receivers(portal)
        published = {(p.slug, r.version) for p in portal.projects() for r in p.releases}
        missing = [pair for pair in ORDER if pair not in published]
        if missing:
            build_all(repositories, STANDINS.removeprefix("http://"))
        for slug, version in missing:
            print(f"Publishing {slug} {version} …", flush=True)
            run = publish_tag(portal, slug, version, repositories / slug)
            print(f"  {run}", flush=True)
        publish_self(zarbek, published)
        watch_services(portal)
        watch_database(portal)
        add_people(portal)
        write_words(portal)
        for project in portal.projects():
            for source in portal.sources(project.slug):
                portal.poll(source.id)
    subprocess.run([zarbek, "report", "crewroster"], check=True)


def publish_tag(portal: Portal, slug: str, version: str, repository: Path) -> str:
    """Let the portal fetch the tag by itself, as it does in daily life."""
    portal.add_source(slug, str(repository))
    (run,) = portal.fetch(slug, tag=f"v{version}")
    for _ in portal.watch(run.id):
        pass
    done = portal.run(run.id)
    if done.state != "done":
        raise SystemExit(f"{slug} {version}: {done.problem}")
    counts = done.counts
    faults = faults_of(counts["dangling"], counts["stale"]) or "all hold"
    return f"{counts['total']} references: {faults}; broke {counts['elsewhere']} elsewhere"


def add_receivers(portal: Portal) -> None:
    """Events and mail go to the stand-ins."""
    if not portal.webhooks():
        portal.add_webhook(f"{STANDINS}/events")
        portal.set_digests({"Crew systems": "crew@halmere.example", "Docs": "docs@halmere.example"})


def add_people(portal: Portal) -> None:
    """Who works at the ferry company, in which teams, with which part in a project. Nobody knows their passwords."""
    if any(person.name == "mara" for person in portal.people()):
        return
    for name in ("ivo", "lena", "mara", "oskar"):
        portal.add_person(name, secrets.token_urlsafe(24), email=f"{name}@halmere.example")
    for team, people in (("Crew systems", ["lena", "mara"]), ("Harbour systems", ["ivo", "oskar"])):
        portal.set_team(team, people)
    portal.set_project_member("crewroster", "owner", user="mara")
    portal.set_project_member("crewroster", "maintainer", team="Crew systems")
    portal.set_project_member("crewroster", "reader", team="Harbour systems")
    portal.set_project_member("tidebook", "maintainer", team="Harbour systems")
    portal.create_token("crewroster build", project="crewroster", scope="publish", days=90)
    portal.create_token("release notes", project="tidebook", scope="read", days=365)


#: What somebody who may not touch the source has to say.
WORDS = """---
for: api://crewroster/crewroster.Roster.add
how: {text: add}
keywords: [sick leave]
---

# Remarks

Who is on sick leave stays on the roster: harbours ask for the names. Add a duty on
[standby](api://crewroster/crewroster.DutyKind) for somebody else instead of taking the person out.

# See also

- [How rest is checked](api://crewroster/crewroster.rest.check_rest)
"""


def write_words(portal: Portal) -> None:
    """The crew office writes in the console, and a run brings it to readers."""
    if not list(portal.supplements("crewroster")):
        written = portal.write_supplement("crewroster", "roster-add.md", WORDS, reason="Asked for twice a week.")
        for _ in portal.watch(written.run):
            pass


def watch_services(portal: Portal) -> None:
    """What runs behind the gateway is fetched every hour; the piers ask for a key, which nobody sees."""
    portal.set_services(
        "quayside",
        [
            {
                "name": name,
                "address": f"{STANDINS}/quayside/{name}/openapi.{suffix}",
                "server": f"{STANDINS}/quayside/{name}",
                "headers": {"X-Harbour-Key": gateway.KEY} if name == "piers" else {},
                "poll_minutes": 60,
            }
            for name, suffix in (("sailings", "yaml"), ("fares", "yaml"), ("piers", "json"))
        ],
    )
    portal.poll_services("quayside")


def watch_database(portal: Portal) -> None:
    """The database of the logbook is asked every hour what it has; only the portal's environment has its password."""
    if "ZARBEK_LOGBOOK_PORT" not in os.environ:  # A MariaDB of somebody else's, in which the demo makes nothing.
        return
    address = f"mariadb://logbook_reader@127.0.0.1:{os.environ['ZARBEK_LOGBOOK_PORT']}/sea"
    portal.set_database("logbook", address, password_from="ZARBEK_CATALOG_LOGBOOK", schemas={"sea": "logbook"},
                        poll_minutes=60)  # fmt: skip
    portal.poll_database("logbook")
    for run in portal.runs("logbook"):
        for _ in portal.watch(run.id) if not run.is_over else ():
            pass


def publish_self(zarbek: str, published: set[tuple[str, str]]) -> None:
    """Zarbek's own packages and guides are a project too."""
    from zarbek import __version__

    if ("zarbek", __version__) not in published:
        print(f"Publishing zarbek {__version__} …", flush=True)
        subprocess.run(
            [zarbek, "publish", str(ROOT), "--project", "zarbek", "--json"], check=True, stdout=subprocess.DEVNULL
        )


if __name__ == "__main__":
    main(Path(sys.argv[1]))
