"""When to raise, hold or lower: the schools. One decision after each judged attempt.

The rules are those of `docs/measures.md`, section 5. Which school a trainer follows is
the plan's choice; no school is better supported than the others here.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

Verdict = Literal["raise", "hold", "lower"]
School = Literal["run", "share", "block", "percentile", "comfort"]
#: Every school's parameters and their defaults, in the order of the screens.
RULES: Mapping[str, Mapping[str, int | float]] = {
    "run": {"need": 5, "miss": 3},
    "share": {"window": 10, "raise": 0.8, "lower": 0.5},
    "block": {"size": 5, "raise_at": 5, "lower_at": 2},
    "percentile": {"window": 9, "w": 0.5},
    "comfort": {"clean_sessions": 3},
}
SERIOUS, MARKED = 3, 2


@dataclass(frozen=True, slots=True)
class Judged:
    """One judged attempt as the rules see it; `value` is the measured quantity, if any."""

    met: bool
    value: float | None = None


@dataclass(frozen=True, slots=True)
class SessionComfort:
    """One session at a step as the comfort-gated school sees it.

    `severities` of its signs (1 to 3), refusals, and whether pauses rose through it.
    """

    severities: tuple[int, ...] = ()
    refusals: int = 0
    rising_pause: bool = False

    @property
    def is_clean(self) -> bool:
        """No sign of severity 2 or more, no refusal, no rising pause."""
        worst = max(self.severities, default=0)
        return worst < MARKED and self.refusals == 0 and not self.rising_pause


@dataclass(frozen=True, slots=True)
class Decision:
    """What a rule says, why, and the numbers behind it.

    `reason` is ``met`` or ``failed`` for a raise or lower; ``too_few``, ``between`` or
    ``mid_block`` for a hold; ``moving`` for the percentile school's next criterion.
    """

    decision: Verdict
    reason: str
    numbers: Mapping[str, float] = field(default_factory=dict)


def with_defaults(rule: Mapping[str, Any]) -> dict[str, Any]:
    """The rule with every parameter of its school. Raises KeyError for an unknown school."""
    return {**RULES[rule["kind"]], **rule}


def decide(
    rule: Mapping[str, Any],
    attempts: Sequence[Judged],
    comfort: Sequence[SessionComfort] = (),
) -> Decision:
    """What the rule says after these judged attempts of one segment, in time order.

    `comfort` are the sessions at this step up to now, the present one last; only the
    comfort-gated school asks for them. Raises KeyError for an unknown school.
    """
    numbers = with_defaults(rule)
    kind = numbers["kind"]
    if kind == "comfort":
        return _comfort(comfort, numbers["clean_sessions"])
    if kind == "percentile":
        return _percentile(attempts, numbers["window"], numbers["w"])
    met = [attempt.met for attempt in attempts]
    if kind == "run":
        return _run(met, numbers["need"], numbers["miss"])
    if kind == "share":
        return _share(met, numbers["window"], numbers["raise"], numbers["lower"])
    return _block(met, numbers["size"], numbers["raise_at"], numbers["lower_at"])


def _run(met: Sequence[bool], need: int, miss: int) -> Decision:
    last = met[-1] if met else None
    run = next((n for n, m in enumerate(reversed(met)) if m != last), len(met))
    numbers = {"run": run if last else 0, "need": need, "misses": 0 if last else run, "miss": miss}
    if last and run >= need:
        return Decision("raise", "met", numbers)
    if last is False and miss and run >= miss:
        return Decision("lower", "failed", numbers)
    # Neither end could have been reached yet, whatever the attempts had been.
    few = len(met) < (min(need, miss) if miss else need)
    return Decision("hold", "too_few" if few else "between", numbers)


def _share(met: Sequence[bool], window: int, above: float, below: float) -> Decision:
    last = met[-window:]
    numbers = {"met": sum(last), "judged": len(last), "window": window}
    if len(last) < window:
        return Decision("hold", "too_few", numbers)
    share = sum(last) / window
    # A share of counts is compared as counts: 0.8 of 10 must not fail by a rounding crumb.
    if sum(last) >= above * window - 1e-9:
        return Decision("raise", "met", numbers | {"share": share, "raise": above})
    if sum(last) < below * window - 1e-9:
        return Decision("lower", "failed", numbers | {"share": share, "lower": below})
    return Decision("hold", "between", numbers | {"share": share})


def _block(met: Sequence[bool], size: int, raise_at: int, lower_at: int) -> Decision:
    into = len(met) % size
    if not met:
        return Decision("hold", "too_few", {"size": size})
    if into:
        return Decision("hold", "mid_block", {"into": into, "size": size})
    count = sum(met[-size:])
    numbers = {"met": count, "size": size, "raise_at": raise_at, "lower_at": lower_at}
    if count >= raise_at:
        return Decision("raise", "met", numbers)
    if count <= lower_at:
        return Decision("lower", "failed", numbers)
    return Decision("hold", "between", numbers)


def moving_criterion(values: Sequence[float], window: int, w: float) -> float | None:
    """What the next value must exceed: the k-th smallest of the last `window`.

    k = floor((m + 1)(1 - w)), at least 1, with m the window; None before m values.
    Galbicka (1994), JABA 27:739-760.
    """
    if len(values) < window:
        return None
    k = max(1, int((window + 1) * (1 - w) + 1e-9))
    return sorted(values[-window:])[min(k, window) - 1]


def _percentile(attempts: Sequence[Judged], window: int, w: float) -> Decision:
    values = [a.value for a in attempts if a.value is not None]
    following = moving_criterion(values, window, w)
    if following is None:
        return Decision("hold", "too_few", {"values": len(values), "window": window})
    before = moving_criterion(values[:-1], window, w)
    numbers = {"criterion": following, "window": window, "w": w}
    if before is not None and following > before:
        return Decision("raise", "moving", numbers | {"before": before})
    return Decision("hold", "moving", numbers)


def _comfort(sessions: Sequence[SessionComfort], clean_sessions: int) -> Decision:
    latest = sessions[-1] if sessions else SessionComfort()
    marked = sum(s == MARKED for s in latest.severities)
    if max(latest.severities, default=0) >= SERIOUS or marked >= 2:
        return Decision(
            "lower", "failed", {"worst": max(latest.severities), "signs": len(latest.severities)}
        )
    clean = next(
        (n for n, session in enumerate(reversed(sessions)) if not session.is_clean), len(sessions)
    )
    numbers = {"clean": clean, "clean_sessions": clean_sessions}
    if clean >= clean_sessions:
        return Decision("raise", "met", numbers)
    return Decision("hold", "too_few", numbers)


def recent(rule: Mapping[str, Any], attempts: Sequence[Judged], upto: int) -> Sequence[Judged]:
    """Of the first `upto` attempts, as many of the last as the rule's verdict can depend on."""
    numbers = with_defaults(rule)
    if numbers["kind"] == "block":
        start = (upto - 1) // numbers["size"] * numbers["size"]
    elif numbers["kind"] == "run":
        start = upto - max(numbers["need"], numbers["miss"])
    else:
        start = upto - numbers.get("window", 0) - 1
    return attempts[max(0, start) : upto]


