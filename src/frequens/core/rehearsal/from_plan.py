"""What of a plan and of a logbook the rehearsal takes."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from ..decisions.judging import Digest
from ..decisions.judging.judge import DEFAULT_RULE
from .fitting import Practice
from .rehearse import USUAL_CAP_S, USUAL_DAYS, USUAL_REPS, Course


def course_of(plan: Mapping[str, Any]) -> Course:
    """The course of a `frequens-plan` document: its steps in use, its rule, its caps, its days.

    A step that raises several things at once is as many leaps.
    """
    days = plan.get("calendar", {})
    used = [s for s in plan.get("approximations", []) if not s.get("retired")]
    a_week = days.get("a_week") or 7 * days.get("a_day", 0)
    return Course(
        steps=tuple(s["key"] for s in used),
        leaps={s["key"]: len(s["raises"]) for s in used if len(s.get("raises", ())) > 1},
        rule=plan.get("rule") or DEFAULT_RULE,
        cap_s=plan.get("session_cap_s") or USUAL_CAP_S,
        rep_cap=plan.get("rep_cap") or USUAL_REPS,
        days_between=7 / a_week if a_week else USUAL_DAYS,
    )


def practice_of(digests: Iterable[Digest], steps: Sequence[str]) -> list[Practice]:
    """The judged reps of these sessions, in order, at steps that the plan still has.

    Sessions without a day count as one on the next; counts by hand have no order and are left out.
    """
    places = {key: place for place, key in enumerate(steps)}
    found: list[Practice] = []
    before: dt.date | None = None
    for digest in digests:
        trials = tuple((places[t.step], t.met) for t in digest.trials if t.step in places)
        if digest.by_hand or not trials:
            continue
        day = dt.date.fromisoformat(digest.date) if digest.date else None
        days = (day - before).days if day and before else USUAL_DAYS
        found.append(Practice(float(max(0, days)), trials))
        before = day or before
    return found
