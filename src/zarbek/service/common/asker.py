"""Who asks: set for the time of a request, so that whatever is read and written in it knows for whom.

A process that works for nobody in particular asks as the portal itself. One that answers requests asks as nobody
unless a request says otherwise: what is read outside of one by mistake shows what everybody may see.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, field
from typing import Any, TypeVar

T = TypeVar("T")

#: Remembered of an asker where something is kept from some of those who ask.
APART = "apart"
#: Remembered of an asker: the edition that was asked for.
EDITION = "edition"
#: What a token may be used for; each includes those before it.
SCOPES = ("read", "publish", "manage")


@dataclass(frozen=True, slots=True)
class Asker:
    """user: id of an account, None for none, and its name; or team: id of one that is told something. project: the only
    one that the token is for; scope: what for. token: its name. address: of the client. remembered: what was found out
    about the asker meanwhile."""

    user: int | None = None
    name: str = ""
    is_administrator: bool = False
    project: str = ""
    scope: str = "manage"
    token: str = ""
    address: str = ""
    is_portal: bool = False
    team: int | None = None
    remembered: dict[str, object] = field(default_factory=dict, compare=False, repr=False)

    @property
    def sees_everything(self) -> bool:
        """Whether nothing of the portal is kept from the asker."""
        return self.is_portal or (self.is_administrator and not self.project)

    def has_scope(self, scope: str) -> bool:
        """Whether the token, if there is one, may be used for this."""
        return SCOPES.index(self.scope) >= SCOPES.index(scope)


PORTAL = Asker(is_portal=True, name="portal")
_asker: ContextVar[Asker | None] = ContextVar("asker", default=None)
_otherwise = {"asker": PORTAL}


def current_asker() -> Asker:
    """Who asks now."""
    return _asker.get() or _otherwise["asker"]


def ask_as_nobody_by_default() -> None:
    """From now on this process asks as nobody where nobody else is named."""
    _otherwise["asker"] = Asker()


@contextmanager
def asking(asker: Asker) -> Iterator[None]:
    """What is read and written meanwhile is for an asker."""
    token = _asker.set(asker)
    try:
        yield
    finally:
        _asker.reset(token)


def ask_as(asker: Asker) -> None:
    """Within ``asking``: it turned out who asks."""
    _asker.set(asker)


def asker_of(request: Any) -> Asker:
    """Who a request is from, by its session or its token."""
    user, token = request.user, getattr(request, "auth", None)
    address = str(request.META.get("REMOTE_ADDR", ""))
    if not user.is_authenticated:
        return Asker(address=address)
    by_token = {"project": token.project, "scope": token.scope, "token": token.name} if token is not None else {}
    return Asker(user.pk, user.get_username(), user.is_staff, address=address, **by_token)


def for_asker(items: Iterable[T]) -> Iterator[T]:
    """What is made bit by bit, after its request is over, for whoever asked then."""
    asker, iterator = current_asker(), iter(items)

    def each() -> Iterator[T]:
        while True:
            with asking(asker):
                try:
                    item = next(iterator)
                except StopIteration:
                    return
            yield item

    return each()
