"""What can be said of a plan while it is written, and the cautions that belong to it.

All of it is common practice and has no source but use, where nothing else is said. A remark
names the place it belongs to, so that it can be shown there; none proposes a correction,
pressure or pain.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from ...decisions.judging.words import HELP_WORDS
from ...rules.judgement_numbers import Judging
from ..calculators.schedules import FIRST_SESSION_S, LONGEST_SHAPING_S, stage_numbers
from ..calculators.transfer import MOST_LURES

Plan = Mapping[str, Any]
Step = Mapping[str, Any]
#: `check`: something to mend or to think over. `caution`: something to keep in mind.
Sort = Literal["check", "caution"]
#: What Frequens can do about it at a press.
Mend = Literal["split_step", "add_fallback", "cap_session", "cap_reps", "fewer_lures", "cue_later"]
Health = Literal[
    "growing",
    "old",
    "pregnant",
    "overweight",
    "injured",
    "ill",
    "timid",
    "bites_or_guards",
    "food_allergy",
]

WORDS_NOT_ON_FILM = (
    "interested", "interest", "wants", "knows", "understands", "thinks", "likes", "tries",
    "happy", "confident", "relaxed", "attentive", "motivated", "focused", "willing", "calm",
    "good", "nice", "properly", "correctly", "better", "well", "enough", "ready",
)  # fmt: skip
_NOT_ON_FILM = re.compile(rf"\b({'|'.join(WORDS_NOT_ON_FILM)})\b", re.IGNORECASE)
_TWO_THINGS = re.compile(r"\b(and|while|without|plus)\b|&", re.IGNORECASE)
DIMENSION_WORDS = {
    "topography": "form",
    "precision": "precision",
    "speed": "speed",
    "duration": "duration",
    "distance": "distance",
    "distraction": "distraction",
}
#: Dimensions whose rise makes the behaviour another one than the cue would name.
FORMING = frozenset({"topography", "precision"})


@dataclass(frozen=True, slots=True)
class Learner:
    """What of a learner drives cautions. `health` holds codes of `Health`, `size` may be "".

    `withers_cm` is its height at the withers, centimetres.
    """

    name: str = ""
    species: str = ""
    health: frozenset[str] = frozenset()
    size: str = ""
    withers_cm: float | None = None


@dataclass(frozen=True, slots=True)
class Remark:
    """One remark. `place` is a path into the document: ``approximations[2]``, ``rule`` …"""

    sort: Sort
    code: str
    place: str
    title: str
    text: str
    mend: Mend | None = None


def remarks(plan: Plan, learner: Learner | None = None) -> tuple[Remark, ...]:
    """Everything there is to say about a plan that `read_shaping_plan` gave back.

    Checks come before cautions, each in the order of the plan.
    """
    said = [remark for check in CHECKS for remark in check(plan)]
    said += _cautions(plan, learner or Learner())
    return tuple(said)


def _steps(plan: Plan) -> list[tuple[int, Step]]:
    """Steps in use, with their place in the document."""
    return [(n, s) for n, s in enumerate(plan.get("approximations", [])) if not s.get("retired")]


def _goal(plan: Plan) -> Iterator[Remark]:
    if not plan.get("goal", "").strip():
        yield Remark(
            "check", "no_goal", "goal", "No end picture yet.",
            "Say what somebody would see on the film when it is finished: the behaviour, where, "
            "and on what signal.",
        )  # fmt: skip
    if len(_steps(plan)) < 2:
        yield Remark(
            "check", "few_steps", "approximations", "Hardly a flight of steps.",
            "Begin with something the animal already does, and put the steps between it and the "
            "goal in reach of each other.",
        )  # fmt: skip


def _criteria(plan: Plan) -> Iterator[Remark]:
    titles: dict[str, str] = {}
    for n, step in _steps(plan):
        place = f"approximations[{n}]"
        criterion = step.get("criterion", "").strip()
        title = step.get("title", "").strip()
        vague = _NOT_ON_FILM.search(criterion)
        if not criterion:
            yield Remark(
                "check", "no_criterion", place, "Nobody could judge this yet.",
                "Write when a rep fits, so that another person would judge the film the same.",
            )  # fmt: skip
        elif vague:
            yield Remark(
                "check", "not_on_film", place, "Film cannot show this.",
                f"“{vague.group()}” is read into the animal. Write what it does: which part of "
                "the body, where, for how long.",
            )  # fmt: skip
        raised = step.get("raises", [])
        if len(raised) > 1:
            words = " and ".join(DIMENSION_WORDS[d] for d in raised)
            yield Remark(
                "check", "two_dimensions", place, "Two things at once.",
                f"This step raises {words}. Raise one at a time: let one of them count first.",
                "split_step",
            )  # fmt: skip
        elif _TWO_THINGS.search(criterion) and not vague:
            yield Remark(
                "check", "two_conditions", place, "Perhaps two things at once.",
                f"“{criterion}” asks for two things. If both are new, let one of them count first.",
                "split_step",
            )  # fmt: skip
        if title and title.casefold() in titles:
            yield Remark(
                "check", "same_title", place, "Two steps have this name.",
                "On the ladder and in the logbook they could not be told apart.",
            )  # fmt: skip
        titles[title.casefold()] = title


def _fallbacks(plan: Plan) -> Iterator[Remark]:
    steps = _steps(plan)
    keys = {s["key"]: n for n, s in steps}
    for n, step in steps[1:]:
        back = step.get("fallback")
        if back is None or back not in keys:
            yield Remark(
                "check", "no_fallback", f"approximations[{n}]", "No way back.",
                "Say which easier step to return to when this one fails; the plan is made "
                "calmly now, not in the middle of a bad session.",
                "add_fallback",
            )  # fmt: skip
        elif keys[back] >= n:
            yield Remark(
                "check", "fallback_not_easier", f"approximations[{n}]", "The way back leads up.",
                "The step to return to comes later in the plan than this one.",
                "add_fallback",
            )  # fmt: skip


def _lures(plan: Plan) -> Iterator[Remark]:
    ways = {plan.get("way"), *(s.get("way") for _, s in _steps(plan))}
    if "luring" not in ways:
        return
    reps = plan.get("lure_reps")
    if reps is None or reps > MOST_LURES:
        much = "no limit" if reps is None else f"{reps} reps"
        yield Remark(
            "check", "lure_kept", "lure_reps", "Food in the hand for too long.",
            f"There is {much} with food in the hand; {MOST_LURES} or fewer are common practice. "
            "A lure kept longer becomes part of the picture.",
            "fewer_lures",
        )  # fmt: skip
    if len(plan.get("prompts", [])) < 2:
        yield Remark(
            "check", "lure_not_faded", "prompts", "The lure has nowhere to fade to.",
            "Food in the hand, then an empty hand, then a smaller gesture, then the cue.",
        )  # fmt: skip


def _caps(plan: Plan) -> Iterator[Remark]:
    cap, reps = plan.get("session_cap_s"), plan.get("rep_cap")
    if cap is None:
        yield Remark(
            "check", "no_session_cap", "session_cap_s", "No end to a session.",
            "First shaping sessions are 1 to 2 minutes, none over 5 (common practice).",
            "cap_session",
        )  # fmt: skip
    elif cap > LONGEST_SHAPING_S:
        yield Remark(
            "check", "long_session", "session_cap_s", "Longer than common practice.",
            f"{cap / 60:g} minutes of work at a stretch; {LONGEST_SHAPING_S / 60:g} are the most "
            "in common practice. Blocks of 2 to 3 minutes with breaks teach more.",
            "cap_session",
        )  # fmt: skip
    if reps is None:
        yield Remark(
            "check", "no_rep_cap", "rep_cap", "No limit to the reps.",
            "A limit lets the session end on a success instead of on a tired rep.",
            "cap_reps",
        )  # fmt: skip


def _rule(plan: Plan) -> Iterator[Remark]:
    if not plan.get("rule"):
        yield Remark(
            "check", "no_rule", "rule", "No rule for going on.",
            "Choose one of the schools, so that the step changes by what happened and not by hope.",
        )  # fmt: skip


def _markers(plan: Plan) -> Iterator[Remark]:
    markers = plan.get("markers", [])
    meanings = {m["meaning"] for m in markers}
    if "event" not in meanings:
        yield Remark(
            "check", "no_terminal_marker", "markers", "No marker that pays.",
            "Name the click or word that says: that was it, your reward is coming.",
        )  # fmt: skip
    if plan.get("after_marker") == "stay" and "keep_going" not in meanings:
        yield Remark(
            "check", "no_keep_going", "markers", "Nothing says “stay, more is coming”.",
            "After the marker the animal is to stay; that needs a keep-going marker of its own.",
        )  # fmt: skip
    if plan.get("after_miss") == "no_reward_marker":
        yield Remark(
            "check", "no_reward_marker_early", "after_miss", "Only for what is known.",
            "A mild no-reward marker helps only once the behaviour is known; while it is being "
            "shaped, say nothing and wait.",
        )  # fmt: skip


def _cue(plan: Plan) -> Iterator[Remark]:
    cue, steps = plan.get("cue"), _steps(plan)
    if not cue or "from_step" not in cue:
        return
    places = [n for n, s in steps if s["key"] == cue["from_step"]]
    if not places:
        return
    later = [s for n, s in steps if n > places[0] and FORMING & set(s.get("raises", []))]
    if later:
        yield Remark(
            "check", "cue_early", "cue", "The cue comes before the behaviour is sure.",
            f"“{cue['name']}” would name what is not finished: “{later[-1].get('title', '')}” "
            "still changes its form. A cue said over a half-made behaviour names the half.",
            "cue_later",
        )  # fmt: skip


def _cues(plan: Plan) -> Iterator[Remark]:
    for n, step in _steps(plan):
        if step.get("answers") and not (plan.get("cues") or plan.get("cue")):
            yield Remark(
                "check", "answers_no_cue", f"approximations[{n}]", "Nothing is asked.",
                "This step is about answering its cue, and the plan names none.",
            )  # fmt: skip


def _ends(plan: Plan) -> Iterator[Remark]:
    for n, step in _steps(plan):
        if step.get("until_release") and plan.get("after_marker") == "release":
            yield Remark(
                "check", "let_go_by_marker", f"approximations[{n}]", "The marker lets it go.",
                "The plan says that the marker ends the rep; this step ends when you let go. Say "
                "that after the marker it stays.",
            )  # fmt: skip
        if len(step.get("parts", [])) == 1:
            yield Remark(
                "check", "part_of_one", f"approximations[{n}]", "A chain has at least two parts.",
                "With one part it is a step like any other.",
            )  # fmt: skip


def _helps(plan: Plan) -> Iterator[Remark]:
    levels = plan.get("prompts")
    for n, step in _steps(plan):
        allowed = step.get("help")
        if allowed not in (None, "none") and levels and allowed not in levels:
            yield Remark(
                "check", "help_not_planned", f"approximations[{n}]", "Help the plan does not name.",
                f"This step allows {HELP_WORDS[allowed]}; the plan's help to fade does not.",
            )  # fmt: skip


def _judging(plan: Plan) -> Iterator[Remark]:
    """What the judgement could never do with this plan."""
    floor = plan.get("rate_floor_per_min")
    cycle = plan.get("judging", {}).get("cycle_s", Judging().cycle_s)
    for n, step in _steps(plan):
        hold = step.get("hold_s") or 0.0
        own = step.get("rate_floor_per_min")
        possible = 60 / (cycle + hold) if cycle + hold else float("inf")
        asked = own if own is not None else floor if hold else None
        if asked is not None and asked > possible + 1e-9:
            yield Remark(
                "check", "floor_impossible", f"approximations[{n}]", "So often it cannot be paid.",
                f"{asked:g} rewards a minute are asked for; with a hold of {hold:g} s at most "
                f"{possible:.1f} are possible. "
                + ("The judgement looks at what is possible." if own is None else "Ask for less."),
            )  # fmt: skip
    rule = plan.get("rule") or {}
    steps = [step for _, step in _steps(plan)]
    if rule.get("kind") == "percentile" and not any(
        "target" in (step.get("quantity") or {}) for step in steps
    ):
        yield Remark(
            "check", "nothing_measured", "rule", "Nothing to measure by.",
            "This school pays what is better than before: give a step a number and an aim, else it "
            "can never say raise.",
        )  # fmt: skip
    if rule.get("kind") == "comfort":
        yield Remark(
            "caution", "ease_to_code", "rule", "Ease has to be written down.",
            "This school looks at signs of strain and at leaving the work: mark them at the bench, "
            "or count them by hand, also where there were none.",
        )  # fmt: skip


def _ladders(plan: Plan) -> Iterator[Remark]:
    measured = {s["quantity"]["name"] for _, s in _steps(plan) if s.get("quantity")}
    for n, ladder in enumerate(plan.get("ladders", [])):
        if ladder["name"] not in measured:
            yield Remark(
                "check", "ladder_unmeasured", f"ladders[{n}]", "No step measures it.",
                f"Give a step the number “{ladder['name']}”, so that its reps can be laid beside "
                "the rungs.",
            )  # fmt: skip


def _stages(plan: Plan) -> Iterator[Remark]:
    for n, stage in enumerate(plan.get("stages", [])):
        numbers = stage_numbers(stage)
        if numbers.most_weeks is not None and numbers.most_weeks < numbers.least_weeks:
            yield Remark(
                "check", "stage_backwards", f"stages[{n}]", "Its most is less than its least.",
                f"“{stage['name']}” cannot end before it may.",
            )  # fmt: skip


def _chain(plan: Plan) -> Iterator[Remark]:
    chain = plan.get("chain")
    if chain and len(chain.get("parts", [])) == 1:
        yield Remark(
            "check", "chain_of_one", "chain", "A chain has at least two parts.",
            "Name the parts in the order in which they are done.",
        )  # fmt: skip


CHECKS: Sequence[Callable[[Plan], Iterator[Remark]]] = (
    _goal,
    _criteria,
    _fallbacks,
    _lures,
    _caps,
    _rule,
    _markers,
    _cue,
    _cues,
    _ends,
    _helps,
    _judging,
    _ladders,
    _stages,
    _chain,
)

_HAZARDS: Mapping[str, tuple[str, str]] = {
    "speed_height_turning": (
        "Speed, height or turning.",
        "A floor that does not slip, warmed up first, and stop at the first uneven step.",
    ),
    "jumping": (
        "Jumping.",
        "A bar begins at about half its final height. Growing animals do not jump high or repeat "
        "impacts: full heights only after the veterinarian agrees, by the sport's own rules.",
    ),
    "raised_platform": (
        "Ramps, stands and platforms.",
        "Stable and wide, a hand close by, and no jumping off.",
    ),
    "worn_or_following": (
        "Things worn, or that touch or follow.",
        "The animal moves into it, never the reverse; never left alone in it; fit checked for "
        "breath, drink and pant. Two to three weeks a stage.",
    ),
    "ropes": (
        "Ropes.",
        "Hang a rope so that it lets go under a sharp pull, mind horns and halters, and stay "
        "within reach.",
    ),
    "hoof_or_claw": (
        "Hoof and claw work.",
        "Beside someone experienced; feet and exits free, and let go before the animal has to ask.",
    ),
    "objects_in_mouth": (
        "Things in the mouth.",
        "Too large to swallow, nothing that splinters, and traded for, not taken.",
    ),
    "large_animal": (
        "A large animal.",
        "Mind feet and exits; wear a helmet; work beside someone experienced.",
    ),
    "children": (
        "Children.",
        "Under an adult's eyes all the while, from about ten years on (common practice).",
    ),
}
_HEALTH: Mapping[str, tuple[str, str]] = {
    "growing": (
        "{name} is still growing.",
        "Fewer reps, no repeated impacts, no full heights: ask the veterinarian first.",
    ),
    "old": (
        "{name} is old.",
        "Fewer reps, longer breaks, soft ground: ask the veterinarian first.",
    ),
    "pregnant": (
        "{name} is pregnant.",
        "Short blocks; ask the veterinarian before work with jumping, pulling or turning.",
    ),
    "overweight": (
        "{name} is overweight.",
        "Fewer reps on hard ground, and every reward out of the day's ration.",
    ),
    "injured": (
        "{name} has been hurt.",
        "Ask the veterinarian first; stop at any lameness or reluctance.",
    ),
    "ill": ("{name} is ill.", "Ask the veterinarian before training; rest is work enough."),
    "timid": (
        "{name} is timid.",
        "Most rewards away from what frightens: 75 % off, 25 % on. The animal moves into it, "
        "never the reverse.",
    ),
    "bites_or_guards": (
        "{name} bites or guards.",
        "Keep distance and do not go on alone: work with a veterinarian and a qualified behaviour "
        "professional. A muzzle is trained before it is needed.",
    ),
    "food_allergy": (
        "{name} does not stand every food.",
        "Rewards from the list that is safe, and in sizes that do not choke.",
    ),
}
#: Where a caution is shown: beside what brings the risk.
_HEALTH_PLACE = {
    "timid": "placement",
    "overweight": "placement",
    "food_allergy": "placement",
    "growing": "rep_cap",
    "old": "rep_cap",
    "pregnant": "session_cap_s",
}


def _cautions(plan: Plan, learner: Learner) -> Iterator[Remark]:
    name = learner.name or "This learner"
    for code, (title, said) in _HEALTH.items():
        if code in learner.health:
            place = _HEALTH_PLACE.get(code, "learner")
            yield Remark("caution", code, place, title.format(name=name), said)
    hazards = {*plan.get("hazards", []), *(["large_animal"] if learner.size == "large" else [])}
    for code, (title, said) in _HAZARDS.items():
        if code in hazards:
            yield Remark("caution", code, "hazards", title, said)
    if plan.get("placement"):
        yield Remark(
            "caution", "food", "placement", "Food.",
            "Counted into the day's ration: at most a tenth of the day's energy in treats "
            "(common practice); mind allergies and choking sizes.",
        )  # fmt: skip
    cap = plan.get("session_cap_s")
    if cap is not None and cap > FIRST_SESSION_S:
        yield Remark(
            "caution", "short_sessions", "session_cap_s", "Short sessions.",
            "Water and shade near by; stop at heavy breathing, lameness or reluctance, and end on "
            "a success.",
        )  # fmt: skip
