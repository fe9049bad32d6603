"""Starter plans for each way of working, made for Saltmarsh Steading: to copy and adapt."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from .document import FORMAT, VERSION

CLICK = {"name": "click", "meaning": "event"}
RUN = {"kind": "run", "need": 5, "miss": 3}


def _flight(*steps: Mapping[str, Any]) -> list[dict[str, Any]]:
    """Steps that each fall back to the one before."""
    flight: list[dict[str, Any]] = []
    for step in steps:
        before = {"fallback": flight[-1]["key"]} if flight else {}
        flight.append({"mark_at": "onset", **before, **step})
    return flight


def _step(key: str, title: str, criterion: str, raises: str, **more: Any) -> dict[str, Any]:
    return {"key": key, "title": title, "criterion": criterion, "raises": [raises], **more}


_BELL: dict[str, Any] = {
    "behaviour": "Ring the ship's bell",
    "goal": "Takes the rope in her mouth and rings the bell once, when asked, in the yard or the "
    "barn.",
    "way": "free_shaping",
    "markers": [CLICK],
    "after_marker": "release",
    "after_miss": "wait",
    "reset": "toss",
    "placement": {"in place": 0.5, "tossed away": 0.5},
    "rule": RUN,
    "rate_floor_per_min": 6,
    "session_cap_s": 180,
    "rep_cap": 15,
    "cue": {"name": "“ring”", "from_step": "asked"},
    "hazards": ["ropes", "objects_in_mouth"],
    "conditions": [{"name": "location", "levels": ["yard", "barn"]}],
    "approximations": _flight(
        _step("look", "Looks at the rope", "Her nose turns to the rope.", "topography"),
        _step("nose", "Nose on the rope", "Her nose touches the rope anywhere.", "topography"),
        _step("mouth", "Mouth on the rope", "Her lips close on the rope anywhere.", "topography"),
        _step("low", "Takes it below the knot", "Her lips close below the knot.", "precision"),
        _step("pull", "Pulls until it moves", "The bell swings visibly.", "topography"),
        _step("ring", "Bell rings once", "The bell is heard.", "precision"),
        _step("asked", "Rings when asked", "She begins within 3 s of the cue.", "speed"),
    ),
}
_DISC: dict[str, Any] = {
    "behaviour": "Peck the striped disc",
    "goal": "Of three discs on the board, pecks the striped one once, wherever it hangs.",
    "way": "targeting",
    "markers": [CLICK],
    "after_marker": "release",
    "after_miss": "wait",
    "reset": "in_position",
    "placement": {"at the board": 1.0},
    "rule": {"kind": "share", "window": 10, "raise": 0.8, "lower": 0.5},
    "rate_floor_per_min": 10,
    "session_cap_s": 90,
    "rep_cap": 20,
    "hazards": [],
    "conditions": [{"name": "place", "levels": ["left", "middle", "right"]}],
    "approximations": _flight(
        _step("near", "Beak near the disc", "Her beak is within a disc's width of it.", "distance"),
        _step("peck", "Pecks the disc", "Her beak touches the striped disc.", "topography"),
        _step("plain", "A plain disc beside it", "Pecks the striped disc first.", "distraction"),
        _step(
            "three", "Three discs", "Of three discs, pecks the striped one first.", "distraction"
        ),
        _step(
            "moved", "Wherever it hangs", "The same with the discs in new places.", "distraction"
        ),
    ),
}
_STAND: dict[str, Any] = {
    "behaviour": "Hoof onto the stand",
    "goal": "Lifts a front hoof onto the low stand and leaves it there for 5 s, for trimming.",
    "way": "luring",
    "lure_reps": 4,
    "prompts": ["food_lure", "empty_hand", "gesture"],
    "markers": [CLICK, {"name": "“good”", "meaning": "keep_going"}],
    "after_marker": "stay",
    "after_miss": "wait",
    "reset": "in_position",
    "placement": {"over the stand": 0.75, "stepping back": 0.25},
    "rule": {"kind": "block", "size": 5, "raise_at": 5, "lower_at": 2},
    # A hoof that rests 5 s leaves no time for more.
    "rate_floor_per_min": 4,
    "session_cap_s": 150,
    "rep_cap": 12,
    "hazards": ["raised_platform", "hoof_or_claw", "large_animal"],
    "conditions": [{"name": "side", "levels": ["left", "right"]}],
    "approximations": _flight(
        _step("step", "Steps up to the stand", "A front hoof lands a hand from it.", "distance"),
        _step("lift", "Lifts the hoof", "The hoof leaves the ground beside it.", "topography"),
        _step("touch", "Hoof touches the stand", "Any part of the hoof is on it.", "precision"),
        _step("rest", "Hoof rests 1 s", "The hoof stays on it for 1 s.", "duration",
              mark_at="hold", hold_s=1.0),
        _step("hold3", "Hoof rests 3 s", "The hoof stays on it for 3 s.", "duration",
              mark_at="hold", hold_s=3.0),
        _step("hold5", "Hoof rests 5 s", "The hoof stays on it for 5 s.", "duration",
              mark_at="hold", hold_s=5.0),
    ),
}  # fmt: skip
_LIE: dict[str, Any] = {
    "behaviour": "Lie down in the straw",
    "goal": "Lies down on the marked bed of straw when the lamp is lit.",
    "way": "capturing",
    "markers": [CLICK],
    "after_marker": "release",
    "after_miss": "wait",
    "reset": "toss",
    "placement": {"on the straw": 0.6, "tossed away": 0.4},
    "rule": {"kind": "comfort", "clean_sessions": 3},
    "rate_floor_per_min": 2,
    "session_cap_s": 300,
    "rep_cap": 10,
    "cue": {"name": "the lamp", "from_step": "lamp"},
    "hazards": [],
    "conditions": [{"name": "time of day", "levels": ["morning", "evening"]}],
    "approximations": _flight(
        _step("kneel", "Kneels by itself", "Both front knees touch the ground.", "topography"),
        _step("down", "Lies down by itself", "The belly touches the ground.", "topography"),
        _step("straw", "Lies on the straw", "Lies with all four legs on the straw.", "precision"),
        _step("lamp", "Lies when the lamp is lit", "Is down within 10 s of the lamp.", "speed"),
    ),
}


def _named(key: str, plan: dict[str, Any]) -> tuple[str, dict[str, Any]]:
    return key, {"format": FORMAT, "version": VERSION, **plan}


#: Starter plans by key: one for each way of working.
STARTERS: Mapping[str, Mapping[str, Any]] = dict(
    (_named("bell", _BELL), _named("disc", _DISC), _named("stand", _STAND), _named("straw", _LIE))
)
