"""Saltmarsh Steading: its animals, its two trainers, what is taught and how it went.

Everything is invented. Wren's hand is quick; Teasel's is late and often moves first, and gets
better. Bramble's plan goes wrong, because a step is too high, and recovers when it is split.
"""

from __future__ import annotations

import copy
import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from frequens.core.planning.shaping import STARTERS
from frequens.simulator.yard.world import Animal, Hand

WORKSPACE = "Saltmarsh Steading"
#: Who logs in; both share one password, for trying things out.
TRAINERS = ("wren", "teasel")
PASSWORD = "bell-rope-and-barley"
WEEKS = 6

LEARNERS: Mapping[str, Mapping[str, Any]] = {
    "Thistle": {
        "species": "goat",
        "born": dt.date(2022, 4, 11),
        "size": "medium",
        "health": ["pregnant"],
        "notes": "In kid. Horns: mind ropes.",
        "piece_kj": 12.0,
        "day_kj": 11_500.0,
    },
    "Pepper": {
        "species": "hen",
        "born": dt.date(2024, 5, 2),
        "size": "small",
        "health": ["timid"],
        "piece_kj": 1.1,
        "day_kj": 1_250.0,
    },
    "Bramble": {
        "species": "pony",
        "born": dt.date(2009, 6, 20),
        "withers_cm": 118.0,
        "size": "large",
        "health": ["old", "overweight"],
        "piece_kj": 25.0,
        "day_kj": 52_000.0,
    },
}

WREN = Hand(late_s=0.24, spread_s=0.08, reward_s=1.2, hand_first=0.01)


def teasel(week: int) -> Hand:
    """Teasel's hand, late at first and surer from week to week."""
    better = week / (WEEKS - 1)
    return Hand(
        late_s=0.55 - 0.24 * better,
        spread_s=0.2 - 0.1 * better,
        reward_s=2.3 - 0.9 * better,
        hand_first=0.12 - 0.1 * better,
        forgets=0.03 - 0.03 * better,
        marks_misses=0.05,
    )


@dataclass(frozen=True)
class Course:
    """One behaviour over the weeks: who, what, on which weekdays (0 is Monday), under which plan.

    `plans` are its versions by the first week they are in force; `weeks` are the first and
    last, counted from 0. By the session's number, from 0: `insists` on a step whatever the card
    says; `by_hand` nobody filmed; `tags`; `notes` beside a part of the findings; `places`.
    """

    learner: str
    seed: int
    weekdays: frozenset[int]
    plans: Sequence[tuple[int, Mapping[str, Any]]]
    animal: Animal
    trainers: Sequence[str]
    weeks: tuple[int, int] = (0, WEEKS - 1)
    insists: Mapping[int, str] = field(default_factory=dict)
    by_hand: frozenset[int] = frozenset()
    tags: Mapping[int, Sequence[str]] = field(default_factory=dict)
    notes: Mapping[int, tuple[str, str]] = field(default_factory=dict)
    conditions: Mapping[str, Sequence[str]] = field(default_factory=dict)
    help: Sequence[str] = ()
    is_cued: bool = False
    #: What is done to it at the end of each session.
    touches: Sequence[str] = ()
    #: A break after so many reps.
    reps_a_bout: int | None = None
    #: Where it was, from which session on.
    places: Sequence[tuple[int, str]] = ()
    #: Sessions led by a script that was taken along.
    scripted: frozenset[int] = frozenset()


def _without(plan: Mapping[str, Any], key: str) -> dict[str, Any]:
    """A plan without one of its steps; the step above falls back past it."""
    changed = copy.deepcopy(dict(plan))
    steps = changed["approximations"]
    gone = next(step for step in steps if step["key"] == key)
    steps.remove(gone)
    for step in steps:
        if step.get("fallback") == key:
            step["fallback"] = gone["fallback"]
    return changed


def _with_quantity(
    plan: Mapping[str, Any], quantity: Mapping[str, Any], *keys: str
) -> dict[str, Any]:
    """A plan in which reps at these steps are given a number."""
    changed = copy.deepcopy(dict(plan))
    for step in changed["approximations"]:
        if step["key"] in keys:
            step["quantity"] = dict(quantity)
    return changed


