"""From events to reps: which marker and which reward belong to which attempt.

The rules and their order are those of `docs/measures.md`, section 2.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

from .bouts import TrainingClock, training_clock
from .events import Event, SessionRecord, ticks


@dataclass
class Attempt:
    """One rep: the onset that opens it and what was linked to it.

    Instants are ticks. `target` is None where the approximation marks the offset and
    none was coded.
    """

    place: int
    onset: Event
    bout: int
    approximation: str | None
    mark_at: str
    offset: Event | None = None
    target: int | None = None
    marker: Event | None = None
    rewards: list[Event] = field(default_factory=list)

    @property
    def latest_known(self) -> int:
        """The latest of onset, target instant and offset, those known."""
        known = [self.onset.best]
        if self.target is not None:
            known.append(self.target)
        if self.offset is not None:
            known.append(self.offset.best)
        return max(known)

    @property
    def aim(self) -> int:
        """The instant a marker is held against: the target, or the onset where there is none."""
        return self.onset.best if self.target is None else self.target

    @property
    def held(self) -> int | None:
        """Offset minus onset in ticks, None without an offset."""
        return None if self.offset is None else self.offset.best - self.onset.best


@dataclass
class MarkerUse:
    """What became of one `event` or `keep_going` marker."""

    marker: Event
    attempt: Attempt | None = None
    #: The rep's own marker, where this one only repeated it.
    repeats: MarkerUse | None = None
    rewards: list[Event] = field(default_factory=list)
    reaches: list[Event] = field(default_factory=list)

    @property
    def is_orphan(self) -> bool:
        """An event marker on something nobody coded as an attempt."""
        return self.marker.marker == "event" and self.attempt is None and self.repeats is None

    @property
    def is_unrewarded(self) -> bool:
        """A broken promise: an event marker, repeats aside, that brought no reward."""
        return self.marker.marker == "event" and self.repeats is None and not self.rewards

    @property
    def first_reward(self) -> Event | None:
        """The earliest reward this marker brought; they are linked in time order."""
        return self.rewards[0] if self.rewards else None


@dataclass(frozen=True)
class Reps:
    """A session linked: attempts, uses of markers and what stayed loose, in time order."""

    record: SessionRecord
    clock: TrainingClock
    attempts: tuple[Attempt, ...]
    uses: tuple[MarkerUse, ...]
    unmarked_rewards: tuple[Event, ...]

    @cached_property
    def event_uses(self) -> tuple[MarkerUse, ...]:
        """Uses of `event` markers, repeats included."""
        return tuple(u for u in self.uses if u.marker.marker == "event")

    @cached_property
    def reinforcement_instants(self) -> list[int]:
        """Ticks of every reinforcement: rewarded markers and unmarked rewards, sorted."""
        marked = [u.marker.best for u in self.uses if u.rewards]
        return sorted(marked + [r.best for r in self.unmarked_rewards])


def link_reps(record: SessionRecord) -> Reps:
    """Link a session's events into reps. Near-linear in the number of events."""
    clock = training_clock(record)
    attempts = _open_attempts(record, clock)
    uses = _link_markers(record, clock, attempts)
    unmarked = _link_rewards(record, attempts, uses)
    _link_reaches(record, uses)
    for use in uses:
        if use.attempt is not None:
            use.attempt.rewards = use.rewards
    return Reps(record, clock, tuple(attempts), tuple(uses), tuple(unmarked))


def _open_attempts(record: SessionRecord, clock: TrainingClock) -> list[Attempt]:
    attempts: list[Attempt] = []
    in_force: str | None = None
    current: Attempt | None = None
    for event in record.ordered:
        if event.kind == "criterion":
            in_force = event.approximation
        elif event.kind == "bout_end":
            current = None
        elif event.kind == "onset":
            current = _open_attempt(record, clock, event, in_force, len(attempts))
            attempts.append(current)
        elif (
            event.kind == "offset"
            and current is not None
            and current.offset is None
            and clock.bout_of(event.best) == current.bout
        ):
            current.offset = event
    for attempt in attempts:
        attempt.target = _target_instant(record, attempt)
    return attempts


def _open_attempt(
    record: SessionRecord, clock: TrainingClock, onset: Event, in_force: str | None, place: int
) -> Attempt:
    key = onset.approximation if onset.approximation is not None else in_force
    step = record.plan.approximation(key)
    return Attempt(
        place=place,
        onset=onset,
        bout=clock.bout_of(onset.best),
        approximation=key,
        mark_at=(step.mark_at if step else None) or "onset",
    )


def _target_instant(record: SessionRecord, attempt: Attempt) -> int | None:
    if attempt.mark_at == "offset":
        return attempt.offset.best if attempt.offset else None
    if attempt.mark_at == "hold":
        step = record.plan.approximation(attempt.approximation)
        return attempt.onset.best + ticks((step.hold_s if step else None) or 0.0)
    return attempt.onset.best


