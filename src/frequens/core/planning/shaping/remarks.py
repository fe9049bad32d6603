"""What can be said of a plan while it is written, and the cautions that belong to it.

All of it is common practice and has no source but use, where nothing else is said. A remark
names the place it belongs to, so that it can be shown there; none proposes a correction,
pressure or pain.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, get_args

from ...rules.judgement_numbers import Judging
from ...words.of_remarks import remark_words
from ..calculators.schedules import FIRST_SESSION_S, LONGEST_SHAPING_S, stage_numbers
from ..calculators.transfer import MOST_LURES
from .plan_types import Hazard

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
    """One remark. `place` is a path into the document: ``approximations[2]``, ``rule`` …

    `numbers` are what its words were made of, names among them; `title` and `text` are English.
    """

    sort: Sort
    code: str
    place: str
    title: str
    text: str
    mend: Mend | None = None
    numbers: Mapping[str, Any] = field(default_factory=dict)


def _check(code: str, place: str, mend: Mend | None = None, **numbers: Any) -> Remark:
    return Remark("check", code, place, *remark_words(code, numbers), mend, numbers)


def _caution(code: str, place: str, **numbers: Any) -> Remark:
    return Remark("caution", code, place, *remark_words(code, numbers), None, numbers)


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
        yield _check("no_goal", "goal")
    if len(_steps(plan)) < 2:
        yield _check("few_steps", "approximations")


def _criteria(plan: Plan) -> Iterator[Remark]:
    titles: dict[str, str] = {}
    for n, step in _steps(plan):
        place = f"approximations[{n}]"
        criterion = step.get("criterion", "").strip()
        title = step.get("title", "").strip()
        vague = _NOT_ON_FILM.search(criterion)
        if not criterion:
            yield _check("no_criterion", place)
        elif vague:
            yield _check("not_on_film", place, word=vague.group())
        raised = step.get("raises", [])
        if len(raised) > 1:
            yield _check("two_dimensions", place, "split_step", raised=raised)
        elif _TWO_THINGS.search(criterion) and not vague:
            yield _check("two_conditions", place, "split_step", criterion=criterion)
        if title and title.casefold() in titles:
            yield _check("same_title", place)
        titles[title.casefold()] = title


def _fallbacks(plan: Plan) -> Iterator[Remark]:
    steps = _steps(plan)
    keys = {s["key"]: n for n, s in steps}
    for n, step in steps[1:]:
        back = step.get("fallback")
        if back is None or back not in keys:
            yield _check("no_fallback", f"approximations[{n}]", "add_fallback")
        elif keys[back] >= n:
            yield _check("fallback_not_easier", f"approximations[{n}]", "add_fallback")


def _lures(plan: Plan) -> Iterator[Remark]:
    ways = {plan.get("way"), *(s.get("way") for _, s in _steps(plan))}
    if "luring" not in ways:
        return
    reps = plan.get("lure_reps")
    if reps is None or reps > MOST_LURES:
        yield _check("lure_kept", "lure_reps", "fewer_lures", reps=reps, most=MOST_LURES)
    if len(plan.get("prompts", [])) < 2:
        yield _check("lure_not_faded", "prompts")


def _caps(plan: Plan) -> Iterator[Remark]:
    cap, reps = plan.get("session_cap_s"), plan.get("rep_cap")
    if cap is None:
        yield _check("no_session_cap", "session_cap_s", "cap_session")
    elif cap > LONGEST_SHAPING_S:
        yield _check(
            "long_session", "session_cap_s", "cap_session",
            minutes=cap / 60, most=LONGEST_SHAPING_S / 60,
        )  # fmt: skip
    if reps is None:
        yield _check("no_rep_cap", "rep_cap", "cap_reps")


def _rule(plan: Plan) -> Iterator[Remark]:
    if not plan.get("rule"):
        yield _check("no_rule", "rule")


def _markers(plan: Plan) -> Iterator[Remark]:
    markers = plan.get("markers", [])
    meanings = {m["meaning"] for m in markers}
    if "event" not in meanings:
        yield _check("no_terminal_marker", "markers")
    if plan.get("after_marker") == "stay" and "keep_going" not in meanings:
        yield _check("no_keep_going", "markers")
    if plan.get("after_miss") == "no_reward_marker":
        yield _check("no_reward_marker_early", "after_miss")


def _cue(plan: Plan) -> Iterator[Remark]:
    cue, steps = plan.get("cue"), _steps(plan)
    if not cue or "from_step" not in cue:
        return
    places = [n for n, s in steps if s["key"] == cue["from_step"]]
    if not places:
        return
    later = [s for n, s in steps if n > places[0] and FORMING & set(s.get("raises", []))]
    if later:
        yield _check(
            "cue_early", "cue", "cue_later", cue=cue["name"], step=later[-1].get("title", "")
        )


def _cues(plan: Plan) -> Iterator[Remark]:
    for n, step in _steps(plan):
        if step.get("answers") and not (plan.get("cues") or plan.get("cue")):
            yield _check("answers_no_cue", f"approximations[{n}]")


def _ends(plan: Plan) -> Iterator[Remark]:
    for n, step in _steps(plan):
        if step.get("until_release") and plan.get("after_marker") == "release":
            yield _check("let_go_by_marker", f"approximations[{n}]")
        if len(step.get("parts", [])) == 1:
            yield _check("part_of_one", f"approximations[{n}]")


def _helps(plan: Plan) -> Iterator[Remark]:
    levels = plan.get("prompts")
    for n, step in _steps(plan):
        allowed = step.get("help")
        if allowed not in (None, "none") and levels and allowed not in levels:
            yield _check("help_not_planned", f"approximations[{n}]", help=allowed)


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
            yield _check(
                "floor_impossible", f"approximations[{n}]",
                asked=asked, hold_s=hold, possible=possible, is_own=own is not None,
            )  # fmt: skip
    rule = plan.get("rule") or {}
    steps = [step for _, step in _steps(plan)]
    if rule.get("kind") == "percentile" and not any(
        "target" in (step.get("quantity") or {}) for step in steps
    ):
        yield _check("nothing_measured", "rule")
    if rule.get("kind") == "comfort":
        yield _caution("ease_to_code", "rule")


def _ladders(plan: Plan) -> Iterator[Remark]:
    measured = {s["quantity"]["name"] for _, s in _steps(plan) if s.get("quantity")}
    for n, ladder in enumerate(plan.get("ladders", [])):
        if ladder["name"] not in measured:
            yield _check("ladder_unmeasured", f"ladders[{n}]", ladder=ladder["name"])


def _stages(plan: Plan) -> Iterator[Remark]:
    for n, stage in enumerate(plan.get("stages", [])):
        numbers = stage_numbers(stage)
        if numbers.most_weeks is not None and numbers.most_weeks < numbers.least_weeks:
            yield _check("stage_backwards", f"stages[{n}]", stage=stage["name"])


def _chain(plan: Plan) -> Iterator[Remark]:
    chain = plan.get("chain")
    if chain and len(chain.get("parts", [])) == 1:
        yield _check("chain_of_one", "chain")


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

#: Cautions of a learner's health and of a plan's risks, in the order in which they are shown.
HEALTH: Sequence[Health] = get_args(Health)
HAZARDS: Sequence[Hazard] = get_args(Hazard)
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
    for code in HEALTH:
        if code in learner.health:
            yield _caution(code, _HEALTH_PLACE.get(code, "learner"), name=learner.name)
    risks = {*plan.get("hazards", []), *(["large_animal"] if learner.size == "large" else [])}
    for risk in HAZARDS:
        if risk in risks:
            yield _caution(risk, "hazards")
    if plan.get("placement"):
        yield _caution("food", "placement")
    cap = plan.get("session_cap_s")
    if cap is not None and cap > FIRST_SESSION_S:
        yield _caution("short_sessions", "session_cap_s")
