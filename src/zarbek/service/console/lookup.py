"""What names mean on one page."""

from __future__ import annotations

from functools import cached_property

from zarbek.core.linking.index import ReleaseIndex
from zarbek.core.linking.profile import profile_of
from zarbek.core.linking.resolver import Resolver
from zarbek.service.catalog.models import Release
from zarbek.service.links.portal import DatabasePortal
from zarbek.service.reference.queries import get_manifest, load_index


class PageLookup:
    """A release's names for one page. Cost: a resolver, which takes a look at every symbol of the release, once
    a language, and only where it is asked for."""

    def __init__(self, release: Release) -> None:
        self.release = release
        self._resolvers: dict[str, Resolver] = {}

    @cached_property
    def index(self) -> ReleaseIndex:
        return load_index(self.release.pk)

    @cached_property
    def portal(self) -> DatabasePortal:
        return DatabasePortal(get_manifest(self.release.pk))

    def resolver(self, language: str) -> Resolver:
        if language not in self._resolvers:
            self._resolvers[language] = Resolver(self.index, self.portal, profile_of(language))
        return self._resolvers[language]
