"""People and teams, who may read what, tokens, sessions, and who did what."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, Any
from urllib.parse import quote

from zarbek.client import values
from zarbek.client.methods.caller import API, Caller

if TYPE_CHECKING:
    from zarbek.client.values.people import AuditEntry, Person, ProjectMember, SignIn, Team, Token, Visibility


class People(Caller):
    """People and teams, who may read what, tokens, sessions, and who did what."""

    def tokens(self) -> list[Token]:
        """One's own tokens, and those for projects that one owns; without their secrets."""
        return self._get("/tokens", list[values.Token])

    def create_token(
        self, name: str, *, project: str = "", scope: str | None = None, days: int | None = None
    ) -> Token:  # fmt: skip
        """A new token; the answer alone holds it.

        days: how long it lasts; None for ever. project: the only one that it is for; empty for all. scope: read,
        publish or manage; None to publish a project or, for none, to manage all.
        """
        return self._post("/tokens", {"name": name, "project": project, "scope": scope, "days": days}, values.Token)

    def rotate_token(self, token_id: int, *, hours: int = 24) -> Token:
        """A token in the place of another, which goes on for so many hours; the answer alone holds it."""
        return self._post(f"/tokens/{token_id}/rotation", {"hours": hours}, values.Token)

    def revoke_token(self, token_id: int) -> None:
        """End a token at once."""
        self._delete(f"/tokens/{token_id}")

    def people(self) -> Iterator[Person]:
        """Every account, by name."""
        return self._pages("/people", values.Person)

    def add_person(
        self, name: str, password: str, *, email: str = "", is_administrator: bool = False
    ) -> Person:  # fmt: skip
        """A new account that signs in by password."""
        body = {"name": name, "password": password, "email": email, "is_administrator": is_administrator}
        return self._post("/people", body, values.Person)

    def change_person(self, name: str, **changes: Any) -> Person:
        """changes: is_active, is_administrator, email, password; what is left out stays."""
        return self._post(f"/people/{quote(name, safe='')}", changes, values.Person, "PUT")

    def end_sessions_of(self, name: str) -> None:
        """Sign an account out everywhere."""
        self._delete(f"/people/{quote(name, safe='')}/sessions")

    def change_password(self, old: str, new: str) -> None:
        """Change one's own password; every session of the account ends."""
        self._put("/session/password", {"old": old, "new": new})

    def sessions(self) -> list[SignIn]:
        """Where one is signed in, the last used first."""
        return self._get("/sessions", list[values.SignIn])

    def end_session(self, session_id: int) -> None:
        """End one of one's own sessions at once."""
        self._delete(f"/sessions/{session_id}")

    def teams(self) -> list[Team]:
        """Every team, by name."""
        return self._get("/teams", list[values.Team])

    def set_team(self, name: str, people: Sequence[str]) -> Team:
        """Exactly these accounts are in a team; it is made where there is none."""
        return self._post(f"/teams/{quote(name, safe='')}", {"people": list(people)}, values.Team, "PUT")

    def remove_team(self, name: str) -> None:
        """What its members had a part in by it, they have no longer."""
        self._delete(f"/teams/{quote(name, safe='')}")

    def visibility(self, slug: str) -> Visibility:
        """Who may read a project."""
        return self._get(f"/projects/{quote(slug)}/visibility", values.Visibility)

    def set_visibility(self, slug: str, visibility: str) -> Visibility:
        """visibility: public, inside or teams."""
        body = {"visibility": visibility}
        return self._post(f"/projects/{quote(slug)}/visibility", body, values.Visibility, "PUT")

    def project_members(self, slug: str) -> list[ProjectMember]:
        """Who has which part in a project; those who have it in all come first."""
        return self._get(f"/projects/{quote(slug)}/members", list[values.ProjectMember])

    def set_project_member(self, slug: str, role: str, *, user: str = "", team: str = "") -> list[ProjectMember]:
        """role: reader, maintainer or owner. Either a user or a team."""
        body = {"role": role, "user": user, "team": team}
        return self._post(f"/projects/{quote(slug)}/members", body, list[values.ProjectMember], "PUT")

    def remove_project_member(self, slug: str, *, user: str = "", team: str = "") -> None:
        """Take a part in a project away."""
        self._delete(f"/projects/{quote(slug)}/members", user=user, team=team)

    def portal_members(self) -> list[ProjectMember]:
        """Who has which part in all projects; administrators besides."""
        return self._get("/members", list[values.ProjectMember])

    def set_portal_member(self, role: str, *, user: str = "", team: str = "") -> list[ProjectMember]:
        """The same part in all projects."""
        body = {"role": role, "user": user, "team": team}
        return self._post("/members", body, list[values.ProjectMember], "PUT")

    def remove_portal_member(self, *, user: str = "", team: str = "") -> None:
        """Take a part in all projects away."""
        self._delete("/members", user=user, team=team)

    def audit(self, *, project: str = "", action: str = "", actor: str = "") -> Iterator[AuditEntry]:
        """What was done, newest first."""
        return self._pages("/audit", values.AuditEntry, project=project, action=action, actor=actor)

    def audit_lines(self, project: str = "") -> Iterator[str]:
        """All that was done, to a project or in the portal, oldest first, a line of JSON each."""
        asked = f"?project={quote(project)}" if project else ""
        with self._transport.stream(f"{API}/audit/lines{asked}", "application/x-ndjson") as response:
            yield from (line.decode().rstrip("\n") for line in response)
