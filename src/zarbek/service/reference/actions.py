"""Storing what a bundle holds: content once, and which content a release has."""

from __future__ import annotations

import mimetypes
from collections import defaultdict
from collections.abc import Callable
from hashlib import sha256

import msgspec
from django.core.files.base import ContentFile

from zarbek.core.linking.index import SymbolEntry, entry_of, page_entry_of
from zarbek.core.material.bundlefile import BundleReader
from zarbek.core.model.bundle import Scope
from zarbek.core.model.relocation import detach
from zarbek.service.catalog.models import Project, Release
from zarbek.service.common.batches import batched
from zarbek.service.common.packing import digest_of, pack
from zarbek.service.reference.contents import BlockEntry, ModuleBlock, PageRef, ReleaseContents
from zarbek.service.reference.models import Asset, Block, PageContent, SymbolContent


def store_release(release: Release, bundle: BundleReader, *, progress: Callable[[int, int], None]) -> ReleaseContents:
    """Store a bundle's content and return its layout; what is known already is written not again.

    Raises BundleRefused while reading. Storing twice changes nothing.
    """
    project = release.project
    total = bundle.manifest.counts.get("symbols", 0)
    modules = _store_symbols(project, bundle, lambda done: progress(done, total))
    scopes = {scope.module: scope for scope in bundle.scopes()}
    blocks = {
        name: pack(ModuleBlock(scopes.get(name, Scope("", name)), entries)) for name, entries in sorted(modules.items())
    }
    aliases = list(bundle.aliases())
    pages = _store_pages(project, bundle)
    documents = [*blocks.values(), pack(aliases), pack(pages)]
    ids = _store_blocks(project, documents)
    return ReleaseContents(
        {name: ids[digest_of(document)] for name, document in blocks.items()},
        ids[digest_of(documents[-2])], ids[digest_of(documents[-1])], _store_assets(project, bundle),
    )  # fmt: skip


def _store_symbols(
    project: Project, bundle: BundleReader, progress: Callable[[int], None]
) -> dict[str, list[BlockEntry]]:
    encode = msgspec.json.Encoder().encode
    modules: dict[str, list[BlockEntry]] = defaultdict(list)
    done = 0
    # A project's first release finds nothing that it could share, so it does not look.
    is_first = not SymbolContent.objects.filter(project=project).exists()
    for batch in batched(bundle.symbols()):
        rows: list[tuple[str, SymbolEntry, bytes]] = []
        for symbol in batch:
            document = encode(detach(symbol))
            rows.append((digest_of(document), entry_of(symbol), document))
        known = {} if is_first else _known(SymbolContent, project, [digest for digest, _, _ in rows])
        missing = {d: (entry.path, doc) for d, entry, doc in rows if d not in known}
        made = SymbolContent.objects.bulk_create(
            [SymbolContent(project=project, digest=d, path=p, document=doc) for d, (p, doc) in missing.items()]
        )
        known.update((row.digest, row.pk) for row in made)
        for digest, entry, _ in rows:
            modules[entry.module].append(BlockEntry(entry, known[digest]))
        done += len(batch)
        progress(done)
    return modules


def _known(model: type, project: Project, digests: list[str]) -> dict[str, int]:
    rows = model.objects.filter(project=project, digest__in=digests)  # type: ignore[attr-defined]
    return dict(rows.values_list("digest", "pk"))


def _store_blocks(project: Project, documents: list[bytes]) -> dict[str, int]:
    by_digest = {digest_of(document): document for document in documents}
    ids: dict[str, int] = {}
    for batch in batched(by_digest.items()):
        known = _known(Block, project, [digest for digest, _ in batch])
        made = Block.objects.bulk_create(
            [Block(project=project, digest=d, document=doc) for d, doc in batch if d not in known]
        )
        ids.update(known)
        ids.update((block.digest, block.pk) for block in made)
    return ids


def _store_pages(project: Project, bundle: BundleReader) -> list[PageRef]:
    encode = msgspec.json.Encoder().encode
    stored: list[PageRef] = []
    for page in bundle.pages():
        document = encode(msgspec.structs.replace(page, order=-1, depth=0))
        row, _ = PageContent.objects.get_or_create(
            project=project, digest=digest_of(document), defaults={"path": page.path, "document": document}
        )
        stored.append(PageRef(page_entry_of(page), row.pk))
    return stored


def _store_assets(project: Project, bundle: BundleReader) -> dict[str, str]:
    stored: dict[str, str] = {}
    for name in bundle.asset_names():
        data = bundle.asset(name)
        digest = sha256(data).hexdigest()
        if not Asset.objects.filter(project=project, digest=digest).exists():
            asset = Asset(project=project, digest=digest, media_type=mimetypes.guess_type(name)[0] or "")
            asset.file.save(f"{digest[:2]}/{digest}", ContentFile(data), save=False)
            asset.save()
        stored[name] = digest
    return stored
