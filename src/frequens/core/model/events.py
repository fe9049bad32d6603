"""The values a coded session consists of, and the instants they stand for.

Times are whole microseconds (`*_us`). The best estimate of an instant is
``t - width / 2``; to keep it exact it is held as an integer count of *ticks* of
half a microsecond, so that comparisons and differences never round.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, Literal, get_args

TICKS_PER_SECOND = 2_000_000
MICROSECONDS = 1_000_000
SQRT_12 = math.sqrt(12)

#: Every kind, in the order in which events of one and the same instant are taken.
Kind = Literal[
    "bout_start",
    "criterion",
    "off_task_end",
    "offset",
    "cue",
    "prompt",
    "exposure",
    "onset",
    "part",
    "marker",
    "reach",
    "reward",
    "reset",
    "release",
    "other_behaviour",
    "sign",
    "off_task_start",
    "no_cue_window",
    "note",
    "bout_end",
]
MarkerKind = Literal["event", "keep_going", "no_reward"]
MarkAt = Literal["onset", "hold", "offset"]
Source = Literal["video", "audio", "tap", "import"]

#: Place of every kind in its order.
KIND_ORDER: Mapping[str, int] = {kind: place for place, kind in enumerate(get_args(Kind))}


def ticks(seconds: float) -> int:
    """A length or instant in seconds as ticks of half a microsecond."""
    return round(seconds * TICKS_PER_SECOND)


def seconds(count: float) -> float:
    """Ticks of half a microsecond as seconds."""
    return count / TICKS_PER_SECOND


@dataclass(frozen=True, slots=True)
class Event:
    """One mark: something happened in the interval (t - width, t].

    `t_us` and `width_us` are whole microseconds on the recording's timeline.
    Fields that do not belong to the event's kind stay at their defaults.
    """

    id: str
    kind: Kind
    t_us: int
    width_us: int = 0
    source: Source | None = None
    approximation: str | None = None
    label: str | None = None
    level: str | None = None
    met: bool | None = None
    value: float | None = None
    conditions: Mapping[str, Any] | None = None
    link: str | None = None
    marker: MarkerKind | None = None
    placement: str | None = None
    pieces: int = 1
    severity: int | None = None
    end_us: int | None = None
    text: str | None = None
    part: str | None = None
    #: Keys the document wrote, so that writing it again changes nothing.
    written: frozenset[str] = field(default=frozenset(), compare=False, repr=False)
    #: Best estimate of the instant, in ticks: t - width / 2.
    best: int = field(init=False, compare=False, repr=False)

    def __post_init__(self) -> None:
        # Asked for many times an event, hence worked out once.
        object.__setattr__(self, "best", 2 * self.t_us - self.width_us)

    @property
    def uncertainty_s(self) -> float:
        """Standard uncertainty of the instant in seconds: width / sqrt(12).

        The rectangular distribution of JCGM 100:2008, 4.3.7.
        """
        return self.width_us / MICROSECONDS / SQRT_12


@dataclass(frozen=True, slots=True)
class Settings:
    """Limits of linking and judging. All in seconds unless the name says otherwise."""

    link_window_s: float = 3.0
    anticipation_s: float = 0.5
    reward_link_s: float = 10.0
    reward_lead_s: float = 0.5
    repeat_s: float = 1.0
    on_time_s: float = 0.5
    reward_limit_s: float = 3.0
    rate_window_s: float = 30.0
    dry_spell_s: float = 30.0
    response_limit_s: float = 10.0
    cue_lead_min_s: float = 0.5
    cue_repeat_s: float = 10.0
    return_limit_s: float = 30.0
    exposure_pay_s: float = 5.0


@dataclass(frozen=True, slots=True)
class Part:
    """One part of a chain."""

    key: str
    title: str = ""


@dataclass(frozen=True, slots=True)
class Quantity:
    """What `value` of a step's attempts measures, in which unit, and which way is better."""

    name: str
    unit: str
    better: Literal["more", "less"]
    target: float | None = None

    def is_reached(self, value: float) -> bool:
        """Whether a value lies at the target or beyond; never without a target."""
        if self.target is None:
            return False
        return value >= self.target if self.better == "more" else value <= self.target


@dataclass(frozen=True, slots=True)
class PlannedCue:
    """A cue and the behaviour it asks for, as onsets are labelled."""

    label: str
    behaviour: str


@dataclass(frozen=True, slots=True)
class Approximation:
    """One step of the plan. `hold_s` is seconds after the onset, for ``mark_at="hold"``.

    `fallback` is the key of the step to go back to when this one fails. `parts` make it a chain;
    with `until_release` it is finished when the trainer lets go; `help` is the most help with
    which it counts as reached; `answers`: it is about answering its cue and not doing it uncued.
    """

    key: str
    title: str = ""
    mark_at: MarkAt | None = None
    hold_s: float | None = None
    fallback: str | None = None
    parts: tuple[Part, ...] = ()
    until_release: bool = False
    quantity: Quantity | None = None
    help: str | None = None
    answers: bool = False
    rate_floor_per_min: float | None = None


