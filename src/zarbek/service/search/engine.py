"""The search index on tantivy. One process writes at a time; readers see a commit on reload.

The index is derived from the database. One that is lost or damaged while the portal runs makes search
say so; the next look of the chores builds it anew beside, and publishes go on meanwhile.
"""

from __future__ import annotations

import fcntl
import shutil
from collections.abc import Collection, Iterable, Iterator, Mapping
from contextlib import contextmanager
from functools import lru_cache
from itertools import chain
from pathlib import Path
from typing import Any

import tantivy
from django.conf import settings

from zarbek.core.model.naming import key_of
from zarbek.core.searching.engine_port import MAX_SUMMARY, MAX_TEXT, Document, Hit
from zarbek.core.searching.query import Query
from zarbek.core.searching.terms import edge_grams, prose_words, split_words, words_of

#: Raise when the schema changes, or what old indexes hold is wrong: the index is then built anew beside the old one.
SCHEMA_VERSION = 9
_HEAP_BYTES = 64 * 2**20
_OVERFETCH = 100
#: With fewer hits than these, near misses are looked for as well.
_ENOUGH = 3


def _schema() -> tantivy.Schema:
    builder = tantivy.SchemaBuilder()
    builder.add_unsigned_field("release", indexed=True, fast=True)
    for name in ("project", "kind", "language"):
        builder.add_text_field(name, stored=True, tokenizer_name="raw", index_option="basic")
    builder.add_text_field("mark", tokenizer_name="raw", index_option="basic")
    for name in ("path", "name", "summary", "deprecated", "anchor"):
        builder.add_text_field(name, stored=True, tokenizer_name="raw", index_option="basic")
    builder.add_unsigned_field("stored_release", stored=True)
    builder.add_text_field("exact", tokenizer_name="raw", index_option="basic")
    for name in ("grams", "parts"):
        builder.add_text_field(name, tokenizer_name="whitespace", index_option="basic")
    builder.add_text_field("text", tokenizer_name="en_stem", index_option="freq")
    return builder.build()


class IndexUnavailable(Exception):
    """The index cannot be read or written now. ``str()`` says why."""


@contextmanager
def _told() -> Iterator[None]:
    """What the engine and the disk raise, in one form. The engine has ValueError for everything."""
    try:
        yield
    except (OSError, ValueError) as error:
        raise IndexUnavailable(str(error)) from error


#: Beside the index: how far it has followed the changes; it is no index without.
POSITION = "position"


