"""Asking addresses in their turn."""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Callable, Sequence
from datetime import datetime, timedelta

from django.conf import settings
from django.db.models import F, Q
from django.db.transaction import atomic
from django.utils import timezone

from zarbek.core.findings.url_rules import Round, judge_answer
from zarbek.service.addresses.models import AddressHost, AddressList, UrlCheck
from zarbek.service.addresses.queries import Wishes, due_addresses, read_wishes
from zarbek.service.addresses.rounds import A_TURN, Asked, UrlChecker, verdict_of, witnesses
from zarbek.service.common.egress import beside

#: Seconds for which one job asks; what is left waits for its next turn, and others have theirs.
BUDGET_S = 20.0
#: Seconds after which no further address of a host is asked in its turn.
TURN_S = 5.0
#: Hosts that are asked beside one another, and for how long nobody else asks them: each turn claims them anew, and what
#: a worker that dies has claimed waits no longer.
HOSTS = 32
CLAIM = timedelta(minutes=1)
#: An address that could not be reached is asked so many times sooner than others at first: its host, or the way to it,
#: may be back.
_SOONER = 24


def ask_due(on_kept: Callable[[list[int]], None], budget_s: float = BUDGET_S) -> bool:
    """Ask the addresses whose turn it is, for a while; says whether none is due any more. Hosts are asked beside one
    another, each by one worker at a time. What an answer means depends on what others answer in the same while: it is
    kept as soon as they have shown it, the rest at the end. on_kept: told the ids of the releases that have them."""
    until, wishes, hosts = time.monotonic() + budget_s, read_wishes(), set[int]()
    good, waiting = Counter[tuple[str, str]](), list[Asked]()
    turns: list[list[UrlCheck]] = []
    try:
        with UrlChecker() as checker:
            while time.monotonic() < until and (turns := _claim(wishes, hosts)):
                answers = [a for turn in beside(lambda turn: _ask_turn(checker, turn), turns) for a in turn]
                _give_back(turns, answers)
                good.update(a.place for a in answers if a.answer.is_good)
                waiting += answers
                shown = [a for a in waiting if _round_of(a, good).shows_all]
                waiting = [a for a in waiting if not _round_of(a, good).shows_all]
                on_kept(keep_round(shown, good))
            answers = beside(checker.ask, witnesses(waiting, set(good)))
        good.update(a.place for a in answers if a.answer.is_good)
        on_kept(keep_round([*waiting, *answers], good))
    finally:
        # The pause between two requests to a host is kept whoever asks next.
        free = timezone.now() + timedelta(seconds=settings.URL_PAUSE_S)
        AddressHost.objects.filter(pk__in=hosts).update(claimed_until=free, asked_at=timezone.now())
    return not turns


def _ask_turn(checker: UrlChecker, turn: list[UrlCheck]) -> list[Asked]:
    """Answers of the addresses of one host in their order; the rest of them wait where it is slow, as all others wait
    for it."""
    until, answers = time.monotonic() + TURN_S, list[Asked]()
    for row in turn:
        answers.append(checker.ask(row))
        if time.monotonic() > until:
            break
    return answers


def _give_back(turns: list[list[UrlCheck]], answers: list[Asked]) -> None:
    """What was claimed and not asked has its turn as soon as its host has one."""
    asked = {a.row.pk for a in answers}
    left = [row.pk for turn in turns for row in turn if row.pk not in asked]
    UrlCheck.objects.filter(pk__in=left).update(due_at=timezone.now())


def _claim(wishes: Wishes, mine: set[int]) -> list[list[UrlCheck]]:
    """A turn of addresses of each of some hosts that nobody else asks; mine: hosts of this round, which grow."""
    while True:
        now = timezone.now()
        with atomic():
            free = AddressHost.objects.filter(Q(claimed_until=None) | Q(claimed_until__lt=now) | Q(pk__in=mine))
            waiting = free.filter(pk__in=due_addresses(now).values("host"))
            in_turn = waiting.order_by(F("asked_at").asc(nulls_first=True), "pk")
            hosts = list(in_turn.select_for_update(skip_locked=True)[:HOSTS])
            mine.update(host.pk for host in hosts)
            AddressHost.objects.filter(pk__in=[h.pk for h in hosts]).update(claimed_until=now + CLAIM, asked_at=now)
            turns = [_take_turn(host, wishes, now) for host in hosts]
        if not hosts:
            return []
        if turns := [turn for turn in turns if turn]:
            return turns


def _take_turn(host: AddressHost, wishes: Wishes, now: datetime) -> list[UrlCheck]:
    """What is taken is due again if it is never answered; what nobody wants asked has had its turn."""
    rows = list(due_addresses(now).filter(host=host).order_by("due_at", "pk")[:A_TURN])
    wanted = wishes.wanted(host.name, rows)
    for group, pause in ((wanted, CLAIM), ([r for r in rows if r not in wanted], again())):
        UrlCheck.objects.filter(pk__in=[row.pk for row in group]).update(due_at=now + pause)
    return wanted


def again() -> timedelta:
    """After how long an address is asked again."""
    return timedelta(seconds=settings.URL_AGAIN_S)


def _pause(unreachable_since: datetime | None, now: datetime) -> timedelta:
    """After how long an address is asked again: what nothing can be told of sooner, and later the longer that lasts."""
    if unreachable_since is None:
        return again()
    return min(max(again() / _SOONER, now - unreachable_since), again())


def keep_round(asked: Sequence[Asked], good: Counter[tuple[str, str]]) -> list[int]:
    """Write down what each answer means beside the others. good: how often each place answered properly. Returns the
    ids of the releases that have one of them."""
    now = timezone.now()
    for one in asked:
        _judge(one, _round_of(one, good), now)
    # Some may have been forgotten meanwhile, and do not come back.
    UrlCheck.objects.bulk_update([one.row for one in asked], _ANSWERED, batch_size=100)
    lists = AddressList.objects.filter(uses__address__in=[a.row.pk for a in asked])
    return sorted(set(lists.values_list("release_id", flat=True)))


def _round_of(one: Asked, good: Counter[tuple[str, str]]) -> Round:
    scheme, host = one.place
    others = good.total() - one.answer.is_good
    is_open = any(s == scheme and h != host for s, h in good)
    return Round(timezone.localdate(), is_genuine=others > 0, is_open=is_open)


#: What an answer changes of an address.
_ANSWERED = ("status", "fault", "moved_to", "failed_days", "failed_on", "unreachable", "unreachable_since", "etag",
             "last_modified", "checked_at", "due_at")  # fmt: skip


def _judge(one: Asked, asked: Round, now: datetime) -> None:
    row, known = one.row, verdict_of(one.row)
    verdict = judge_answer(row.url, one.answer, known, asked)
    row.status, row.fault, row.moved_to = one.answer.status, verdict.fault[:300], verdict.moved_to
    row.failed_days, row.failed_on = verdict.failed_days, verdict.failed_on
    row.unreachable = verdict.unreachable[:300]
    row.unreachable_since = (row.unreachable_since or now) if verdict.unreachable else None
    row.etag = one.headers.get("ETag", "")[:300]
    row.last_modified = one.headers.get("Last-Modified", "")[:100]
    row.checked_at, row.due_at = now, now + _pause(row.unreachable_since, now)