@dataclass(frozen=True, slots=True)
class Plan:
    """What the session was filmed under. `rule` is the school's name and numbers as written.

    `placement` is the target mix as shares by placement; `session_cap_s` (training time) and
    `rep_cap` are the limits of a session; `prompts` are levels of help, `cues` what each asks for;
    `judging` are numbers of the judgement's rules.
    """

    approximations: tuple[Approximation, ...] = ()
    rule: Mapping[str, Any] | None = None
    rate_floor_per_min: float | None = None
    placement: Mapping[str, float] | None = None
    session_cap_s: float | None = None
    rep_cap: int | None = None
    prompts: tuple[str, ...] = ()
    cues: tuple[PlannedCue, ...] = ()
    judging: Mapping[str, float] = field(default_factory=dict)

    def approximation(self, key: str | None) -> Approximation | None:
        """The step with this key, or None."""
        return next((a for a in self.approximations if a.key == key), None)

    def place(self, key: str | None) -> int | None:
        """The step's place in the plan from 0, None for one that is not in it."""
        return next((i for i, a in enumerate(self.approximations) if a.key == key), None)


@dataclass(frozen=True, slots=True)
class SessionFacts:
    """Who worked on what, when, and between which seconds of the recording."""

    date: str | None = None
    learner: str | None = None
    behaviour: str | None = None
    start_s: float | None = None
    end_s: float | None = None
    time: str | None = None
    handler: str | None = None
    place: str | None = None


@dataclass(frozen=True, slots=True)
class ByHand:
    """A session that was counted, not filmed. What nobody counted is None.

    `judged` attempts at `approximation`, `met` of them, in `minutes` with `rewards`; `signs` are
    names with their severities from 1 to 3; `help` and `conditions` held for all of it. `attempts`
    may be more than were judged.
    """

    approximation: str | None = None
    judged: int = 0
    met: int = 0
    rewards: int | None = None
    minutes: float | None = None
    signs: tuple[tuple[str, int], ...] = ()
    opt_outs: int = 0
    conditions: Mapping[str, Any] | None = None
    help: str | None = None
    attempts: int | None = None


@dataclass(frozen=True, slots=True)
class Recording:
    """The film's length and the offset of its sound, in seconds (sound minus picture)."""

    duration_s: float | None = None
    av_offset_s: float = 0.0


@dataclass(frozen=True)
class SessionRecord:
    """A whole coded session: facts, recording, settings, plan and events in file order."""

    session: SessionFacts = SessionFacts()
    recording: Recording = Recording()
    settings: Settings = Settings()
    plan: Plan = Plan()
    events: tuple[Event, ...] = ()
    by_hand: ByHand | None = None
    #: What the trainer tapped while leading it, as tapped, where the recording shows it.
    taps: tuple[Event, ...] = ()
    #: By kind of event, how surely a person places it, seconds, where two have coded the session.
    placed_u_s: Mapping[str, float] = field(default_factory=dict)

    @cached_property
    def ordered(self) -> tuple[Event, ...]:
        """The events by best estimate, ties by kind and then file order.

        Events heard on the sound track are moved onto the picture's time first.
        """
        return tuple(
            sorted(
                (on_picture_time(e, self.recording) for e in self.events),
                key=lambda e: (e.best, KIND_ORDER[e.kind]),
            )
        )

    @cached_property
    def _by_kind(self) -> Mapping[str, tuple[Event, ...]]:
        found: dict[str, list[Event]] = {}
        for event in self.ordered:
            found.setdefault(event.kind, []).append(event)
        return {kind: tuple(events) for kind, events in found.items()}

    def of_kind(self, kind: Kind) -> tuple[Event, ...]:
        """The events of one kind, in the order of `ordered`."""
        return self._by_kind.get(kind, ())


def on_picture_time(event: Event, recording: Recording) -> Event:
    """The event with the recording's sound offset taken off if it was heard."""
    if event.source != "audio" or not recording.av_offset_s:
        return event
    offset_us = round(recording.av_offset_s * MICROSECONDS)
    return replace(event, t_us=event.t_us - offset_us)


def uncertainty_of_difference(one: Event | None, other: Event | None) -> float:
    """Standard uncertainty of a difference between instants, seconds: root of the squares' sum."""
    widths = math.hypot(one.width_us if one else 0, other.width_us if other else 0)
    return widths / MICROSECONDS / SQRT_12
