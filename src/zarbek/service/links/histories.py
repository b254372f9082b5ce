"""When the texts and declarations of releases last changed, as it is kept."""

from __future__ import annotations

from zarbek.core.findings.text_history import DeclarationHistory, SymbolHistory
from zarbek.service.catalog.models import Release
from zarbek.service.common.compute_once import remembering
from zarbek.service.common.packing import unpack


def read_histories(release: Release) -> tuple[dict[str, str], DeclarationHistory]:
    """When a release's texts and its declarations last changed."""
    texts, declared = release.text_history, release.declaration_history
    return (
        unpack(texts, dict[str, str]) if texts else {},
        unpack(declared, DeclarationHistory) if declared else DeclarationHistory(),
    )  # fmt: skip


@remembering(500_000, lambda history: history.size)
def get_symbol_history(release_id: int) -> SymbolHistory:
    """The same of a release that is linked, which stays as it is."""
    release = Release.objects.only("text_history", "declaration_history").get(pk=release_id)
    return SymbolHistory(*read_histories(release))
