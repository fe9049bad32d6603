"""The session bout by bout, with the breaks between."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from ..model.events import seconds
from ..model.reps import Reps
from .pays import Pays
from .returning import OptOuts


@dataclass(frozen=True, slots=True)
class BoutRow:
    """One bout: seconds on the recording, and what happened in it."""

    start_s: float
    end_s: float
    attempts: int
    judged: int
    met: int
    pays: int
    signs: int
    opt_outs: int
    break_before_s: float | None


def bout_rows(reps: Reps, pays_of: Pays, left: OptOuts) -> tuple[BoutRow, ...]:
    """Every bout in time order; without coded bouts the whole session is one."""
    clock = reps.clock
    judged: Counter[int] = Counter()
    met: Counter[int] = Counter()
    for rep in reps.reps:
        judged[rep.bout] += rep.onset.met is not None
        met[rep.bout] += rep.onset.met is True
    attempts = Counter(a.bout for a in reps.attempts)
    pays: Counter[int] = Counter()
    for attempt in reps.attempts:
        pays[attempt.bout] += len(pays_of.get(attempt.onset.id, ()))
    signs = Counter(clock.bout_of(e.best) for e in reps.record.of_kind("sign"))
    leaving = Counter(clock.bout_of(event.best) for event, _ in left.starts)
    return tuple(
        BoutRow(
            start_s=seconds(bout.start),
            end_s=seconds(bout.end),
            attempts=attempts[place],
            judged=judged[place],
            met=met[place],
            pays=pays[place],
            signs=signs[place],
            opt_outs=leaving[place],
            break_before_s=seconds(bout.start - clock.bouts[place - 1].end) if place else None,
        )
        for place, bout in enumerate(clock.bouts)
    )
