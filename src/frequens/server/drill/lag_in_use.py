"""The lag that the tap pass takes off: learned from one's drills unless it was set by hand."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from typing import Any

from django.db import transaction
from django.utils import timezone

from frequens.core.drill import Lag, usual_lag

from ..accounts.models import Preferences
from .kept_runs import pressed_in, score_of
from .models import DrillRun

#: What was pressed lately says how one presses now: so many drills, of so many days.
LATELY, LATELY_DAYS = 5, 28
#: The settings it stands in.
OF_LAG = ("lag_s", "lag_sd_s", "lag_by")
#: Among so many, those are looked for.
MOST_LOOKED_AT = 50
#: Of instants one sees; a hold's end can be counted out. A clicker presses nothing on the bench.
SEEN, TAPPED_BY = ("begins", "ends"), ("key", "pointer", "touch")


def learned(runs: Iterable[DrillRun]) -> Lag | None:
    """The usual lag from somebody's drills, the newest first; None where they say too little."""
    since = timezone.now() - dt.timedelta(days=LATELY_DAYS)
    told = [
        run
        for run in runs
        if run.measured
        and not run.left_out
        and run.instant in SEEN
        and pressed_in(run).by in TAPPED_BY
        and run.created_at >= since
    ]
    answers = [answer for run in told[:LATELY] for answer in score_of(run).answers]
    return usual_lag([answer.lag_s for answer in answers if answer.lag_s is not None])


def learn(user: Any, *, anew: bool = False) -> None:
    """Take over what the drills say into the user's settings, unless they set it by hand.

    Where they say too little, what was learned before stays; with `anew` it is forgotten, as what
    it came from may count no more.
    """
    lag = learned(DrillRun.objects.filter(author=user.pk, measured__isnull=False)[:MOST_LOOKED_AT])
    with transaction.atomic():
        kept, _ = Preferences.objects.select_for_update().get_or_create(user_id=user.pk)
        if kept.values.get("lag_by") == "hand" or (lag is None and not anew):
            return
        learned_now = {}
        if lag is not None:
            seconds = {"lag_s": round(lag.lag_s, 3), "lag_sd_s": round(lag.sd_s, 3)}
            learned_now = {**seconds, "lag_by": "drill"}
        others = {key: kept.values[key] for key in kept.values if key not in OF_LAG}
        kept.values = {**others, **learned_now}
        kept.save()
