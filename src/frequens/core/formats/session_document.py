"""The `frequens-session` document, version 1: reading with every fault named, and writing.

Writing a record that was read gives back the document's own keys and values, so
that a round trip changes nothing.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields
from typing import Any, get_args

from ..model.bouts import BoutFault, training_clock
from ..model.events import (
    KIND_ORDER,
    MICROSECONDS,
    Approximation,
    ByHand,
    Event,
    MarkAt,
    MarkerKind,
    Part,
    Plan,
    PlannedCue,
    Quantity,
    Recording,
    SessionFacts,
    SessionRecord,
    Settings,
    Source,
    on_picture_time,
)
from ..reading.document_values import (
    InvalidDocument,
    Reader,
    Reading,
    date,
    number,
    one_of,
    read_fields,
    text,
)
from ..rules.judgement_numbers import read_judging
from ..rules.schools import RULES

FORMAT = "frequens-session"
VERSION = 1
#: More steps nobody trains, reads or draws; more conditions nobody keeps apart.
MOST_STEPS, MOST_CONDITIONS, MOST_PARTS = 60, 30, 30
MOST_SIGNS = 500
LEVELS = ("food_lure", "empty_hand", "gesture", "target", "physical", "none")


class InvalidSession(InvalidDocument):
    """The session document cannot be right."""


def _met(reading: Reading, path: str, value: Any) -> bool | None:
    if value is None or isinstance(value, bool):
        return value
    reading.fault(path, f"must be true, false or null, not {value!r}")
    return None


def _conditions(reading: Reading, path: str, value: Any) -> Mapping[str, Any] | None:
    if not isinstance(value, Mapping):
        reading.fault(path, "not an object")
        return None
    if len(value) > MOST_CONDITIONS:
        reading.fault(path, f"at most {MOST_CONDITIONS} conditions")
        return None
    for key, level in value.items():
        _key(reading, f"{path} (a name)", key)
        if isinstance(level, str):
            _label_or_none(reading, f"{path}.{key}", level)
        elif isinstance(level, bool):
            continue
        elif not isinstance(level, int | float):
            reading.fault(f"{path}.{key}", "must be a text, a finite number or true/false")
        else:
            number(-1e9, 1e9)(reading, f"{path}.{key}", level)
    return value


_time = number()
_length = number(0)
_key = text(longest=200, empty=False)
_label = text(longest=200, empty=False)
_label_or_none = text(longest=200)

#: The readers of the fields a kind may have beside id, kind, t, width and source.
KIND_FIELDS: Mapping[str, Mapping[str, Reader]] = {
    "bout_start": {},
    "bout_end": {},
    "criterion": {"approximation": _key},
    "cue": {"label": _label},
    "prompt": {"level": one_of(*LEVELS)},
    "exposure": {"label": _label, "value": number(-1e9, 1e9), "end_s": _time},
    "part": {"part": _key},
    "onset": {
        "approximation": _key,
        "label": _label,
        "met": _met,
        "value": number(-1e9, 1e9),
        "conditions": _conditions,
        "link": _key,
    },
    "offset": {},
    "marker": {"marker": one_of(*get_args(MarkerKind)), "link": _key},
    "reach": {},
    "reward": {"placement": _label, "pieces": number(1, 1000, whole=True), "link": _key},
    "reset": {},
    "release": {},
    "other_behaviour": {"label": _label},
    "sign": {"label": _label, "severity": number(1, 3, whole=True)},
    "off_task_start": {},
    "off_task_end": {},
    "no_cue_window": {"end_s": _time},
    "note": {"text": text()},
}
REQUIRED: Mapping[str, tuple[str, ...]] = {
    "criterion": ("approximation",),
    "prompt": ("level",),
    "exposure": ("label",),
    "part": ("part",),
    "marker": ("marker",),
    "other_behaviour": ("label",),
    "sign": ("label", "severity"),
    "no_cue_window": ("end_s",),
    "note": ("text",),
}
_COMMON: Mapping[str, Reader] = {
    "id": _key,
    "t": _time,
    "width": number(0, 3600),
    "source": one_of(*get_args(Source)),
}
_EVENT_READERS: Mapping[str, Mapping[str, Reader]] = {
    kind: {**_COMMON, **fields} for kind, fields in KIND_FIELDS.items()
}


def read_session(document: Any) -> SessionRecord:
    """The record a `frequens-session` document describes.

    `document` is what a JSON reader returns. Raises InvalidSession naming every fault
    by its path and the allowed range.
    """
    reading = Reading()
    known = ("format", "version", "session", "recording", "settings", "plan", "by_hand", "events")
    top = reading.mapping("", document, known)
    if not top:
        raise InvalidSession(reading.faults or ["format: missing"])
    if top.get("format") != FORMAT:
        reading.fault("format", f"must be {FORMAT!r}, not {top.get('format')!r}")
    if top.get("version") != VERSION or isinstance(top.get("version"), bool):
        reading.fault("version", f"must be {VERSION}, not {top.get('version')!r}")
    record = SessionRecord(
        session=_read_facts(reading, top.get("session", {})),
        recording=_read_recording(reading, top.get("recording", {})),
        settings=Settings(**read_settings(reading, "settings", top.get("settings", {}))),
        plan=_read_plan(reading, top.get("plan", {})),
        events=_read_events(reading, top.get("events")) if "events" in top else (),
        by_hand=_read_by_hand(reading, top["by_hand"]) if "by_hand" in top else None,
    )
    if "by_hand" in top and record.events:
        reading.fault("events", "a session by hand has no marks")
    if "events" not in top and "by_hand" not in top:
        # A file that breaks off must not read as a session in which nothing happened.
        reading.fault("events", "missing")
    if not reading.faults:
        _check_whole(reading, record)
    if reading.faults:
        raise InvalidSession(reading.faults)
    return record


def read_plan(document: Any) -> Plan:
    """The `plan` of a session document. Raises InvalidSession naming every fault."""
    reading = Reading()
    plan = _read_plan(reading, document)
    if reading.faults:
        raise InvalidSession(reading.faults)
    return plan


def _read_facts(reading: Reading, value: Any) -> SessionFacts:
    name = text(longest=200)
    readers: dict[str, Reader] = {
        "date": date,
        "learner": name,
        "behaviour": name,
        "start_s": _time,
        "end_s": _time,
        "time": name,
        "handler": name,
        "place": name,
    }
    facts = SessionFacts(**read_fields(reading, "session", value, readers))
    if facts.start_s is not None and facts.end_s is not None and facts.end_s < facts.start_s:
        reading.fault("session.end_s", f"before session.start_s ({facts.start_s:g})")
    return facts


def _sign(reading: Reading, path: str, value: Any) -> tuple[str, int] | None:
    readers: dict[str, Reader] = {"label": _label, "severity": number(1, 3, whole=True)}
    found = read_fields(reading, path, value, readers)
    if "severity" not in found:
        reading.fault(f"{path}.severity", "missing")
    severity = found.get("severity")
    return None if severity is None else (found.get("label") or "", severity)


def _signs(reading: Reading, path: str, value: Any) -> tuple[tuple[str, int], ...]:
    items = reading.items(path, value)
    if len(items) > MOST_SIGNS:
        reading.fault(path, f"at most {MOST_SIGNS} signs")
        return ()
    found = [_sign(reading, f"{path}[{n}]", item) for n, item in enumerate(items)]
    return tuple(sign for sign in found if sign is not None)


def read_hand_signs(reading: Reading, path: str, value: Any) -> list[dict[str, Any]]:
    """Signs as they are written: a `severity` from 1 to 3 and perhaps a `label`."""
    return [
        ({"label": label} if label else {}) | {"severity": severity}
        for label, severity in _signs(reading, path, value)
    ]


BY_HAND_READERS: Mapping[str, Reader] = {
    "approximation": text(longest=200),
    "judged": number(0, 2000, whole=True),
    "met": number(0, 2000, whole=True),
    "rewards": number(0, 5000, whole=True),
    "minutes": number(0.1, 240),
    "signs": _signs,
    "opt_outs": number(0, 500, whole=True),
    "conditions": _conditions,
    "help": one_of(*LEVELS),
    "attempts": number(0, 2000, whole=True),
}


def _read_by_hand(reading: Reading, value: Any) -> ByHand:
    found = read_fields(reading, "by_hand", value, BY_HAND_READERS)
    found = {key: item for key, item in found.items() if item is not None}
    if found.get("met", 0) > found.get("judged", 0):
        reading.fault("by_hand.met", f"more than the {found.get('judged', 0)} judged")
    return ByHand(**found)


def _read_recording(reading: Reading, value: Any) -> Recording:
    readers: dict[str, Reader] = {"duration_s": _length, "av_offset_s": number(-10, 10)}
    read = read_fields(reading, "recording", value, readers)
    return Recording(**{k: v for k, v in read.items() if v is not None})


def read_settings(reading: Reading, path: str, value: Any) -> dict[str, float]:
    """Limits by their names in `Settings`, each from 0 to an hour; those left out are not in it."""
    readers: dict[str, Reader] = {f.name: number(0, 3600) for f in fields(Settings)}
    read = read_fields(reading, path, value, readers)
    return {k: v for k, v in read.items() if v is not None}


def _read_plan(reading: Reading, value: Any) -> Plan:
    known = ("rule", "approximations", "placement", "prompts", "cues", "judging", *_PLAN_NUMBERS)
    found = reading.mapping("plan", value, known)
    steps: list[Approximation] = []
    items = reading.items("plan.approximations", found.get("approximations", []))
    if len(items) > MOST_STEPS:
        reading.fault("plan.approximations", f"at most {MOST_STEPS} steps, not {len(items)}")
        items = []
    for place, item in enumerate(items):
        step = _read_approximation(reading, f"plan.approximations[{place}]", item)
        if step and any(step.key == other.key for other in steps):
            reading.fault(f"plan.approximations[{place}].key", f"used twice: {step.key!r}")
        elif step:
            steps.append(step)
    for step in steps:
        if step.fallback is not None and all(step.fallback != other.key for other in steps):
            place = steps.index(step)
            reading.fault(
                f"plan.approximations[{place}].fallback", f"not in the plan: {step.fallback!r}"
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
        reading.fault(path, "not an object")
        return None
    faults_before = len(reading.faults)
    shares = {
        place: number(0, 1)(reading, f"{path}.{place}", share) for place, share in value.items()
    }
    if len(reading.faults) == faults_before and abs(sum(shares.values()) - 1) > 0.001:
        reading.fault(path, f"shares must add up to 1, not {sum(shares.values()):g}")
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
            reading.fault(f"{path}[{n}]", f"named twice: {level!r}")
    return [level for level in levels if level is not None]


def read_cues(reading: Reading, path: str, value: Any) -> list[dict[str, str]]:
    """Cues with the behaviour each asks for; a label stands once."""
    if value is None:
        return []
    readers: dict[str, Reader] = {"label": _label, "behaviour": _label}
    items = reading.items(path, value)
    if len(items) > MOST_PARTS:
        reading.fault(path, f"at most {MOST_PARTS} cues")
        return []
    found: dict[str, dict[str, str]] = {}
    for n, item in enumerate(items):
        cue = _whole_object(reading, f"{path}[{n}]", item, readers)
        if cue is None:
            continue
        if cue["label"] in found:
            reading.fault(f"{path}[{n}].label", f"named twice: {cue['label']!r}")
        found[cue["label"]] = cue
    return list(found.values())


def read_parts(reading: Reading, path: str, value: Any) -> list[dict[str, str]]:
    """The parts of a chain in their order; a key stands once."""
    items = reading.items(path, value)
    if len(items) > MOST_PARTS:
        reading.fault(path, f"at most {MOST_PARTS} parts")
        return []
    readers: dict[str, Reader] = {"key": _key, "title": text(longest=400)}
    found: dict[str, dict[str, str]] = {}
    for n, item in enumerate(items):
        part = _whole_object(reading, f"{path}[{n}]", item, readers, optional=("title",))
        if part is None:
            continue
        if part["key"] in found:
            reading.fault(f"{path}[{n}].key", f"used twice: {part['key']!r}")
        found[part["key"]] = part
    return list(found.values())


def read_quantity(reading: Reading, path: str, value: Any) -> dict[str, Any] | None:
    """What a step's values measure."""
    readers: dict[str, Reader] = {
        "name": _label,
        "unit": text(longest=40),
        "better": one_of("more", "less"),
        "target": number(-1e9, 1e9),
    }
    return _whole_object(reading, path, value, readers, optional=("target",))


