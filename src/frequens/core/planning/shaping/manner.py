"""How one works at a step, in lines to be read before the session: what the plan says of it.

Common practice without a source but use.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from ...decisions.judging.words import HELP_WORDS

Plan = Mapping[str, Any]
Step = Mapping[str, Any]


def manner(plan: Plan, steps: Sequence[Step], key: str | None) -> tuple[str, ...]:
    """The lines for one of the plan's steps in use, in the order in which a rep goes."""
    step = next((s for s in steps if s["key"] == key), None)
    if step is None:
        return ()
    return tuple(
        line
        for part in (_cue, _begin, _chain, _help, _measured, _end, _after)
        for line in part(plan, steps, step)
    )


def _cue(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[str]:
    cue = plan.get("cue")
    keys = [s["key"] for s in steps]
    if cue and cue.get("from_step") in keys:
        if keys.index(step["key"]) < keys.index(cue["from_step"]):
            yield "No cue yet: it comes in at a later step."
        else:
            yield f"Cue: “{cue['name'].strip('“”')}”, once, then wait."
    if step.get("answers"):
        yield "Asked and not asked in turn: waiting while nothing was asked is paid as well."


def _begin(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[str]:
    if plan.get("reset") == "toss":
        yield "Toss the reward away, so that the next rep begins with coming back."
    elif plan.get("reset") == "in_position":
        yield "The next rep begins from where it stands."


def _chain(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[str]:
    names = [part.get("title") or part["key"] for part in step.get("parts", [])]
    if len(names) > 1:
        yield f"Parts: {', then '.join(names)}."


def _help(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[str]:
    allowed = step.get("help")
    if allowed == "none":
        yield "No help: what comes with help does not count here."
    elif allowed is not None:
        yield f"Help: {HELP_WORDS[allowed]} at most."


def _measured(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[str]:
    quantity = step.get("quantity")
    if quantity is None:
        return
    more = "more" if quantity["better"] == "more" else "less"
    aim = quantity.get("target")
    unit = f" {quantity['unit']}" if quantity["unit"] else ""
    yield (
        f"Write down the {quantity['name']} of each rep: {more} is better"
        + (f", the aim is {aim:g}{unit}." if aim is not None else ".")
    )


def _end(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[str]:
    if step.get("until_release"):
        yield "It is finished when you let it go: pay several times in place before you do."


def _after(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[str]:
    if plan.get("after_marker") == "stay" and not step.get("until_release"):
        yield "After the marker it stays: bring the reward to where it is."
    elif plan.get("after_marker") == "release" and not step.get("until_release"):
        yield "The marker ends the rep: after it, it may leave its place."
    if plan.get("after_miss") == "wait":
        yield "What does not fit is let pass: wait for the next."
    elif plan.get("after_miss") == "no_reward_marker":
        yield "What does not fit: the mild “not that”, and only where it knows the step."