def _link_markers(
    record: SessionRecord, clock: TrainingClock, attempts: Sequence[Attempt]
) -> list[MarkerUse]:
    uses = [MarkerUse(e) for e in record.ordered if e.kind == "marker" and e.marker != "no_reward"]
    event_uses = [u for u in uses if u.marker.marker == "event"]
    _link_named_markers(event_uses, attempts)
    _link_nearest_markers(record, clock, event_uses, attempts)
    _link_repeats(record, event_uses)
    return uses


def _link_named_markers(uses: Sequence[MarkerUse], attempts: Sequence[Attempt]) -> None:
    by_onset = {a.onset.id: a for a in attempts}
    firsts: dict[str, MarkerUse] = {}
    for use in uses:
        link = use.marker.link
        if link is None:
            continue
        if link in firsts:
            use.repeats = firsts[link]
        else:
            firsts[link] = use
            use.attempt = by_onset[link]
            use.attempt.marker = use.marker


def _link_nearest_markers(
    record: SessionRecord,
    clock: TrainingClock,
    uses: Sequence[MarkerUse],
    attempts: Sequence[Attempt],
) -> None:
    settings = record.settings
    anticipation, window = ticks(settings.anticipation_s), ticks(settings.link_window_s)
    onsets = [a.onset.best for a in attempts]
    #: How far past its onset a target can lie; bounds the look back.
    reach = max((a.aim - a.onset.best for a in attempts), default=0)
    last_marked = -1
    for use in uses:
        if use.attempt is not None:
            last_marked = max(last_marked, use.attempt.place)
        if use.attempt is not None or use.repeats is not None:
            continue
        at = use.marker.best
        bout = clock.bout_of(at)
        nearest: Attempt | None = None
        place = bisect_right(onsets, at + anticipation) - 1
        while place > last_marked:
            attempt = attempts[place]
            if (
                attempt.marker is None
                and attempt.bout == bout
                and at - attempt.latest_known <= window
                and (nearest is None or abs(at - attempt.aim) <= abs(at - nearest.aim))
            ):
                nearest = attempt
            # Everything further back ended before this onset and aims at most `reach` past its own.
            if at - onsets[place] > window + reach:
                break
            place -= 1
        if nearest is not None:
            use.attempt = nearest
            nearest.marker = use.marker
            last_marked = nearest.place


def _link_repeats(record: SessionRecord, uses: Sequence[MarkerUse]) -> None:
    limit = ticks(record.settings.repeat_s)
    by_id = {use.marker.id: use for use in uses}
    latest: MarkerUse | None = None
    for event in record.ordered:
        if event.kind == "onset":
            latest = None
        elif event.id in by_id:
            use = by_id[event.id]
            if use.attempt is not None:
                latest = use
            elif (
                use.repeats is None
                and latest is not None
                and event.best - latest.marker.best <= limit
            ):
                use.repeats = latest


def _link_rewards(
    record: SessionRecord, attempts: Sequence[Attempt], uses: Sequence[MarkerUse]
) -> list[Event]:
    limit, lead = ticks(record.settings.reward_link_s), ticks(record.settings.reward_lead_s)
    by_marker = {use.marker.id: use for use in uses}
    by_onset = {use.attempt.onset.id: use for use in uses if use.attempt is not None}
    event_uses = [use for use in uses if use.marker.marker == "event"]
    unmarked: list[Event] = []
    before: MarkerUse | None = None
    following = 0
    for event in record.ordered:
        if event.id in by_marker:
            before = by_marker[event.id]
            if before.marker.marker == "event":
                following += 1
        elif event.kind == "reward":
            if event.link is not None:
                use = by_marker.get(event.link) or by_onset.get(event.link)
            else:
                use = before
                if use is not None and event.best - use.marker.best > limit:
                    use = None
                use = _own_marker(use)
                if (use is None or use.rewards) and following < len(event_uses):
                    upcoming = event_uses[following]
                    if upcoming.marker.best - event.best <= lead:
                        use = upcoming
            use = _own_marker(use)
            if use is None:
                unmarked.append(event)
            else:
                use.rewards.append(event)
    return unmarked


def _own_marker(use: MarkerUse | None) -> MarkerUse | None:
    """A repeat passes its reward on to the marker it repeats."""
    return use.repeats if use is not None and use.repeats is not None else use


def _link_reaches(record: SessionRecord, uses: Sequence[MarkerUse]) -> None:
    by_marker = {u.marker.id: u for u in uses if u.marker.marker == "event"}
    pending: list[Event] = []
    before: MarkerUse | None = None
    for event in record.ordered:
        if event.kind == "reach":
            if before is not None and before.marker.best == event.best:
                before.reaches.append(event)
            else:
                pending.append(event)
        elif event.kind == "reward" or (event.kind == "marker" and event.id not in by_marker):
            _give_reaches(before, pending)
        elif event.id in by_marker:
            before = by_marker[event.id]
            _give_reaches(before, pending)
    _give_reaches(before, pending)


def _give_reaches(use: MarkerUse | None, pending: list[Event]) -> None:
    use = _own_marker(use)
    if use is not None:
        use.reaches.extend(pending)
    pending.clear()