def flag(reading: Reading, path: str, value: Any) -> bool | None:
    """Reads true or false."""
    if isinstance(value, bool):
        return value
    reading.fault(path, f"must be true or false, not {value!r}")
    return None


def _whole_object(
    reading: Reading,
    path: str,
    value: Any,
    readers: Mapping[str, Reader],
    optional: tuple[str, ...] = (),
) -> dict[str, Any] | None:
    """An object with all its fields, None after naming what is wrong with it."""
    before = len(reading.faults)
    found = read_fields(reading, path, value, readers)
    for key in readers:
        if key not in found and key not in optional and len(reading.faults) == before:
            reading.fault(f"{path}.{key}", "missing")
    return None if len(reading.faults) > before else found


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
        "key": _key,
        "title": text(longest=400),
        "mark_at": one_of(*get_args(MarkAt)),
        "hold_s": number(0, 3600),
        "fallback": _key,
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
        reading.fault(f"{path}.hold_s", 'missing: mark_at is "hold"')
    return Approximation(**{k: v for k, v in read.items() if v is not None})


def read_rule(reading: Reading, path: str, value: Any) -> Mapping[str, Any] | None:
    """One of the schools with its numbers."""
    if value is None:
        return None
    kind = value.get("kind") if isinstance(value, Mapping) else None
    if not isinstance(kind, str) or kind not in RULES:
        reading.fault(f"{path}.kind", f"must be one of {', '.join(RULES)}, not {kind!r}")
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
                    f"must not be above {high_key} ({numbers[high_key]:g}): {numbers[low_key]:g}",
                )
    return dict(found)


