"""How one works at a step, in lines to be read before the session: what the plan says of it.

Common practice without a source but use.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from frequens.words import fill
from frequens.words.spoken import judgement as judgement_words
from frequens.words.spoken import next_session as words

Plan = Mapping[str, Any]
Step = Mapping[str, Any]
#: The name of a line, and what it is told.
Line = tuple[str, Mapping[str, Any]]


def manner(plan: Plan, steps: Sequence[Step], key: str | None) -> tuple[str, ...]:
    """The lines for one of the plan's steps in use, in the order in which a rep goes."""
    step = next((s for s in steps if s["key"] == key), None)
    if step is None:
        return ()
    return tuple(
        fill(words.MANNER[name], told)
        for part in (_cue, _begin, _chain, _help, _quantity, _end, _after)
        for name, told in part(plan, steps, step)
    )


def _cue(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[Line]:
    cue = plan.get("cue")
    keys = [s["key"] for s in steps]
    if cue and cue.get("from_step") in keys:
        if keys.index(step["key"]) < keys.index(cue["from_step"]):
            yield "no_cue_yet", {}
        else:
            yield "cue", {"cue": cue["name"].strip("“”")}
    if step.get("answers"):
        yield "answers", {}


def _begin(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[Line]:
    if plan.get("reset") in ("toss", "in_position"):
        yield plan["reset"], {}


def _chain(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[Line]:
    names = [part.get("title") or part["key"] for part in step.get("parts", [])]
    if len(names) > 1:
        yield "parts", {"parts": words.BETWEEN_PARTS.join(names)}


def _help(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[Line]:
    allowed = step.get("help")
    if allowed == "none":
        yield "no_help", {}
    elif allowed is not None:
        yield "help", {"help": judgement_words.HELP[allowed]}


def _quantity(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[Line]:
    quantity = step.get("quantity")
    if quantity is None:
        return
    told = {"quantity": quantity["name"]}
    if quantity.get("target") is None:
        yield quantity["better"], told
    else:
        unit = f" {quantity['unit']}" if quantity["unit"] else ""
        yield f"{quantity['better']}.aim", {**told, "aim": quantity["target"], "unit": unit}


def _end(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[Line]:
    if step.get("until_release"):
        yield "until_release", {}


def _after(plan: Plan, steps: Sequence[Step], step: Step) -> Iterator[Line]:
    if plan.get("after_marker") in ("stay", "release") and not step.get("until_release"):
        yield plan["after_marker"], {}
    if plan.get("after_miss") in ("wait", "no_reward_marker"):
        yield plan["after_miss"], {}