def first_said(
    rule: Mapping[str, Any], attempts: Sequence[Judged], verdict: Verdict = "raise"
) -> int | None:
    """After how many of these judged attempts the rule first gave this verdict; None if never."""
    if rule["kind"] == "comfort":
        return None
    asks_value = rule["kind"] == "percentile"
    numbered = [(n, a) for n, a in enumerate(attempts, 1) if a.value is not None or not asks_value]
    asked = [attempt for _, attempt in numbered]
    for place, (number, _) in enumerate(numbered, 1):
        if decide(rule, recent(rule, asked, place)).decision == verdict:
            return number
    return None


def attempts_short(
    rule: Mapping[str, Any], attempts: Sequence[Judged], verdict: Verdict = "raise"
) -> int | None:
    """How many more met attempts the rule would need before it says raise; unmet ones for lower.

    None for the schools that cannot be asked (percentile, comfort) and for a rule that no
    run of such attempts satisfies.
    """
    if rule["kind"] in ("percentile", "comfort"):
        return None
    numbers = with_defaults(rule)
    most = 2 * max(numbers.get(key, 0) for key in ("need", "miss", "window", "size"))
    tried = list(recent(rule, attempts, len(attempts)))
    for more in range(most + 1):
        if decide(rule, tried).decision == verdict:
            return more
        tried.append(Judged(verdict == "raise"))
    return None