def _read_events(reading: Reading, value: Any) -> tuple[Event, ...]:
    events: list[Event] = []
    for place, item in enumerate(reading.items("events", value)):
        event = _read_event(reading, f"events[{place}]", item)
        if event:
            events.append(event)
    return tuple(events)


def _read_event(reading: Reading, path: str, value: Any) -> Event | None:
    if not isinstance(value, Mapping):
        reading.fault(path, "not an object")
        return None
    kind = value.get("kind")
    if not isinstance(kind, str) or kind not in KIND_ORDER:
        reading.fault(f"{path}.kind", f"unknown kind {kind!r}")
        return None
    faults_before = len(reading.faults)
    readers = _EVENT_READERS[kind]
    read = read_fields(reading, path, {k: v for k, v in value.items() if k != "kind"}, readers)
    for name in ("id", "t", *REQUIRED.get(kind, ())):
        if read.get(name) is None and not any(
            f.startswith(f"{path}.{name}:") for f in reading.faults[faults_before:]
        ):
            reading.fault(f"{path}.{name}", "missing")
    if len(reading.faults) > faults_before:
        return None
    end_s = read.pop("end_s", None)
    if end_s is not None and end_s < read["t"]:
        reading.fault(f"{path}.end_s", "before t")
        return None
    return Event(
        kind=kind,  # type: ignore[arg-type]  # checked against KIND_ORDER above
        t_us=round(read.pop("t") * MICROSECONDS),
        width_us=round(read.pop("width", 0) * MICROSECONDS),
        end_us=None if end_s is None else round(end_s * MICROSECONDS),
        written=frozenset(k for k, v in value.items() if v is not None or k == "met"),
        **read,
    )