_STAND: dict[str, Any] = _with_quantity(
    {
        **STARTERS["stand"],
        "calendar": {"a_week": 4, "rest": [0, 6]},
        "ladders": [{"name": "height", "rungs": [10, 15, 20, 25], "least_days": 4}],
        "rule": {"kind": "run", "need": 4, "miss": 3},
        "markers": [
            {"name": "“yip”", "meaning": "event"},
            {"name": "“good”", "meaning": "keep_going"},
        ],
    },
    {"name": "height", "unit": "cm", "better": "more", "target": 25},
    "lift", "touch", "rest", "hold3", "hold5",
)  # fmt: skip
_BUCKET: dict[str, Any] = {
    **STARTERS["bell"],
    "behaviour": "Stand while the bucket falls",
    "goal": "Stands on her mat on the word “mat” and stays while a bucket falls anywhere near.",
    "way": "free_shaping",
    "reset": "toss",
    "after_marker": "stay",
    "markers": [
        {"name": "click", "meaning": "event"},
        {"name": "“good”", "meaning": "keep_going"},
    ],
    "placement": {"on the mat": 0.8, "tossed away": 0.2},
    "rule": {"kind": "run", "need": 4, "miss": 3},
    "session_cap_s": 180,
    "rep_cap": 12,
    "hazards": [],
    "cue": {"name": "“mat”", "from_step": "drop"},
    "calendar": {"a_week": 3, "rest": [6]},
    "stages": [
        {"name": "The bucket near by", "kind": "getting_used", "until": "down"},
        {"name": "The bucket falls", "kind": "getting_used", "until": "drop"},
        {"name": "In the barn, short goes", "kind": "short_goes", "goes": 6},
    ],
    "conditions": [{"name": "clock", "levels": ["3", "9", "8", "4", "7", "5", "6"]}],
    "approximations": [
        {
            "key": "down",
            "title": "Bucket set down",
            "criterion": "All four feet stay on the mat until she is let go.",
            "raises": ["distraction"],
            "mark_at": "hold",
            "hold_s": 1.0,
            "until_release": True,
        },
        {
            "key": "drop",
            "title": "Bucket dropped",
            "criterion": "All four feet stay on the mat until she is let go.",
            "raises": ["distraction"],
            "mark_at": "hold",
            "hold_s": 2.0,
            "until_release": True,
            "fallback": "down",
        },
    ],
}


_WORDS: dict[str, Any] = {
    **STARTERS["disc"],
    "behaviour": "Disc on its word, bowl on its own",
    "goal": "Pecks the disc on “disc” and the bowl on “bowl”, and nothing while nobody asks.",
    "cue": {"name": "disc", "from_step": "disc"},
    "cues": [
        {"label": "disc", "behaviour": "pecks the disc"},
        {"label": "bowl", "behaviour": "pecks the bowl"},
    ],
    "rule": {"kind": "share", "window": 10, "raise": 0.8, "lower": 0.5},
    # Waiting is worked on as well: that leaves less time to be paid in.
    "rate_floor_per_min": 3,
    "session_cap_s": 240,
    "rep_cap": 18,
    "conditions": [],
    "hazards": [],
    "approximations": [
        {
            "key": "disc",
            "title": "Disc on its word",
            "criterion": "After “disc” her beak touches the disc before anything else.",
            "raises": ["precision"],
            "answers": True,
        },
        {
            "key": "both",
            "title": "Disc or bowl, as asked",
            "criterion": "Her beak touches first what was asked for.",
            "raises": ["distraction"],
            "answers": True,
            "fallback": "disc",
        },
    ],
}
_PEG_PARTS: Mapping[str, str] = {
    "take": "takes the peg",
    "carry": "carries it to the bucket",
    "drop": "drops it in",
}
_PEG: dict[str, Any] = {
    **STARTERS["bell"],
    "behaviour": "Peg into the bucket",
    "goal": "Takes a clothes peg from the ground, carries it to the bucket and drops it in.",
    "way": "free_shaping",
    "chain": {"direction": "backward", "parts": list(_PEG_PARTS.values())},
    "rule": {"kind": "run", "need": 4, "miss": 4},
    "session_cap_s": 210,
    "rep_cap": 16,
    "rate_floor_per_min": 4,
    "hazards": ["objects_in_mouth"],
    "cue": {"name": "“tidy”", "from_step": "all"},
    "approximations": [
        {
            "key": "joined",
            "title": "Carries it, then drops it in",
            "criterion": "From the mouth into the bucket, without a stop.",
            "raises": ["topography"],
            "mark_at": "offset",
            "parts": [{"key": key, "title": _PEG_PARTS[key]} for key in ("carry", "drop")],
        },
        {
            "key": "all",
            "title": "Takes, carries, drops it in",
            "criterion": "From the ground into the bucket, without a stop.",
            "raises": ["topography"],
            "mark_at": "offset",
            "fallback": "joined",
            "parts": [{"key": key, "title": title} for key, title in _PEG_PARTS.items()],
        },
    ],
}


