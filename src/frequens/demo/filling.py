"""Fills the demo's logbooks: each session is simulated, coded, measured, and plans the next."""

from __future__ import annotations

import datetime as dt
import random
import uuid
from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from typing import Any

from django.db import transaction

from frequens.core.formats.session_document import write_event
from frequens.core.programme.script_document import write_script
from frequens.server.coding.edit_store import append_edits
from frequens.server.library.sessions import TrainingSession
from frequens.server.logbook.behaviour_logbook import enter_by_hand
from frequens.server.logbook.schemas import ByHandIn
from frequens.server.plans.drafts import add_version
from frequens.server.plans.models import Behaviour, PlanVersion
from frequens.server.plans.next_card import card_of
from frequens.server.plans.scripts import script_of
from frequens.server.plans.worked_steps import put_under
from frequens.simulator.yard.simulation import session
from frequens.simulator.yard.world import Line, Outing, Step

from .steading import WEEKS, WREN, Course, teasel

WARM_UP_REPS = 3


@transaction.atomic
def fill(
    behaviour: Behaviour, course: Course, today: dt.date, said: Callable[[str], None]
) -> list[TrainingSession]:
    """Make a course's sessions, the last on the day before `today`; oldest first."""
    chance = random.Random(course.seed)
    made: list[TrainingSession] = []
    card: Mapping[str, Any] | None = None
    for number, (date, week) in enumerate(_days(course, today)):
        _plan(behaviour, course, week)
        trainer = course.trainers[number % len(course.trainers)]
        outing = _outing(course, number, behaviour.current, card, chance)
        if number in course.scripted:
            outing = replace(outing, lines=_taken_along(made[-1], behaviour, number))
        hand = WREN if trainer == "wren" else teasel(week)
        events = session(course.animal, hand, outing, chance)
        if number in course.by_hand:
            made.append(_counted(behaviour, date, trainer, events, outing))
            continue
        coded = _coded(behaviour, date, trainer, events)
        facts: dict[str, Any] = {"tags": list(course.tags.get(number, []))}
        place = [place for since, place in course.places if since <= number][-1:]
        facts |= {"place": place[0]} if place else {}
        bodies: list[dict[str, Any]] = [{"op": "facts", "set": facts}]
        if number in course.notes:
            part, text = course.notes[number]
            bodies.append({"op": "note", "part": part, "text": text})
        append_edits(coded, [(uuid.uuid4().hex, body) for body in bodies])
        card = card_of(coded)
        made.append(coded)
    said(f"{behaviour}: {len(made)} sessions")
    return made


def _days(course: Course, today: dt.date) -> Iterator[tuple[dt.date, int]]:
    """The course's days with their week, from 0."""
    first, last = course.weeks
    start = today - dt.timedelta(weeks=WEEKS)
    for place in range(7 * first, 7 * (last + 1)):
        date = start + dt.timedelta(days=place)
        if date.weekday() in course.weekdays:
            yield date, place // 7


def _plan(behaviour: Behaviour, course: Course, week: int) -> None:
    """The plan in force from this week on, as a new version where it changes."""
    document = [plan for since, plan in course.plans if since <= week][-1]
    if behaviour.current.document != document:
        add_version(behaviour, document, None)


def _outing(
    course: Course,
    number: int,
    version: PlanVersion,
    card: Mapping[str, Any] | None,
    chance: random.Random,
) -> Outing:
    """The session as the last one's card has it, or at the step the trainer insists on."""
    document = version.document
    steps = document["approximations"]
    keys = [step["key"] for step in steps]
    wanted = course.insists.get(number, card["criterion"] if card else None)
    place = keys.index(wanted) if wanted in keys else 0
    # Most days it is enough a little before the limit.
    reps = document["rep_cap"] - chance.choice([0, 2, 2, 3])
    minutes = card["minutes"] if card else document["session_cap_s"] / 60
    worked = [(_step(document, place), reps)]
    if place > 0:
        easy = (_step(document, place - 1), WARM_UP_REPS)
        worked = [easy, (_step(document, place), reps - WARM_UP_REPS)]
    return Outing(
        steps=worked,
        most_s=60 * minutes,
        conditions=course.conditions,
        placement=document.get("placement", {}),
        cue=document["cue"]["name"].strip("“”") if course.is_cued else None,
        help=course.help if place < 2 else (),
        touches=course.touches,
        reps_a_bout=course.reps_a_bout,
    )


def _taken_along(before: TrainingSession, behaviour: Behaviour, seed: int) -> list[Line]:
    """The script after a session, kept with it as somebody does who prints it."""
    document = behaviour.current.document
    found = script_of(before, seed)
    assert found is not None
    facts = {"op": "facts", "set": {"script": write_script(found.script)}}
    append_edits(before, [(uuid.uuid4().hex, facts)])
    places = {step["key"]: n for n, step in enumerate(document["approximations"])}
    return [
        Line(
            line.sort,
            None if line.step is None else _step(document, places[line.step]),
            line.levels,
        )
        for line in found.script.lines
    ]


def _step(document: Mapping[str, Any], place: int) -> Step:
    steps = document["approximations"]
    step = steps[place]
    cues = {cue["label"]: cue["behaviour"] for cue in document.get("cues", [])}
    return Step(
        step["key"],
        steps[place + 1]["key"] if place + 1 < len(steps) else None,
        step.get("mark_at", "onset"),
        step.get("hold_s", 0.0),
        until_release=step.get("until_release", False),
        parts=[part["key"] for part in step.get("parts", [])],
        cues=cues if step.get("answers") else {},
        measured=step["quantity"]["target"] if "quantity" in step else None,
    )


def _coded(behaviour: Behaviour, date: dt.date, trainer: str, events: list[Any]) -> TrainingSession:
    made = TrainingSession.objects.create(
        workspace=behaviour.workspace, date=date, trainer=trainer, duration_s=None
    )
    put_under(made, behaviour.current, None)
    end = max(e.end_us or e.t_us for e in events) / 1e6 + 1.0
    facts: dict[str, Any] = {"op": "facts", "set": {"start_s": 0.0, "end_s": end}}
    puts = [{"op": "put", "event": write_event(event)} for event in events]
    edits = [(uuid.uuid4().hex, body) for body in (facts, *puts)]
    _, refused = append_edits(made, edits)
    assert not refused, refused
    return made


def _counted(
    behaviour: Behaviour, date: dt.date, trainer: str, events: list[Any], outing: Outing
) -> TrainingSession:
    """The same session as somebody with a pencil would have kept it."""
    onsets = [e for e in events if e.kind == "onset"]
    counts = {
        "minutes": round(events[-1].t_us / 60e6, 1),
        "reps": len(onsets),
        "met": sum(bool(e.met) for e in onsets),
        "reinforcements": sum(e.kind == "reward" for e in events),
        "approximation": outing.steps[-1][0].key,
        "note": "The phone was flat.",
    }
    sent = ByHandIn(date=date, trainer=trainer, counts=counts)
    return enter_by_hand(behaviour, sent, None)