def read_event(value: Any, path: str = "event") -> Event:
    """One event of a document. Raises InvalidSession naming every fault of it."""
    reading = Reading()
    event = _read_event(reading, path, value)
    if event is None:
        raise InvalidSession(reading.faults)
    return event


def _check_whole(reading: Reading, record: SessionRecord) -> None:
    """Faults that only show when all parts are seen together."""
    places: dict[str, int] = {}
    for place, event in enumerate(record.events):
        if event.id in places:
            reading.fault(
                f"events[{place}].id",
                f"used twice: {event.id!r}, first in events[{places[event.id]}]",
            )
        places.setdefault(event.id, place)
    kinds = {event.id: event.kind for event in record.events}
    steps = {step.key for step in record.plan.approximations}
    has_bouts = any(e.kind in ("bout_start", "bout_end") for e in record.events)
    for place, event in enumerate(record.events):
        path = f"events[{place}]"
        if event.kind in ("marker", "reward") and event.link is not None:
            allowed = ("onset",) if event.kind == "marker" else ("marker", "onset")
            if event.link not in kinds:
                reading.fault(f"{path}.link", f"no event has the id {event.link!r}")
            elif kinds[event.link] not in allowed:
                reading.fault(
                    f"{path}.link", f"must name {' or '.join(allowed)}, not {kinds[event.link]}"
                )
        if steps and event.approximation is not None and event.approximation not in steps:
            reading.fault(f"{path}.approximation", f"not in the plan: {event.approximation!r}")
        if event.kind == "no_cue_window" and _is_past_the_film(event.end_us, record):
            reading.fault(
                f"{path}.end_s", f"outside the film: {(event.end_us or 0) / MICROSECONDS:g}"
            )
        _check_bounds(reading, path, event, record, has_bouts)
    _check_parts(reading, record, places)
    try:
        training_clock(record)
    except BoutFault as fault:
        reading.fault(f"events[{places[fault.event_id]}].kind", str(fault))


