"""The plan in a `frequens-session` document; its parts are those of a `frequens-plan` too."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, get_args

from ...model.events import Approximation, MarkAt, Part, Plan, PlannedCue, Quantity
from ...reading.document_values import Reader, Reading, number, one_of, read_fields, text
from ...rules.judgement_numbers import read_judging
from ...rules.schools import RULES
from .shared import (
    LEVELS,
    MOST_PARTS,
    MOST_STEPS,
    InvalidSession,
    differing,
    flag,
    read_key,
    read_label,
    whole_object,
)


def read_plan(document: Any) -> Plan:
    """The `plan` of a session document. Raises InvalidSession naming every fault."""
    reading = Reading()
    plan = read_plan_part(reading, document)
    if reading.faults:
        raise InvalidSession(reading.faults)
    return plan


def read_plan_part(reading: Reading, value: Any) -> Plan:
    """The plan, each step with a key of its own."""
    known = ("rule", "approximations", "placement", "prompts", "cues", "judging", *_PLAN_NUMBERS)
    found = reading.mapping("plan", value, known)
    steps: list[Approximation] = []
    items = reading.items("plan.approximations", found.get("approximations", []))
    if len(items) > MOST_STEPS:
        reading.fault("plan.approximations", "most_steps", most=MOST_STEPS, steps=len(items))
        items = []
    for place, item in enumerate(items):
        step = _read_approximation(reading, f"plan.approximations[{place}]", item)
        if step and any(step.key == other.key for other in steps):
            reading.fault(f"plan.approximations[{place}].key", "used_twice", value=repr(step.key))
        elif step:
            steps.append(step)
    for step in steps:
        if step.fallback is not None and all(step.fallback != other.key for other in steps):
            place = steps.index(step)
            reading.fault(
                f"plan.approximations[{place}].fallback", "not_in_plan", value=repr(step.fallback)
            )
    numbers = {
        key: read(reading, f"plan.{key}", found[key])
        for key, read in _PLAN_NUMBERS.items()
        if found.get(key) is not None
    }
    return Plan(
        tuple(steps),
        read_rule(reading, "plan.rule", found.get("rule")),
        placement=read_placement(reading, "plan.placement", found.get("placement")),
        prompts=tuple(read_prompts(reading, "plan.prompts", found.get("prompts"))),
        cues=tuple(PlannedCue(**cue) for cue in read_cues(reading, "plan.cues", found.get("cues"))),
        judging=(
            read_judging(reading, "plan.judging", found["judging"])
            if found.get("judging") is not None
            else {}
        ),
        **numbers,
    )


_PLAN_NUMBERS: Mapping[str, Reader] = {
    "rate_floor_per_min": number(0, 1000),
    "session_cap_s": number(0, 24 * 3600),
    "rep_cap": number(1, 100_000, whole=True),
}


def read_placement(reading: Reading, path: str, value: Any) -> Mapping[str, float] | None:
    """Shares by placement that add up to 1."""
    if value is None:
        return None
    if not isinstance(value, Mapping):
        reading.fault(path, "not_object")
        return None
    faults_before = len(reading.faults)
    shares = {
        place: number(0, 1)(reading, f"{path}.{place}", share) for place, share in value.items()
    }
    if len(reading.faults) == faults_before and abs(sum(shares.values()) - 1) > 0.001:
        reading.fault(path, "shares", sum=sum(shares.values()))
    return shares


def read_prompts(reading: Reading, path: str, value: Any) -> list[str]:
    """Levels of help, each named once."""
    if value is None:
        return []
    levels = [
        one_of(*LEVELS)(reading, f"{path}[{n}]", level)
        for n, level in enumerate(reading.items(path, value))
    ]
    for n, level in enumerate(levels):
        if level is not None and level in levels[:n]:
            reading.fault(f"{path}[{n}]", "named_twice", value=repr(level))
    return [level for level in levels if level is not None]


def read_cues(reading: Reading, path: str, value: Any) -> list[dict[str, str]]:
    """Cues with the behaviour each asks for; a label stands once."""
    if value is None:
        return []
    readers: dict[str, Reader] = {"label": read_label, "behaviour": read_label}
    items = reading.items(path, value)
    if len(items) > MOST_PARTS:
        reading.fault(path, "most_cues", most=MOST_PARTS)
        return []
    found: dict[str, dict[str, str]] = {}
    for n, item in enumerate(items):
        cue = whole_object(reading, f"{path}[{n}]", item, readers)
        if cue is None:
            continue
        if cue["label"] in found:
            reading.fault(f"{path}[{n}].label", "named_twice", value=repr(cue["label"]))
        found[cue["label"]] = cue
    return list(found.values())


def read_parts(reading: Reading, path: str, value: Any) -> list[dict[str, str]]:
    """The parts of a chain in their order; a key stands once."""
    items = reading.items(path, value)
    if len(items) > MOST_PARTS:
        reading.fault(path, "most_parts", most=MOST_PARTS)
        return []
    readers: dict[str, Reader] = {"key": read_key, "title": text(longest=400)}
    found: dict[str, dict[str, str]] = {}
    for n, item in enumerate(items):
        part = whole_object(reading, f"{path}[{n}]", item, readers, optional=("title",))
        if part is None:
            continue
        if part["key"] in found:
            reading.fault(f"{path}[{n}].key", "used_twice", value=repr(part["key"]))
        found[part["key"]] = part
    return list(found.values())


def read_quantity(reading: Reading, path: str, value: Any) -> dict[str, Any] | None:
    """What a step's values measure."""
    readers: dict[str, Reader] = {
        "name": read_label,
        "unit": text(longest=40),
        "better": one_of("more", "less"),
        "target": number(-1e9, 1e9),
    }
    return whole_object(reading, path, value, readers, optional=("target",))


