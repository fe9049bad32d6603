"""What a session's events amount to: attempts, what became of each marker, and what stays loose."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property

from .bouts import TrainingClock
from .events import Approximation, Event, MarkAt, SessionRecord
from .uncued import Windows


@dataclass(slots=True)
class Attempt:
    """One rep: the onset that opens it and what was linked to it.

    Instants are ticks. `target` is None where the approximation marks the offset and none was
    coded. `marker` is its first event marker, `further` and `keep_going` the others that belong to
    it, `direct` the rewards that paid it without any; `timing_marker` is the one its timing is
    told by.
    """

    place: int
    onset: Event
    bout: int
    approximation: str | None
    mark_at: MarkAt
    step: Approximation | None = None
    offset: Event | None = None
    release: Event | None = None
    reset: Event | None = None
    #: The onset that ends it, where one does.
    following: Event | None = None
    target: int | None = None
    #: It lies in a no-cue window: nobody asked, and it is no rep of the step.
    false_alarm: bool = False
    parts: list[Event] = field(default_factory=list)
    marker: Event | None = None
    further: list[Event] = field(default_factory=list)
    keep_going: list[Event] = field(default_factory=list)
    direct: list[Event] = field(default_factory=list)
    #: All rewards of the rep, in time order.
    rewards: list[Event] = field(default_factory=list)
    timing_use: MarkerUse | None = None
    #: The marker whose timing is the rep's; None for a rep that is not marked.
    timing_marker: Event | None = None

    @property
    def is_until_release(self) -> bool:
        """Whether the trainer's letting go finishes it."""
        return self.step is not None and self.step.until_release

    @property
    def let_go(self) -> Event | None:
        """When the trainer let it go: told so, or in a step until then also sent away."""
        if not self.is_until_release:
            return self.release
        return _first(self.release, self.reset)

    @property
    def coded_end(self) -> Event | None:
        """The offset, else the first release or reset after the onset."""
        return self.offset or _first(self.release, self.reset)

    @property
    def latest_known(self) -> int:
        """The latest of onset, target instant and end, those known."""
        known = [self.onset.best]
        if self.target is not None:
            known.append(self.target)
        end = self.offset or self.let_go
        if end is not None:
            known.append(end.best)
        return max(known)

    @property
    def aim(self) -> int:
        """The instant a marker is held against: the target, or the onset where there is none."""
        return self.onset.best if self.target is None else self.target

    @property
    def held(self) -> int | None:
        """Offset minus onset in ticks, None without an offset."""
        return None if self.offset is None else self.offset.best - self.onset.best


def _first(one: Event | None, other: Event | None) -> Event | None:
    """The earlier of two marks; of two in one instant the first named."""
    if one is None or other is None:
        return one or other
    return other if other.best < one.best else one


@dataclass(slots=True)
class MarkerUse:
    """What became of one `event` or `keep_going` marker."""

    marker: Event
    attempt: Attempt | None = None
    #: The marker this one only repeated; what it brings is that one's.
    repeats: MarkerUse | None = None
    #: A marker of a rep after its first one.
    is_further: bool = False
    #: Nothing was asked, and staying at rest was paid.
    is_paid_wait: bool = False
    rewards: list[Event] = field(default_factory=list)
    reaches: list[Event] = field(default_factory=list)

    @property
    def is_orphan(self) -> bool:
        """An event marker on something nobody coded as an attempt."""
        loose = self.attempt is None and self.repeats is None and not self.is_paid_wait
        return self.marker.marker == "event" and loose

    @property
    def is_unrewarded(self) -> bool:
        """A broken promise: an event marker, repeats aside, that brought no reward."""
        return self.marker.marker == "event" and self.repeats is None and not self.rewards

    @property
    def first_reward(self) -> Event | None:
        """The earliest reward this marker brought; they are linked in time order."""
        return self.rewards[0] if self.rewards else None


@dataclass(frozen=True)
class Unmarked:
    """Rewards without a marker: in time order, and by what they paid."""

    all: tuple[Event, ...]
    direct: tuple[Event, ...]
    exposure: tuple[Event, ...]
    free: tuple[Event, ...]


@dataclass(frozen=True)
class Reps:
    """A session linked: attempts, uses of markers and what stayed loose, in time order."""

    record: SessionRecord
    clock: TrainingClock
    windows: Windows
    attempts: tuple[Attempt, ...]
    uses: tuple[MarkerUse, ...]
    unmarked: Unmarked

    @cached_property
    def reps(self) -> tuple[Attempt, ...]:
        """Attempts without those in no-cue windows."""
        return tuple(a for a in self.attempts if not a.false_alarm)

    @property
    def unmarked_rewards(self) -> tuple[Event, ...]:
        """Rewards without a marker, in time order."""
        return self.unmarked.all

    @cached_property
    def event_uses(self) -> tuple[MarkerUse, ...]:
        """Uses of `event` markers, repeats included."""
        return tuple(u for u in self.uses if u.marker.marker == "event")

    @cached_property
    def uses_of(self) -> dict[str, tuple[MarkerUse, ...]]:
        """Uses of a rep's own markers, first, further and keep-going, by its onset's id."""
        found: dict[str, list[MarkerUse]] = {}
        for use in self.uses:
            if use.attempt is not None and use.repeats is None:
                found.setdefault(use.attempt.onset.id, []).append(use)
        return {key: tuple(uses) for key, uses in found.items()}

    @cached_property
    def reinforcement_instants(self) -> list[int]:
        """Ticks of every reinforcement: rewarded markers and unmarked rewards, sorted."""
        marked = [u.marker.best for u in self.uses if u.rewards]
        return sorted(marked + [r.best for r in self.unmarked_rewards])
