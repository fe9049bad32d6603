"""All that the lines of the judgement look at: the last session, its step, the step's record."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from statistics import median

from ...measures.helping import STRENGTH
from ...model.events import Approximation, Plan
from ...rules.judgement_numbers import Judging
from .digest import Digest
from .record import Record, step_above, step_below
from .schools import SchoolSays

MINUTE_S = 60.0
#: The next weaker help where the plan names none (common practice).
WEAKER = {
    "physical": "target",
    "target": "gesture",
    "gesture": "none",
    "food_lure": "empty_hand",
    "empty_hand": "gesture",
    "none": "none",
}


@dataclass(frozen=True)
class Case:
    """The judged session `today`, the whole history in order, what of it is within memory."""

    today: Digest
    history: Sequence[Digest]
    sessions: Sequence[Digest]
    plan: Plan
    numbers: Judging
    record: Record
    school: SchoolSays

    @property
    def key(self) -> str | None:
        """The step judged."""
        return self.record.step

    @cached_property
    def step(self) -> Approximation | None:
        return self.plan.approximation(self.key)

    @property
    def below(self) -> str | None:
        return step_below(self.plan, self.step)

    @property
    def above(self) -> str | None:
        return step_above(self.plan, self.key)

    @property
    def says_raise(self) -> bool:
        return self.school.decision == "raise"

    @cached_property
    def good(self) -> bool:
        """Whether enough of the last reps fit: then too little pay is not the animal's fault."""
        share = self.record.share_of_last(self.numbers.last_reps)
        return share is not None and share >= self.numbers.good_share

    # -- pay --------------------------------------------------------------------------

    @cached_property
    def cycle_s(self) -> float:
        """Seconds one rep of this step takes: cycle, hold, and the way back."""
        key = self.key or ""
        back = [s for e in self.record.entries for s in e.digest.back_s.get(key, ())]
        hold = self.step.hold_s if self.step and self.step.hold_s else 0.0
        return self.numbers.cycle_s + hold + (median(back) if back else 0.0)

    @cached_property
    def floor_per_min(self) -> float:
        """The least pay: the step's own, else the smaller of the plan's and what a cycle allows."""
        if self.step is not None and self.step.rate_floor_per_min is not None:
            return self.step.rate_floor_per_min
        possible = MINUTE_S / self.cycle_s if self.cycle_s > 0 else float("inf")
        planned = self.plan.rate_floor_per_min
        return possible if planned is None else min(planned, possible)

    @cached_property
    def paid_per_min(self) -> float | None:
        """Reinforcements a minute at the end of the work at this step; None where too little is.

        Over the last minute, or two cycles where those are longer; by hand over the whole session,
        from one minute on.
        """
        if self.today.by_hand:
            minutes, rewards = self.today.minutes, self.today.rewards
            return rewards / minutes if rewards is not None and minutes >= 1 else None
        if self.today.worked is None:
            return None
        own = [(a, b) for step, a, b in self.today.worked.stretches if step == self.key and b > a]
        span = max(MINUTE_S, 2 * self.cycle_s)
        left, count = span, 0
        for begin, end in reversed(own):
            begin = max(begin, end - left)
            # A reward on the last instant of a stretch belongs to it.
            count += sum(begin < paid <= end for paid in self.today.worked.paid)
            left -= end - begin
            if left <= 1e-9:
                return count / (span / MINUTE_S)
        return None

    @cached_property
    def waits(self) -> list[tuple[float, float]]:
        """Stretches of the work without pay: (length, end), seconds of the worked clock."""
        worked = self.today.worked
        if worked is None:
            return []
        return [(b - a, b) for a, b in pairwise([0.0, *worked.paid, worked.total])]

    # -- help -------------------------------------------------------------------------

    @cached_property
    def most_help(self) -> str:
        """The most help with which the step still counts as reached."""
        if self.step is not None and self.step.help is not None:
            return self.step.help
        if not self.plan.prompts or self.above is None:
            return "none"
        return min(self.plan.prompts, key=STRENGTH.index)

    def weaker(self, level: str) -> str:
        """The next weaker help: the plan's, else by common practice."""
        if not self.plan.prompts:
            return WEAKER[level]
        below = STRENGTH[STRENGTH.index(level) + 1 :]
        return next((one for one in below if one in (*self.plan.prompts, "none")), "none")