#: What a step may have beside its key, as sessions and plans write it.
STEP_READERS: Mapping[str, Reader] = {
    "parts": read_parts,
    "until_release": flag,
    "quantity": read_quantity,
    "help": one_of(*LEVELS),
    "answers": flag,
    "rate_floor_per_min": number(0, 1000),
}


def _read_approximation(reading: Reading, path: str, value: Any) -> Approximation | None:
    readers: dict[str, Reader] = {
        "key": read_key,
        "title": text(longest=400),
        "mark_at": one_of(*get_args(MarkAt)),
        "hold_s": number(0, 3600),
        "fallback": read_key,
        **STEP_READERS,
    }
    read = read_fields(reading, path, value, readers)
    if read.get("parts") is not None:
        read["parts"] = tuple(Part(**part) for part in read["parts"])
    if read.get("quantity") is not None:
        read["quantity"] = Quantity(**read["quantity"])
    if not read.get("key"):
        if "key" not in read:
            reading.fault(f"{path}.key", "missing")
        return None
    if read.get("mark_at") == "hold" and read.get("hold_s") is None:
        reading.fault(f"{path}.hold_s", "hold_missing")
    return Approximation(**{k: v for k, v in read.items() if v is not None})


def read_rule(reading: Reading, path: str, value: Any) -> Mapping[str, Any] | None:
    """One of the schools with its numbers."""
    if value is None:
        return None
    kind = value.get("kind") if isinstance(value, Mapping) else None
    if not isinstance(kind, str) or kind not in RULES:
        reading.fault(f"{path}.kind", "not_one_of", allowed=", ".join(RULES), value=repr(kind))
        return None
    parameters = RULES[kind]
    found = reading.mapping(path, value, ("kind", *parameters))
    faults_before = len(reading.faults)
    for key, given in found.items():
        if key in parameters:
            whole = isinstance(parameters[key], int)
            low, high = (1, 1000) if whole else (0, 1)
            if key in ("miss", "lower_at") and whole:
                low = 0
            number(low, high, whole=whole)(reading, f"{path}.{key}", given)
    if len(reading.faults) == faults_before:
        for low_key, high_key in (
            ("lower", "raise"),
            ("lower_at", "raise_at"),
            ("raise_at", "size"),
        ):
            numbers = {**parameters, **found}
            if low_key in parameters and numbers[low_key] > numbers[high_key]:
                reading.fault(
                    f"{path}.{low_key}",
                    "above_other",
                    other=high_key,
                    limit=numbers[high_key],
                    value=numbers[low_key],
                )
    return dict(found)


def written_step(step: Approximation) -> dict[str, Any]:
    """A step as it is written: what is none is left out."""
    written = differing(step, Approximation(""))
    if step.parts:
        written["parts"] = [differing(part, Part("")) for part in step.parts]
    if step.quantity is not None:
        quantity = step.quantity
        names = ("name", "unit", "better", "target")
        values = {name: getattr(quantity, name) for name in names}
        written["quantity"] = {k: v for k, v in values.items() if v is not None}
    return written
