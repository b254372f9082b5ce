"""What one page says differently in two releases, section by section and word by word."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from difflib import SequenceMatcher
from operator import attrgetter
from typing import Literal

import msgspec

from zarbek.core.model.page import Section

#: Of a section so many sentences are compared one by one, and so many words of sentences that differ.
MAX_SENTENCES, MAX_WORDS = 1_000, 200
#: Of a page so many pairs of sentences and of words are looked at in all: what is made to take long is told as a whole.
_PAIRS_OF_SENTENCES, _PAIRS_OF_WORDS = 4_000_000, 400_000
#: So many sections that differ are told, and so many words that stand beside those that do.
MAX_SECTIONS, CONTEXT = 200, 8
_SENTENCE = re.compile(r"(?<=[.!?;:])\s+")


class Passage(msgspec.Struct, frozen=True):
    """Words that both releases say, that went, or that came. What stays is cut in the middle where it is long."""

    sign: Literal["same", "gone", "come"]
    text: str


class SectionChange(msgspec.Struct, frozen=True):
    """What became of one section. anchor: its place in the newer release, or where it was for ``removed``; empty for
    what stands before all of them, as is title."""

    kind: Literal["removed", "added", "text"]
    anchor: str
    title: str
    passages: list[Passage]


class PageWords(msgspec.Struct, frozen=True):
    """page: its path in the newer release; was: in the older one. sections: those that differ, in the order of the
    newer release, what went at the end. more: whether further ones differ that are not told."""

    project: str
    old: str
    new: str
    page: str
    was: str
    sections: list[SectionChange]
    more: bool = False


def compare_sections(old: Iterable[Section], new: Iterable[Section]) -> list[SectionChange]:
    """The sections of a page that differ. Those with one place belong together, else those with one title. Cost: linear
    in what stays; what differs is bounded."""
    before, after = list(old), list(new)
    pairs, differ = _pairs(before, after), _Difference()
    found: list[SectionChange] = []
    for n, section in enumerate(after):
        was = before[pairs[n]] if n in pairs else None
        is_renamed = was is not None and was.title != section.title
        passages = differ.passages(_words(was, is_renamed), _words(section, is_renamed))
        if passages:
            found.append(SectionChange("text" if was else "added", section.anchor, section.title, passages))
    kept = set(pairs.values())
    for n, section in enumerate(before):
        if n not in kept and (words := _words(section, False)):
            found.append(SectionChange("removed", section.anchor, section.title, [Passage("gone", _cut(words))]))
    return found


def _pairs(before: list[Section], after: list[Section]) -> dict[int, int]:
    """Number of a newer section to that of the older one that it was."""
    pairs: dict[int, int] = {}
    for key in (attrgetter("anchor"), attrgetter("title")):
        kept = set(pairs.values())
        left: dict[str, list[int]] = {}
        for n, section in enumerate(before):
            if n not in kept:
                left.setdefault(key(section), []).append(n)
        for n, section in enumerate(after):
            if n not in pairs and (numbers := left.get(key(section))):
                pairs[n] = numbers.pop(0)
    return pairs


def _words(section: Section | None, with_title: bool) -> str:
    """What a section says; its title, where it says no more."""
    if section is None:
        return ""
    parts = [f"{section.title}.", section.text] if with_title and section.title else [section.text or section.title]
    return " ".join(" ".join(parts).split())


class _Difference:
    """What differs sentence by sentence, and within sentences word by word, as far as that costs little."""

    def __init__(self) -> None:
        self._sentences, self._words = _PAIRS_OF_SENTENCES, _PAIRS_OF_WORDS

    def passages(self, old: str, new: str) -> list[Passage]:
        """Empty where both say the same."""
        if old == new:
            return []
        if not old or not new:
            return [Passage("come" if new else "gone", _cut(new or old))]
        before, after = _joined(_SENTENCE.split(old)), _joined(_SENTENCE.split(new))
        self._sentences -= len(before) * len(after)
        if self._sentences < 0:
            before, after = [old], [new]
        passages: list[Passage] = []
        for tag, a, b, c, d in SequenceMatcher(None, before, after).get_opcodes():
            left, right = " ".join(before[a:b]).split(), " ".join(after[c:d]).split()
            if tag == "replace" and self._are_few(left, right):
                passages += _by_words(left, right)
            else:
                passages += _replaced(left, right, is_same=tag == "equal")
        return list(_shortened(passages))

    def _are_few(self, left: list[str], right: list[str]) -> bool:
        pairs = len(left) * len(right)
        if max(len(left), len(right)) > MAX_WORDS or pairs > self._words:
            return False
        self._words -= pairs
        return True


def _joined(sentences: list[str]) -> list[str]:
    """As many as can be compared, what follows as one."""
    if len(sentences) <= MAX_SENTENCES:
        return sentences
    return [*sentences[: MAX_SENTENCES - 1], " ".join(sentences[MAX_SENTENCES - 1 :])]


def _by_words(left: list[str], right: list[str]) -> Iterator[Passage]:
    for tag, a, b, c, d in SequenceMatcher(None, left, right, autojunk=False).get_opcodes():
        yield from _replaced(left[a:b], right[c:d], is_same=tag == "equal")


def _replaced(left: list[str], right: list[str], *, is_same: bool) -> Iterator[Passage]:
    if is_same:
        yield Passage("same", " ".join(left))
        return
    if left:
        yield Passage("gone", " ".join(left))
    if right:
        yield Passage("come", " ".join(right))


def _shortened(passages: list[Passage]) -> Iterator[Passage]:
    """Neighbours of one sign as one; of what stays, the words beside what does not."""
    merged: list[Passage] = []
    for passage in passages:
        if merged and merged[-1].sign == passage.sign:
            merged[-1] = Passage(passage.sign, f"{merged[-1].text} {passage.text}")
        else:
            merged.append(passage)
    for n, passage in enumerate(merged):
        if passage.sign == "same":
            yield Passage("same", _context(passage.text.split(), is_first=n == 0, is_last=n == len(merged) - 1))
        else:
            yield Passage(passage.sign, _cut(passage.text))


def _context(words: list[str], *, is_first: bool, is_last: bool) -> str:
    before, after = 0 if is_first else CONTEXT, 0 if is_last else CONTEXT
    if len(words) <= before + after + 1:
        return " ".join(words)
    return " ".join([*words[:before], "\u2026", *words[len(words) - after :]])


def _cut(text: str) -> str:
    words = text.split(None, MAX_WORDS)
    return text if len(words) <= MAX_WORDS else " ".join([*words[:MAX_WORDS], "\u2026"])