def _is_past_the_film(instant_us: int | None, record: SessionRecord) -> bool:
    duration = record.recording.duration_s
    if instant_us is None or duration is None:
        return False
    return instant_us > round(duration * MICROSECONDS)


def _check_parts(reading: Reading, record: SessionRecord, places: Mapping[str, int]) -> None:
    """A part belongs inside an attempt, and its step must have it."""
    in_force: str | None = None
    current: Event | None = None
    key: str | None = None
    for event in record.ordered:
        if event.kind == "criterion":
            in_force = event.approximation
        elif event.kind in ("bout_start", "bout_end"):
            current = None
        elif event.kind == "onset":
            current = event
            key = event.approximation if event.approximation is not None else in_force
        elif event.kind == "part":
            path = f"events[{places[event.id]}].part"
            step = record.plan.approximation(key)
            if current is None:
                reading.fault(path, "outside an attempt: no behaviour has begun")
            elif step is None or all(event.part != part.key for part in step.parts):
                name = "no step" if step is None else f"the step {step.key!r}"
                reading.fault(path, f"{name} has no part {event.part!r}")


def _check_bounds(
    reading: Reading, path: str, event: Event, record: SessionRecord, has_bouts: bool
) -> None:
    at = event.t_us / MICROSECONDS
    duration = record.recording.duration_s
    if at < 0 or (duration is not None and event.t_us > round(duration * MICROSECONDS)):
        end = "" if duration is None else f" to {duration:g}"
        reading.fault(f"{path}.t", f"outside the film: must lie from 0{end}, not {at:g}")
        return
    if has_bouts:
        return
    start_s, end_s = record.session.start_s, record.session.end_s
    heard = on_picture_time(event, record.recording)
    if heard is not event and not (
        (start_s is None or heard.t_us >= round(start_s * MICROSECONDS))
        and (end_s is None or heard.t_us <= round(end_s * MICROSECONDS))
        and heard.t_us >= 0
    ):
        offset = record.recording.av_offset_s
        reading.fault(
            f"{path}.t", f"outside the session once the sound's {offset:g} s are taken off: {at:g}"
        )
        return
    # Compared as whole microseconds, like all instants: no crumb of a float decides.
    if start_s is not None and event.t_us < round(start_s * MICROSECONDS):
        reading.fault(f"{path}.t", f"before session.start_s ({start_s:g}): {at:g}")
    if end_s is not None and event.t_us > round(end_s * MICROSECONDS):
        reading.fault(f"{path}.t", f"after session.end_s ({end_s:g}): {at:g}")