class TantivyIndex:
    """Implements the core's Index port in a folder. Raises IndexUnavailable from every method."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder / f"v{SCHEMA_VERSION}"
        self.schema = _schema()
        self._index: tantivy.Index | None = None
        self._mark = 0

    def _open(self) -> tantivy.Index:
        """The index that the folder holds now: another process may have built it anew."""
        with _told():
            if not (self.folder / POSITION).is_file():
                raise IndexUnavailable("it is being built")
            # Gone: say so, rather than answer from what is remembered. Another folder: it was built anew.
            (self.folder / "meta.json").stat()
            mark = self.folder.stat().st_ino
            if self._index is None or mark != self._mark:
                self._index = tantivy.Index(self.schema, path=str(self.folder), reuse=True)
            self._mark = mark
            self._index.reload()
            return self._index

    @contextmanager
    def _locked(self) -> Iterator[None]:
        with _told():
            self.folder.parent.mkdir(parents=True, exist_ok=True)
            lock = (self.folder.parent / "writer.lock").open("w")
        with lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            yield

    @contextmanager
    def _writer(self, index: tantivy.Index) -> Iterator[Any]:
        with _told():
            writer = index.writer(heap_size=_HEAP_BYTES, num_threads=1)
        try:
            yield writer
        finally:
            with _told():
                writer.wait_merging_threads()

    def replace(self, release: int, documents: Iterable[Document]) -> int:
        """Documents of a release in the place of those that it had; how many."""
        with self._locked(), self._writer(self._open()) as writer:
            with _told():
                self._delete(writer, release)
            count = self._add(writer, release, documents)
            with _told():
                writer.commit()
        return count

    def _delete(self, writer: Any, release: int) -> None:
        """By query: as a term the engine takes a number for a signed one, which no document has."""
        writer.delete_documents_by_query(tantivy.Query.term_query(self.schema, "release", release))

    def _add(self, writer: Any, release: int, documents: Iterable[Document]) -> int:
        count = 0
        mark = tantivy.Document()  # No search finds it: it says that the release was indexed.
        mark.add_unsigned("release", release)
        with _told():
            writer.add_document(mark)
        for document in documents:
            made = self._encode(document)
            with _told():
                writer.add_document(made)
            count += 1
        return count

    def remove(self, releases: Iterable[int]) -> None:
        """Take releases out of the index."""
        with self._locked(), self._writer(self._open()) as writer, _told():
            for release in releases:
                self._delete(writer, release)
            writer.commit()

    def position(self) -> int | None:
        """The last change that it has followed; None where there is no index that could follow any."""
        try:
            return int((self.folder / POSITION).read_text())
        except (OSError, ValueError):
            return None

    def set_position(self, position: int) -> None:
        """Say how far it has followed."""
        with _told():
            beside = self.folder / f"{POSITION}.new"
            beside.write_text(str(position))
            beside.replace(self.folder / POSITION)

    def rebuild(self, releases: Iterable[tuple[int, Iterable[Document]]], position: int = 0) -> int:
        """Build the index anew beside the old one, which is read until the new one takes its place; how
        many documents. Works from any state of the folder. position: the last change that this knows of."""
        beside = self.folder.with_name(f"{self.folder.name}.new")
        count = 0
        with self._locked():
            with _told():
                shutil.rmtree(beside, ignore_errors=True)
                beside.mkdir(parents=True)
                index = tantivy.Index(self.schema, path=str(beside), reuse=False)
            with self._writer(index) as writer:
                for release, documents in releases:
                    count += self._add(writer, release, documents)
                with _told():
                    writer.commit()
            with _told():
                del index
                (beside / POSITION).write_text(str(position))
                old = self.folder.with_name(f"{self.folder.name}.old")
                shutil.rmtree(old, ignore_errors=True)
                if self.folder.exists():
                    self.folder.rename(old)
                beside.rename(self.folder)
                shutil.rmtree(old, ignore_errors=True)
        self._index = None
        return count

    def _encode(self, document: Document) -> tantivy.Document:
        name = document.name
        made = tantivy.Document()
        made.add_unsigned("release", document.release)
        made.add_unsigned("stored_release", document.release)
        made.add_text("project", document.project)
        made.add_text("kind", document.kind)
        made.add_text("language", document.language)
        for mark in document.marks:
            made.add_text("mark", mark)
        made.add_text("path", document.path)
        made.add_text("name", name)
        made.add_text("summary", document.summary[:MAX_SUMMARY])
        made.add_text("anchor", document.anchor)
        made.add_text("deprecated", "1" if document.is_deprecated else "")
        others = {other.lower() for other in (*document.also, *document.addresses)}
        addresses = () if document.anchor else (document.path.lower(), key_of(document.path).lower())
        for exact in {name.lower(), *addresses, *others}:
            made.add_text("exact", exact)
        grams = dict.fromkeys(chain.from_iterable(map(edge_grams, (name.replace(" ", "_"), *document.addresses))))
        made.add_text("grams", " ".join(grams))
        own = name if document.anchor else document.path
        made.add_text("parts", " ".join(words_of((own, *sorted(others)))))
        made.add_text("text", f"{document.summary} {document.text}"[:MAX_TEXT])
        return made

    def count(self) -> int:
        """How many documents there are."""
        index = self._open()
        with _told():
            return index.searcher().num_docs

    @contextmanager
    def following(self) -> Iterator[bool]:
        """Whether this process is the one of its machine that follows the changes; meanwhile no other is."""
        with _told():
            self.folder.parent.mkdir(parents=True, exist_ok=True)
            lock = (self.folder.parent / "follower.lock").open("w")
        with lock:
            try:
                fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except BlockingIOError:
                yield False
                return
            yield True

    def release_ids(self, wanted: Iterable[int]) -> set[int]:
        """Those of some releases of which the index has any document."""
        searcher = self._open().searcher()
        with _told():
            return {
                pk for pk in wanted
                if searcher.search(tantivy.Query.term_query(self.schema, "release", pk), 1, count=False).hits
            }  # fmt: skip

    def search(
        self, query: Query, releases: Collection[int], limit: int, *, limits: Mapping[int, str] | None = None
    ) -> list[Hit]:
        """The best hits in some releases, the best first. limits: as the port has it."""
        limits = limits or {}
        if not (query.words or query.marks) or not releases:
            return []
        index = self._open()
        with _told():
            searcher = index.searcher()
            size = max(limit, _OVERFETCH)
            found = searcher.search(self._query(query, releases, limits, near=False), size, count=False).hits
            if len(found) < _ENOUGH:  # Near misses cost ten times as much and matter only then.
                found = searcher.search(self._query(query, releases, limits, near=True), size, count=False).hits
            return [self._decode(searcher.doc(address), score) for score, address in found]

    def _decode(self, stored: tantivy.Document, score: float) -> Hit:
        first = stored.get_first
        document = Document(
            first("stored_release"), first("project"), first("kind"), first("path"), first("name"),
            first("summary") or "", is_deprecated=bool(first("deprecated")), language=first("language") or "",
            anchor=first("anchor") or "",
        )  # fmt: skip
        return Hit(document, score)

    def _query(
        self, query: Query, releases: Collection[int], limits: Mapping[int, str], *, near: bool
    ) -> tantivy.Query:
        must, should = tantivy.Occur.Must, tantivy.Occur.Should
        clauses = [(must, _unscored(self._within(releases, limits)))]
        chosen = [("project", query.project), ("kind", query.kind), ("language", query.language)]
        for field, value in [*chosen, *(("mark", mark) for mark in query.marks)]:
            if value:
                clauses.append((must, _unscored(tantivy.Query.term_query(self.schema, field, value))))
        clauses += [(must, self._word(word, near=near)) for word in query.words]
        if query.words:
            clauses.append((should, self._boosted("exact", key_of(query.name.lower()), 30)))
        return tantivy.Query.boolean_query(clauses)

    def _within(self, releases: Collection[int], limits: Mapping[int, str]) -> tantivy.Query:
        """Documents of some releases; of those with a limit only those that are marked so."""
        whole = tantivy.Query.term_set_query(self.schema, "release", [pk for pk in releases if pk not in limits])
        must, should = tantivy.Occur.Must, tantivy.Occur.Should
        parts = [
            tantivy.Query.boolean_query([
                (must, tantivy.Query.term_set_query(self.schema, "release", [pk])),
                (must, tantivy.Query.term_query(self.schema, "mark", limits[pk])),
            ])
            for pk in releases if pk in limits
        ]  # fmt: skip
        return tantivy.Query.boolean_query([(should, q) for q in (whole, *parts)]) if parts else whole

    def _boosted(self, field: str, term: str, boost: float) -> tantivy.Query:
        return tantivy.Query.boost_query(tantivy.Query.term_query(self.schema, field, term), boost)

    def _word(self, word: str, *, near: bool) -> tantivy.Query:
        """One typed word: a name, its beginning, its parts, a word of the prose, or a near miss."""
        should, must = tantivy.Occur.Should, tantivy.Occur.Must
        lowered = key_of(word.lower().strip("().`~#"))
        clauses = [(should, self._boosted("exact", lowered, 20)), (should, self._boosted("grams", lowered[:24], 5))]
        parts = split_words(word)
        if parts:
            every = [(must, tantivy.Query.term_query(self.schema, "parts", part)) for part in parts]
            clauses.append((should, tantivy.Query.boost_query(tantivy.Query.boolean_query(every), 3)))
        for stem in _stems(word):
            clauses.append((should, self._boosted("text", stem, 1)))
        if near and len(lowered) >= 4:
            fuzzy = tantivy.Query.fuzzy_term_query(self.schema, "exact", lowered, 1, True)
            clauses.append((should, tantivy.Query.boost_query(fuzzy, 2)))
            for part in parts:
                if len(part) >= 4:
                    near = tantivy.Query.fuzzy_term_query(self.schema, "parts", part, 1, True)
                    clauses.append((should, near))
        return tantivy.Query.boolean_query(clauses)


def _unscored(query: tantivy.Query) -> tantivy.Query:
    return tantivy.Query.const_score_query(query, 0.0)


@lru_cache(maxsize=1)
def _analyzer() -> Any:
    builder = tantivy.TextAnalyzerBuilder(tantivy.Tokenizer.simple())
    return builder.filter(tantivy.Filter.lowercase()).filter(tantivy.Filter.stemmer("english")).build()


def _stems(word: str) -> list[str]:
    return [stem for part in prose_words(word) for stem in _analyzer().analyze(part)]


@lru_cache(maxsize=1)
def get_index() -> TantivyIndex:
    """The portal's index."""
    return TantivyIndex(Path(settings.SEARCH_INDEX))
