"""What a calendar program is told of the days of training."""

from __future__ import annotations

from collections.abc import Mapping

#: One day, by what it is. `whose` is a learner and what it learns.
DAYS: Mapping[str, str] = {
    "held": "{whose}: trained",
    "planned": "{whose}",
    "stage.ended": "{whose}: {stage} ended",
    "stage.ends": "{whose}: {stage} ends at the earliest",
    "rung": "{whose}: {quantity} {value} {unit} from today at the earliest",
}
#: What more is said of a day.
MORE: Mapping[str, str] = {
    "go": "{stage}: {go} of {of}.",
    "go.open": "{stage}: as long as the judgement asks for it.",
    "waits": "It ends when the judgement goes on, not by the date alone.",
}
