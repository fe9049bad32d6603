"""A learner and a behaviour over its sessions: one document for the logbook.

Sessions without film come in by hand as counts and minutes; they count towards rate, dose
and steps, and say nothing of the marker's timing.
"""

from __future__ import annotations

import datetime as dt
import itertools
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from typing import Any, Literal

from ..measures.day_trends import DayTrend, trend
from ..planning.calculators.schedules import LONGEST_SHAPING_S
from ..statistics.summaries import Rate, Summary, poisson_rate, wilson
from .progress import DayCount, Growth, SessionSkill, Steps, growth, skill, steps

Findings = Mapping[str, Any]
#: Weeks without a session that are still shown one by one: two years of them.
LONGEST_PAUSE = 104


@dataclass(frozen=True, slots=True)
class Logged:
    """One session as the logbook takes it: its day, and findings of film or of counts."""

    id: str
    date: dt.date
    findings: Findings
    by_hand: bool = False


@dataclass(frozen=True, slots=True)
class SessionRate:
    """Reinforcements a minute in one session, and its minutes of training."""

    id: str
    date: dt.date
    rate: Rate
    minutes: float


#: The instants markers are timed from: the one the plan wants, or the onset.
Instant = Literal["plan", "onset"]


@dataclass(frozen=True, slots=True)
class SessionTiming:
    """The trainer's timing in one session."""

    id: str
    skill: SessionSkill


@dataclass(frozen=True, slots=True)
class Landing:
    """Where a session ended on the stairs, with its counts at that step."""

    id: str
    date: dt.date
    approximation: str
    judged: int
    met: int
    share: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class StepSuccess:
    """All sessions of one step together: met among judged, with Wilson's 95 % interval."""

    approximation: str
    judged: int
    met: int
    share: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class Week:
    """One week from its Monday. The caps are what the plan's doses allow for its sessions.

    `over_cap` counts sessions longer than their dose by more than a tenth.
    """

    monday: dt.date
    sessions: int
    minutes: float
    reps: int
    minutes_cap: float
    reps_cap: int | None
    over_cap: int


@dataclass(frozen=True, slots=True)
class InShort:
    """A whole logbook in a few numbers, to be held beside another's.

    `per_min` are reinforcements over the minutes of all sessions that counted them, `per_week`
    their growth. `signs` and `opt_outs` are those of `filmed` sessions; `step` is the one landed
    on last, `judged` and `met` its counts over all sessions. The middles are the last session's.
    """

    sessions: int
    filmed: int
    days: int
    minutes: float
    reps: int
    signs: int
    opt_outs: int
    per_min: Rate
    per_week: float | None
    step: str | None
    judged: int
    met: int
    share: float | None
    low: float | None
    high: float | None
    marker_s: float | None
    reward_s: float | None


@dataclass(frozen=True, slots=True)
class Logbook:
    """Everything the logbook shows of one behaviour, in the order of its days.

    `instant` says what a marker's middle is told from: once the plan wants markers elsewhere than
    at the onset, from there. `over_cap` counts sessions longer than their dose.
    """

    rates: tuple[SessionRate, ...]
    growth: Growth
    landings: tuple[Landing, ...]
    success: tuple[StepSuccess, ...]
    steps: Steps
    marker_latency_s: tuple[SessionTiming, ...]
    timing_error_s: tuple[SessionTiming, ...]
    reward_latency_s: tuple[SessionTiming, ...]
    instant: Instant
    weeks: tuple[Week, ...]
    over_cap: int
    trends: tuple[DayTrend, ...]
    in_short: InShort


def logbook(
    sessions: Sequence[Logged],
    session_cap_s: float | None = None,
    rep_cap: int | None = None,
    today: dt.date | None = None,
) -> Logbook:
    """The logbook of sessions of one behaviour, in any order.

    Doses are the plan's caps; without one, the common practice of five minutes a session.
    Sessions of no training time, or without a count of their rewards, stay out of the rates.
    """
    inside = sorted(sessions, key=lambda s: s.date)
    worked = [s for s in inside if s.findings["training_time_s"] > 0]
    found = [_rate(s) for s in worked if s.findings["counts"]["reinforcements"] is not None]
    weeks = _weeks(worked, session_cap_s or LONGEST_SHAPING_S, rep_cap)
    pairs = [(s.date, s.findings) for s in inside]
    grown = growth(DayCount(r.date, r.rate.count, r.minutes) for r in found)
    landings = tuple(landing for s in inside if (landing := _landing(s)) is not None)
    success = _success(inside)
    trends = tuple(trend(s.id, s.date, s.findings) for s in inside if not s.by_hand)
    return Logbook(
        rates=tuple(found),
        growth=grown,
        landings=landings,
        success=success,
        steps=steps(pairs, today),
        marker_latency_s=_timing(inside, "marker_latency_s"),
        timing_error_s=_timing(inside, "timing_error_s"),
        reward_latency_s=_timing(inside, "reward_latency_s"),
        instant="plan" if any(wants_elsewhere(s.findings) for s in inside) else "onset",
        weeks=weeks,
        over_cap=sum(week.over_cap for week in weeks),
        trends=trends,
        in_short=_in_short(inside, found, grown, landings, success, trends),
    )


