"""The demo's drills: a trainer who has practised for six weeks, and got surer."""

from __future__ import annotations

import datetime as dt
import random
from collections.abc import Iterator, Mapping
from typing import Any

from django.utils import timezone

from frequens.core.drill import Instant, LevelKey
from frequens.server.accounts.models import Workspace
from frequens.server.drill.lag_in_use import learn
from frequens.server.drill.models import DrillRun
from frequens.server.drill.scripts import drawn_script

#: So many weeks, and on which days of each, from the week's first.
WEEKS, DAYS = 6, (0, 3)
#: The hand in the first week and in the last: lag and spread, seconds, and how often it presses on
#: something else and overlooks what was asked for.
FIRST, LAST = (0.36, 0.075, 0.3, 0.12), (0.25, 0.045, 0.08, 0.02)
FRAME_S = 1 / 60


def practise(workspace: Workspace, user: Any, today: dt.date, seed: int) -> None:
    """Two drills a week of what begins, the last one yesterday; and one of what ends."""
    chance = random.Random(seed)
    for n, (day, instant, level) in enumerate(_drills(today)):
        habits = _between(n / (WEEKS * len(DAYS)))
        script = drawn_script(level, instant, "lift", 60, seed + n).dict()
        at = timezone.make_aware(dt.datetime.combine(day, dt.time(18, 30 + n)))
        run = DrillRun.objects.create(
            workspace=workspace,
            author=user,
            source="drawn",
            instant=instant,
            level=level,
            seconds=60,
            script=script,
            measured=_pressed(script["windows"], habits, chance),
            finished_at=at,
        )
        DrillRun.objects.filter(pk=run.pk).update(created_at=at)
    learn(user)


def _drills(today: dt.date) -> Iterator[tuple[dt.date, Instant, LevelKey]]:
    first = today - dt.timedelta(days=7 * (WEEKS - 1) + DAYS[-1] + 1)
    for week in range(WEEKS):
        for day in DAYS:
            yield first + dt.timedelta(days=7 * week + day), "begins", "fakes"
    yield today - dt.timedelta(days=1), "ends", "clear"


def _between(share: float) -> tuple[float, ...]:
    share = min(1.0, share)
    return tuple(one + share * (other - one) for one, other in zip(FIRST, LAST, strict=True))


def _pressed(
    windows: list[Mapping[str, Any]], habits: tuple[float, ...], chance: random.Random
) -> dict[str, Any]:
    lag_s, sd_s, wrong, overlooked = habits
    presses: list[float] = []
    shown: dict[str, list[float]] = {}
    for place, window in enumerate(windows):
        if window["due_s"] is None:
            if window["on"] != "not_yet" and chance.random() < wrong:
                presses.append((window["opens_s"] + window["closes_s"]) / 2)
            continue
        seen = window["due_s"] + chance.uniform(0, FRAME_S)
        shown[str(place)] = [seen, FRAME_S]
        if chance.random() >= overlooked:
            presses.append(seen + max(0.12, chance.gauss(lag_s, sd_s)))
    return {
        "presses": presses,
        "shown": shown,
        "frame_s": FRAME_S,
        "picture_s": FRAME_S,
        "by": "key",
    }