def courses() -> tuple[Course, ...]:
    """Every course anew: the animals learn while it is made."""
    return (
        Course(
            learner="Thistle",
            seed=3,
            weekdays=frozenset({0, 3, 5}),
            plans=[(0, STARTERS["bell"])],
            animal=Animal(
                quick=0.08,
                pause_s=1.9,
                known={"look": 0.6, "nose": 0.35},
                offers=("butts the post", "paws the straw"),
                shows=("looks away", "stamps"),
            ),
            trainers=["wren"],
            tags={4: ["windy"], 9: ["barn"]},
            notes={9: ("rates", "First time in the barn: two reps to look around, then quick.")},
        ),
        Course(
            learner="Thistle",
            seed=29,
            weekdays=frozenset({1, 4}),
            plans=[(0, _BUCKET)],
            animal=Animal(
                quick=0.08,
                pause_s=2.4,
                known={"down": 0.8, "drop": 0.5},
                offers=("steps off the mat",),
                shows=("ears back",),
                weak={("clock", "6"): 0.45, ("clock", "5"): 0.7, ("clock", "7"): 0.75},
            ),
            trainers=["wren"],
            weeks=(3, WEEKS - 1),
            conditions={"clock": ["3", "9", "8", "4", "7", "5", "6"]},
            reps_a_bout=5,
            places=[(0, "yard"), (3, "barn")],
            scripted=frozenset({4, 5}),
        ),
        Course(
            learner="Pepper",
            seed=7,
            weekdays=frozenset({0, 1, 2, 3, 4}),
            plans=[(0, STARTERS["disc"])],
            animal=Animal(
                quick=0.026,
                pause_s=0.9,
                known={"near": 0.5},
                offers=("pecks the board", "scratches the floor"),
                shows=("freezes", "flaps off the table"),
                weak={("place", "right"): 0.72},
            ),
            trainers=["wren", "teasel"],
            by_hand=frozenset({5, 13, 21}),
            tags={11: ["new table"], 12: ["new table"], 19: ["visitors"]},
            conditions={"place": ["left", "middle", "right"]},
        ),
        Course(
            learner="Bramble",
            seed=17,
            weekdays=frozenset({1, 2, 4, 6}),
            plans=[(0, _without(_STAND, "rest")), (3, _STAND)],
            animal=Animal(
                quick=0.12,
                pause_s=2.2,
                known={"step": 0.6, "lift": 0.45, "touch": 0.3, "rest": 0.35},
                offers=("paws", "noses the pocket"),
                shows=("swishes the tail", "ears back", "walks off"),
                weak={("side", "left"): 0.8},
                leaps=frozenset({("touch", "hold3")}),
            ),
            trainers=["teasel"],
            insists={5: "touch", **dict.fromkeys(range(6, 12), "hold3"), 12: "rest"},
            tags={6: ["too fast?"], 12: ["new step"]},
            notes={
                9: ("pause_s", "She walks off between reps. The three seconds come too soon."),
                12: ("splits", "One second first, from today on."),
            },
            conditions={"side": ["right", "left"]},
            help=["food_lure", "empty_hand", "gesture"],
            touches=["brush on the hoof"],
            places=[(0, "stable lane")],
        ),
        Course(
            learner="Pepper",
            seed=41,
            weekdays=frozenset({1, 3, 5}),
            plans=[(0, _WORDS)],
            animal=Animal(
                quick=0.05,
                pause_s=1.0,
                known={"disc": 0.45, "both": 0.35},
                offers=("scratches the floor",),
                shows=("freezes",),
            ),
            trainers=["wren", "teasel"],
            weeks=(3, WEEKS - 1),
            places=[(0, "kitchen table"), (5, "yard")],
        ),
        Course(
            learner="Thistle",
            seed=53,
            weekdays=frozenset({2, 6}),
            plans=[(0, _PEG)],
            animal=Animal(
                quick=0.06,
                pause_s=2.0,
                known={"take": 0.75, "carry": 0.5, "drop": 0.7, "joined": 0.45, "all": 0.3},
                offers=("chews the peg",),
                shows=("looks away",),
            ),
            trainers=["wren"],
            weeks=(2, WEEKS - 1),
            places=[(0, "yard")],
            reps_a_bout=6,
        ),
    )
