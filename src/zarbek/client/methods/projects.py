"""Projects and their releases: what there is, how long it is kept up, what holds it back."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, Any
from urllib.parse import quote

from zarbek.client import values
from zarbek.client.methods.caller import Caller, release_path

if TYPE_CHECKING:
    from zarbek.client.values.dashboard import Dashboard
    from zarbek.client.values.projects import Claim, Hold, Manifest, Policy, Project, Release, Support


class Projects(Caller):
    """Projects and their releases: what there is, how long it is kept up, what holds it back."""

    def projects(self) -> Iterator[Project]:
        """Every project, by slug, fetched as they are asked for."""
        return self._pages("/projects", values.Project)

    def project(self, slug: str) -> Project:
        """A project with its releases."""
        return self._get(f"/projects/{quote(slug)}", values.Project)

    def releases(self, slug: str) -> Iterator[Release]:
        """A project's releases, newest first, previews last."""
        return self._pages(f"/projects/{quote(slug)}/releases", values.Release)

    def manifest(self, slug: str, version: str = "latest") -> Manifest:
        """A release's manifest, as it was published."""
        return self._get(f"{release_path(slug, version)}/manifest", values.Manifest)

    def dashboard(self) -> Dashboard:
        """What happened lately, and the portal's health in figures."""
        return self._get("/dashboard", values.Dashboard)

    def policy(self, slug: str) -> Policy:
        """When releases of a project are held back from latest."""
        return self._get(f"/projects/{quote(slug)}/policy", values.Policy)

    def set_policy(self, slug: str, policy: dict[str, Any]) -> Policy:
        """Hold releases with such findings back from latest; an empty one ends that."""
        return self._post(f"/projects/{quote(slug)}/policy", policy, values.Policy, "PUT")

    def override_hold(self, slug: str, version: str, why: str) -> Hold:
        """Make a release that is held back the latest, for a reason."""
        return self._post(f"{release_path(slug, version)}/hold", {"why": why}, values.Hold)

    def set_support(self, slug: str, version: str, support: str) -> Support:
        """support: supported, retired, or empty for the rule."""
        return self._post(f"{release_path(slug, version)}/support", {"support": support}, values.Support, "PUT")

    def remove_project(self, slug: str) -> None:
        """With all its releases, findings, sources and tokens."""
        self._delete(f"/projects/{quote(slug)}")

    def remove_release(self, slug: str, version: str) -> None:
        """With its pages; what refers to it dangles from then on."""
        self._delete(release_path(slug, version))

    def names(self, project: str = "", *, contested: bool = False) -> Iterator[Claim]:
        """Names that projects say are their own; contested: those that several claim and nobody has decided."""
        return self._pages("/names", values.Claim, project=project, contested="true" if contested else "")

    def decide_name(self, name: str, projects: Sequence[str]) -> list[Claim]:
        """Give a name to one of the projects that claim it, or to several together."""
        return self._post("/names", {"name": name, "projects": list(projects)}, list[values.Claim], "PUT")
