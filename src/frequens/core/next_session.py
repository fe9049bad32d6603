"""The next session, made by rule from the last findings and the plan it was filmed under.

Every number has its rule here; the trainer may change all of it. What is marked common
practice has no source but use.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from .planning.preparing import placement_budget, prepare_rewards
from .planning.schedules import FIRST_SESSION_S
from .sentence import Findings, Sentence, missed_markers, sentence
from .shaping import Learner, remarks, steps_in_use

Plan = Mapping[str, Any]
#: A usual session where the plan sets no limit, seconds (common practice: 2 to 3 min).
USUAL_S = 150.0
#: What tires gets less next time: two thirds; what distressed, half.
TIRED, DISTRESSED = 2 / 3, 1 / 2
LEAST_S, LEAST_PER_MIN = 30.0, 6.0
WARM_UP_REPS = 3
MOST_CAUTIONS = 4


@dataclass(frozen=True, slots=True)
class NextSession:
    """A card for the next session. Steps are keys of the plan; None where there is none.

    `minutes` and `reps` are limits; `pieces` to prepare are for all of it with a fifth to
    spare, `energy_share` their part of the day's energy (0 to 1) where it is known.
    `placement` shares the rewards out. `vary` names conditions in the order to vary them.
    """

    why: Sentence
    warm_up: str | None
    warm_up_reps: int
    criterion: str | None
    minutes: float
    reps: int | None
    pieces: int
    energy_share: float | None
    placement: Mapping[str, int]
    vary: tuple[str, ...]
    watch: tuple[str, ...]
    cautions: tuple[str, ...]
    stop_rules: tuple[str, ...]


def next_session(
    findings: Findings,
    plan: Plan,
    learner: Learner | None = None,
    piece_kj: float | None = None,
    day_kj: float | None = None,
) -> NextSession:
    """The card after a session with these findings, under a `frequens-plan` document."""
    steps = steps_in_use(plan)
    titles = {s["key"]: s.get("title") or s["key"] for s in steps}
    why = sentence(findings, lambda key: titles.get(key or "", key or "this step"))
    codes = _codes(findings)
    place = _criterion(why, findings, steps)
    seconds = _seconds(plan, findings, codes)
    reps = plan.get("rep_cap")
    if reps is not None and _tired(codes) < 1:
        reps = max(1, round(reps * _tired(codes)))
    rate = max(_rate(findings), plan.get("rate_floor_per_min") or LEAST_PER_MIN)
    ready = prepare_rewards(seconds / 60, rate, _pieces_each(findings), 0.2, piece_kj, day_kj)
    mix = plan.get("placement") or {}
    is_last = place is not None and place == len(steps) - 1
    is_moving_on = why.verdict == "raise" and not is_last
    return NextSession(
        why=why,
        warm_up=steps[max(0, place - 1)]["key"] if place is not None else None,
        warm_up_reps=WARM_UP_REPS,
        criterion=steps[place]["key"] if place is not None else None,
        minutes=round(seconds / 60, 1),
        reps=reps,
        pieces=ready.pieces,
        energy_share=ready.energy_share,
        placement=placement_budget(ready.pieces, mix).rewards if mix else {},
        # One thing at a time: what is raised today is not varied as well.
        vary=() if is_moving_on else tuple(c["name"] for c in plan.get("conditions", [])),
        watch=tuple(_watch(findings, codes)),
        cautions=_cautions(plan, learner),
        stop_rules=tuple(_stop_rules(plan, seconds, reps)),
    )


def _codes(findings: Findings) -> Mapping[str, Any]:
    advice = findings["advice"]
    return {r["code"]: r["numbers"] for r in advice["reasons"]} if advice else {}


def _criterion(why: Sentence, findings: Findings, steps: Sequence[Plan]) -> int | None:
    """Which step of the plan comes next, as its place; None for a plan without steps."""
    if not steps:
        return None
    keys = [s["key"] for s in steps]
    segments = [s for s in findings["splits"]["segments"] if s["attempts"]]
    key = segments[-1]["approximation"] if segments else None
    if key not in keys:
        return 0
    now = keys.index(key)
    back = steps[now].get("fallback")
    below = keys.index(back) if back in keys else max(0, now - 1)
    verdict: str = why.verdict
    if verdict == "end":
        # A limit ends the session, not the learning; what distresses goes down.
        verdict = why.then or "lower"
    if verdict == "raise":
        return min(now + 1, len(steps) - 1)
    return below if verdict in ("lower", "split") else now


def _tired(codes: Mapping[str, Any]) -> float:
    if "distress" in codes:
        return DISTRESSED
    return TIRED if "rising_pause" in codes or "more_signs" in codes else 1.0


def _seconds(plan: Plan, findings: Findings, codes: Mapping[str, Any]) -> float:
    cap: float | None = plan.get("session_cap_s")
    usual = USUAL_S if cap is None else cap
    if findings["counts"]["attempts"] == 0:
        usual = min(usual, FIRST_SESSION_S)
    if _tired(codes) == 1:
        return usual
    # Shorter than it was, whatever was allowed.
    worked: float = findings["training_time_s"]
    return max(LEAST_S, min(usual, worked) * _tired(codes))


def _rate(findings: Findings) -> float:
    rate = findings["rates"]["reinforcement_per_min"]["value"]
    return float(rate or 0.0)


def _pieces_each(findings: Findings) -> float:
    counts = findings["counts"]
    return max(1.0, counts["pieces"] / counts["rewards"]) if counts["rewards"] else 1.0


def _watch(findings: Findings, codes: Mapping[str, Any]) -> list[str]:
    """What to look at in one's own hands and in the animal, the most important first."""
    said = []
    timing, over = findings["timing"], findings["timing"]["behaviour_over"] or 0
    if "distress" in codes:
        said.append("The animal's ease comes first: stop at the first sign.")
    if "unrewarded_markers" in codes:
        said.append("Every marker is followed by a reward, also a mistaken one.")
    if "hand_first" in codes:
        said.append("Hand still until after the marker.")
    if timing["late"] or over:
        said.append("Marker earlier: on the behaviour, not after it.")
    if timing["early"]:
        said.append("Marker not before the behaviour begins.")
    if findings["reward_latency_s"]["over_limit"]:
        said.append("Reward sooner after the marker: have it ready, out of the moving hand.")
    if findings["counts"]["orphan_markers"]:
        said.append("Some markers fell on nothing that counts: know beforehand what does.")
    if "dry_spell" in codes or "rate_floor" in codes:
        said.append("If nothing is paid for a quarter minute, make it easier at once.")
    if "rising_pause" in codes:
        said.append("How soon it comes back: slower means enough for today.")
    if not said and missed_markers(findings) == 0:
        said.append("The same quiet hands as last time.")
    return said


def _cautions(plan: Plan, learner: Learner | None) -> tuple[str, ...]:
    found = [r for r in remarks(plan, learner) if r.sort == "caution"]
    return tuple(f"{r.title} {r.text}" for r in found[:MOST_CAUTIONS])


def _stop_rules(plan: Plan, seconds: float, reps: int | None) -> list[str]:
    limit = f"After {seconds / 60:.1f} min"
    said = [f"{limit} or {reps} reps, on a success." if reps else f"{limit}, on a success."]
    rule = plan.get("rule") or {}
    if rule.get("kind", "run") == "run":
        said.append(f"After {rule.get('miss', 3)} misses in a row: a step back, pay, and end well.")
    said.append("At heavy breathing, lameness, reluctance, or any strong sign of fear: at once.")
    return said