def write_session(record: SessionRecord) -> dict[str, Any]:
    """The `frequens-session` document of a record, ready for a JSON writer.

    Defaults are left out, times are seconds with at most six decimals.
    """
    document: dict[str, Any] = {"format": FORMAT, "version": VERSION}
    document["session"] = _differing(record.session, SessionFacts())
    document["recording"] = _differing(record.recording, Recording())
    if "av_offset_s" not in document["recording"]:
        document["recording"]["av_offset_s"] = 0.0
    settings = _differing(record.settings, Settings())
    if settings:
        document["settings"] = settings
    plan = _differing(record.plan, Plan())
    for key in ("rule", "placement", "judging"):
        if key in plan:
            plan[key] = dict(plan[key])
    if record.plan.approximations:
        plan["approximations"] = [_written_step(step) for step in record.plan.approximations]
    if record.plan.prompts:
        plan["prompts"] = list(record.plan.prompts)
    if record.plan.cues:
        plan["cues"] = [_differing(cue, PlannedCue("", "")) for cue in record.plan.cues]
    if plan:
        document["plan"] = plan
    if record.by_hand is not None:
        document["by_hand"] = _written_counts(record.by_hand)
    document["events"] = [write_event(event) for event in record.events]
    return document


def _written_counts(counts: ByHand) -> dict[str, Any]:
    written = _differing(counts, ByHand())
    if counts.signs:
        named = [({"label": label} if label else {}) | {"severity": s} for label, s in counts.signs]
        written["signs"] = named
    return written


def _written_step(step: Approximation) -> dict[str, Any]:
    written = _differing(step, Approximation(""))
    if step.parts:
        written["parts"] = [_differing(part, Part("")) for part in step.parts]
    if step.quantity is not None:
        quantity = step.quantity
        names = ("name", "unit", "better", "target")
        values = {name: getattr(quantity, name) for name in names}
        written["quantity"] = {k: v for k, v in values.items() if v is not None}
    return written


def _differing(value: Any, default: Any) -> dict[str, Any]:
    return {
        f.name: getattr(value, f.name)
        for f in fields(value)
        if getattr(value, f.name) != getattr(default, f.name)
    }


def write_event(event: Event) -> dict[str, Any]:
    """One event as the document writes it: only the keys its kind has and that say something."""
    written: dict[str, Any] = {"id": event.id, "kind": event.kind, "t": event.t_us / MICROSECONDS}
    if event.width_us or "width" in event.written:
        written["width"] = event.width_us / MICROSECONDS
    if event.source is not None:
        written["source"] = event.source
    for name in KIND_FIELDS[event.kind]:
        if name == "end_s":
            if event.end_us is not None:
                written["end_s"] = event.end_us / MICROSECONDS
            continue
        value = getattr(event, name)
        if name == "pieces" and value == 1 and "pieces" not in event.written:
            continue
        if value is not None or name in event.written:
            written[name] = dict(value) if isinstance(value, Mapping) else value
    return written