def _in_short(
    inside: Sequence[Logged],
    found: Sequence[SessionRate],
    grown: Growth,
    landings: Sequence[Landing],
    success: Sequence[StepSuccess],
    trends: Sequence[DayTrend],
) -> InShort:
    step = landings[-1].approximation if landings else None
    own = next((s for s in success if s.approximation == step), None)
    filmed = [s.findings for s in inside if not s.by_hand]
    rewards = [f["reward_latency_s"]["median"] for f in filmed if f["reward_latency_s"]["n"]]
    markers = [m for f in filmed if (m := middle_of_markers(f)) is not None]
    return InShort(
        sessions=len(inside),
        filmed=len(filmed),
        days=len({s.date for s in inside}),
        minutes=sum(s.findings["training_time_s"] for s in inside) / 60,
        reps=sum(s.findings["counts"]["attempts"] for s in inside),
        signs=sum(t.signs for t in trends),
        opt_outs=sum(t.opt_outs for t in trends),
        per_min=poisson_rate(sum(r.rate.count for r in found), sum(r.minutes for r in found)),
        per_week=grown.per_week,
        step=step,
        judged=own.judged if own else 0,
        met=own.met if own else 0,
        share=own.share if own else None,
        low=own.low if own else None,
        high=own.high if own else None,
        marker_s=markers[-1] if markers else None,
        reward_s=rewards[-1] if rewards else None,
    )


def wants_elsewhere(findings: Findings) -> bool:
    """Whether the plan wanted a marker elsewhere than at the onset."""
    error, latency = findings["timing_error_s"], findings["marker_latency_s"]
    return error is not None and error["n"] > 0 and error != latency


def middle_of_markers(findings: Findings) -> float | None:
    """The median of marker minus the instant the plan wants, seconds; else from the onset."""
    found = findings["timing_error_s" if wants_elsewhere(findings) else "marker_latency_s"]
    median: float | None = found["median"] if found else None
    return median


def _rate(session: Logged) -> SessionRate:
    minutes = session.findings["training_time_s"] / 60
    paid = session.findings["counts"]["reinforcements"]
    return SessionRate(session.id, session.date, poisson_rate(paid, minutes), minutes)


def _landing(session: Logged) -> Landing | None:
    """The step worked last, with its counts over the whole session."""
    splits = session.findings["splits"]
    worked = [s["approximation"] for s in splits["segments"] if s["attempts"]]
    if not worked or worked[-1] is None:
        return None
    pooled = next(s for s in splits["approximations"] if s["approximation"] == worked[-1])
    counts = {key: pooled[key] for key in ("judged", "met", "share", "low", "high")}
    return Landing(session.id, session.date, worked[-1], **counts)


def _success(sessions: Sequence[Logged]) -> tuple[StepSuccess, ...]:
    judged: Counter[str] = Counter()
    met: Counter[str] = Counter()
    for session in sessions:
        for split in session.findings["splits"]["approximations"]:
            key = split["approximation"]
            if key is not None:
                judged[key] += split["judged"]
                met[key] += split["met"]
    shares = {key: wilson(met[key], judged[key]) for key in judged}
    return tuple(
        StepSuccess(key, s.of, s.count, s.share, s.low, s.high) for key, s in shares.items()
    )


def _timing(sessions: Sequence[Logged], key: str) -> tuple[SessionTiming, ...]:
    """Sessions with at least one value of `key`, each with its spread."""
    names = [f.name for f in fields(Summary)]
    timed = [s for s in sessions if s.findings[key] is not None and s.findings[key]["n"]]
    found = skill(
        (s.date, Summary(**{name: s.findings[key][name] for name in names})) for s in timed
    )
    return tuple(SessionTiming(s.id, own) for s, own in zip(timed, found, strict=True))


def _weeks(
    sessions: Sequence[Logged], session_cap_s: float, rep_cap: int | None
) -> tuple[Week, ...]:
    """Every week from the first session's to the last's, those without one included.

    Of a pause longer than LONGEST_PAUSE weeks only the sessions on either side are told.
    """
    by_monday: dict[dt.date, list[Findings]] = {}
    for session in sessions:
        by_monday.setdefault(_monday(session.date), []).append(session.findings)
    mondays = sorted(by_monday)
    shown = mondays[:1]
    for before, after in itertools.pairwise(mondays):
        between = (after - before).days // 7 - 1
        if between <= LONGEST_PAUSE:
            shown += [before + dt.timedelta(weeks=n + 1) for n in range(between)]
        shown.append(after)
    return tuple(
        _week(monday, by_monday.get(monday, []), session_cap_s, rep_cap) for monday in shown
    )


def _week(
    monday: dt.date, own: Sequence[Findings], session_cap_s: float, rep_cap: int | None
) -> Week:
    return Week(
        monday=monday,
        sessions=len(own),
        minutes=sum(f["training_time_s"] for f in own) / 60,
        reps=sum(f["counts"]["attempts"] for f in own),
        minutes_cap=len(own) * session_cap_s / 60,
        reps_cap=None if rep_cap is None else len(own) * rep_cap,
        over_cap=sum(f["training_time_s"] > 1.1 * session_cap_s for f in own),
    )


def _monday(date: dt.date) -> dt.date:
    return date - dt.timedelta(days=date.weekday())
