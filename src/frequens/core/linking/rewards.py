"""Which reward was brought by which marker, and what paid without one."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence

from ..model.bouts import TrainingClock
from ..model.events import Event, SessionRecord, ticks
from ..model.reps import Attempt, MarkerUse, Unmarked
from .markers import own_marker


def link_rewards(
    record: SessionRecord,
    clock: TrainingClock,
    attempts: Sequence[Attempt],
    uses: Sequence[MarkerUse],
) -> Unmarked:
    """Give each reward to its marker; those without one are told by what they paid."""
    paying = _Paying(record, clock, attempts, uses)
    for event in record.ordered:
        paying.take(event)
    return Unmarked(
        tuple(paying.unmarked), tuple(paying.direct), tuple(paying.exposure), tuple(paying.free)
    )


class _Paying:
    """Goes through a session in time order, rewards to their markers."""

    def __init__(
        self,
        record: SessionRecord,
        clock: TrainingClock,
        attempts: Sequence[Attempt],
        uses: Sequence[MarkerUse],
    ):
        settings = record.settings
        self.clock = clock
        self.limit, self.lead = ticks(settings.reward_link_s), ticks(settings.reward_lead_s)
        self.exposure_pay = ticks(settings.exposure_pay_s)
        self.by_marker = {use.marker.id: use for use in uses}
        self.by_onset = {a.onset.id: a for a in attempts}
        self.event_uses = [use for use in uses if use.marker.marker == "event"]
        self.uses_of: dict[str, list[MarkerUse]] = {}
        for use in self.event_uses:
            if use.attempt is not None and use.repeats is None:
                self.uses_of.setdefault(use.attempt.onset.id, []).append(use)
        self.following = 0
        self.before: MarkerUse | None = None
        #: The latest onset, and the latest exposure, that have passed.
        self.attempt: Attempt | None = None
        self.exposed: Event | None = None
        #: What came after the marker before: an unmarked attempt's onset, an exposure.
        self.attempts_since: list[Attempt] = []
        self.exposed_since = self.onset_since_exposure = False
        self.unmarked: list[Event] = []
        self.direct: list[Event] = []
        self.exposure: list[Event] = []
        self.free: list[Event] = []

    def take(self, event: Event) -> None:
        if event.id in self.by_marker:
            self.before = self.by_marker[event.id]
            self.following += event.marker == "event"
            self.attempts_since, self.exposed_since = [], False
        elif event.kind == "onset":
            self.attempt = self.by_onset[event.id]
            self.onset_since_exposure = True
            if self.attempt.marker is None:
                self.attempts_since.append(self.attempt)
        elif event.kind == "exposure":
            self.exposed, self.exposed_since, self.onset_since_exposure = event, True, False
        elif event.kind == "reward":
            self._pay(event)

    def _pay(self, reward: Event) -> None:
        if reward.link is not None and reward.link in self.by_onset:
            self._pay_rep(reward, self.by_onset[reward.link])
            return
        if reward.link is not None:
            use = self.by_marker.get(reward.link)
        else:
            use = self._marker_for(reward)
        if use is not None:
            own_marker(use).rewards.append(reward)
        else:
            self._pay_unmarked(reward)

    def _pay_rep(self, reward: Event, attempt: Attempt) -> None:
        """A reward linked to an onset: to the rep's latest marker before it, else its first."""
        own = self.uses_of.get(attempt.onset.id, [])
        place = bisect_right(own, reward.best, key=lambda use: use.marker.best) - 1
        if own:
            own[max(0, place)].rewards.append(reward)
        else:
            self._pay_directly(reward, attempt)

    def _marker_for(self, reward: Event) -> MarkerUse | None:
        use = self.before
        if use is not None and reward.best - use.marker.best > self.limit:
            use = None
        if use is not None:
            use = own_marker(use)
            if use.rewards and self._is_barred(reward):
                use = None
        if (use is None or use.rewards) and self.following < len(self.event_uses):
            upcoming = self.event_uses[self.following]
            if upcoming.marker.best - reward.best <= self.lead:
                use = upcoming
        return use

    def _is_barred(self, reward: Event) -> bool:
        """Whether something since the marker before says that this reward is for that."""
        bout = self.clock.bout_of(reward.best)
        for attempt in reversed(self.attempts_since):
            if reward.best - attempt.onset.best > self.limit:
                break
            if attempt.bout == bout:
                return True
        return self.exposed_since and self._pays_exposure(reward)

    def _pays_exposure(self, reward: Event) -> bool:
        return self.exposed is not None and is_paid_by(self.exposed, reward, self.exposure_pay)

    def _pay_unmarked(self, reward: Event) -> None:
        if self._pays_exposure(reward) and not self.onset_since_exposure:
            self.unmarked.append(reward)
            self.exposure.append(reward)
            return
        attempt = self.attempt
        if (
            attempt is not None
            and attempt.marker is None
            and attempt.bout == self.clock.bout_of(reward.best)
            and reward.best - attempt.onset.best <= self.limit
        ):
            self._pay_directly(reward, attempt)
            return
        self.unmarked.append(reward)
        self.free.append(reward)

    def _pay_directly(self, reward: Event, attempt: Attempt) -> None:
        self.unmarked.append(reward)
        self.direct.append(reward)
        attempt.direct.append(reward)


def exposure_end(exposure: Event) -> int:
    """When an exposure ended, ticks; one without length with its beginning."""
    return 2 * exposure.end_us if exposure.end_us is not None else exposure.best


def is_paid_by(exposure: Event, reward: Event, pay_ticks: int) -> bool:
    """Whether a reward comes soon enough after an exposure; which is the latest before it."""
    return exposure.best <= reward.best <= exposure_end(exposure) + pay_ticks


def timing_use_of(attempt: Attempt, uses: Sequence[MarkerUse]) -> MarkerUse | None:
    """The marker a rep's timing is told by.

    Of its first event marker and its rewarded further and keep-going ones the nearest to the
    target instant, the earlier at a tie; without a target its first, else the first rewarded
    keep-going one.
    """
    if not uses:
        return None
    first = next((u for u in uses if u.marker is attempt.marker), None)
    if first is not None and len(uses) == 1:
        return first
    if attempt.target is None:
        rewarded = (u for u in uses if u.marker.marker == "keep_going" and u.rewards)
        return first or next(rewarded, None)
    target = attempt.target
    candidates = [u for u in uses if u is first or u.rewards]
    return min(candidates, key=lambda u: abs(u.marker.best - target), default=None)
