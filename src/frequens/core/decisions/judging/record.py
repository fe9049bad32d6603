"""The judged session's step, and the record of that step: what the school decides on."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import groupby

from ...model.events import Approximation, Plan
from ...rules.judgement_numbers import Judging
from ...statistics.summaries import Share, wilson
from .digest import Digest, Trial


@dataclass(frozen=True)
class Entry:
    """What one session adds to the record; `order_known` is False for counts by hand."""

    digest: Digest
    trials: tuple[Trial, ...]

    @property
    def order_known(self) -> bool:
        return not self.digest.by_hand


@dataclass(frozen=True)
class Record:
    """The judged attempts at one step, oldest first, since the last one at any step above it."""

    step: str | None
    entries: tuple[Entry, ...]

    @cached_property
    def trials(self) -> tuple[Trial, ...]:
        """All of them, oldest first."""
        return tuple(trial for entry in self.entries for trial in entry.trials)

    @cached_property
    def met(self) -> tuple[bool, ...]:
        """Which of them fit, oldest first."""
        return tuple(trial.met for trial in self.trials)

    @property
    def share(self) -> Share:
        """How many of all fit, with Wilson's interval."""
        return wilson(sum(self.met), len(self.met))

    def last(self, count: int) -> tuple[bool, ...]:
        """The last so many."""
        return self.met[-count:] if count else ()

    def total(self, name: str) -> int:
        """The sum of one count of the sessions' digests."""
        return sum(getattr(entry.digest, name) for entry in self.entries)

    def share_of_last(self, count: int) -> float | None:
        """The share that fit of the last so many; fewer are taken as they are, none is None."""
        last = self.last(count)
        return sum(last) / len(last) if last else None

    def run(self, met: bool) -> int:
        """How many in a row, up to the last, fit (or did not).

        Attempts of a session by hand count only where all of it was so: their order is not known.
        """
        count = 0
        for entry in reversed(self.entries):
            own = [trial.met for trial in entry.trials]
            if entry.order_known:
                in_a_row = next((n for n, m in enumerate(reversed(own)) if m != met), len(own))
            else:
                in_a_row = len(own) if all(m == met for m in own) else 0
            count += in_a_row
            if in_a_row < len(own):
                break
        return count


def in_order(history: Sequence[Digest]) -> list[Digest]:
    """By day, then by time of day (missing first), then as they were given."""
    return sorted(history, key=lambda d: (d.date or "", d.time or ""))


def within_memory(history: Sequence[Digest], last: Digest, numbers: Judging) -> list[Digest]:
    """The sessions not older than `memory_days` before the last; where no day is said, all."""
    today = _day(last.date)
    oldest = None if today is None else today - dt.timedelta(days=numbers.memory_days)
    return [d for d in history if oldest is None or (day := _day(d.date)) is None or day >= oldest]


def _day(date: str | None) -> dt.date | None:
    return None if date is None else dt.date.fromisoformat(date)


def step_of(session: Digest, plan: Plan, numbers: Judging) -> str | None:
    """The step of the last stretch with a judged attempt; an easy end is passed over.

    An easy end is a last stretch of a few judged attempts, all met, at a step below the stretch
    before it, of which at least half was met.
    """
    stretches = [list(own) for _, own in groupby(session.trials, key=lambda t: t.stretch)]
    if not stretches:
        return session.in_force
    last = stretches[-1]
    if len(stretches) > 1 and len(last) < numbers.easy_end and all(t.met for t in last):
        before = stretches[-2]
        here, there = plan.place(last[0].step), plan.place(before[0].step)
        is_below = here is not None and there is not None and here < there
        if is_below and 2 * sum(t.met for t in before) >= len(before):
            return before[0].step
    return last[0].step


def record_of(history: Sequence[Digest], step: str | None, plan: Plan) -> Record:
    """The record of a step over sessions in order; a session that adds nothing is not in it."""
    place = plan.place(step)
    entries: list[Entry] = []
    for session in history:
        own: list[Trial] = []
        # Whether the session was at the step after it was last above it.
        is_at_work = session.at_work.get(step or "", 0) > 0
        for trial in session.trials:
            if _is_above(trial.step, place, plan):
                own, entries = [], []
                is_at_work = False
            elif trial.step == step:
                own.append(trial)
                is_at_work = True
        if is_at_work:
            entries.append(Entry(session, tuple(own)))
    return Record(step, tuple(entries))


def _is_above(step: str | None, place: int | None, plan: Plan) -> bool:
    other = plan.place(step)
    return place is not None and other is not None and other > place


def step_below(plan: Plan, step: Approximation | None) -> str | None:
    """The step to go back to: the plan's own way back where that is easier, else the one below."""
    place = plan.place(step.key) if step else None
    if step is None or place is None or place == 0:
        return None
    back = plan.place(step.fallback)
    return plan.approximations[back if back is not None and back < place else place - 1].key


def step_above(plan: Plan, key: str | None) -> str | None:
    """The next step of the plan, None at the last and for one that is not in it."""
    place = plan.place(key)
    if place is None or place + 1 >= len(plan.approximations):
        return None
    return plan.approximations[place + 1].key
