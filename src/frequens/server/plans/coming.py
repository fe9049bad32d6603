"""The next session: the card by rule with the trainer's changes, and its calendar entry."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from icalendar import Calendar, Event

from frequens.core.next_session import next_session
from frequens.core.shaping import steps_in_use

from ..reviews.folding import fold, plan_of
from ..reviews.measured import measured, titles_of
from ..reviews.models import TrainingSession

#: Where no day is set: tomorrow at this hour.
USUAL_HOUR = 17


def card_of(
    session: TrainingSession, findings: Mapping[str, Any] | None = None
) -> dict[str, Any] | None:
    """The card after this session; None while its marks cannot be measured.

    `findings` for whoever has them already. Values are the rule's, `changed` what the trainer
    set instead, `titles` name the steps.
    """
    found = findings or measured(session, keep=True).findings
    if found is None:
        return None
    state = fold(session)
    version = session.plan_version
    plan = version.document if version else plan_of(session, state)
    learner = version.behaviour.learner if version else None
    card = asdict(
        next_session(
            found,
            plan,
            learner.as_core if learner else None,
            piece_kj=learner.piece_kj if learner else None,
            day_kj=learner.day_kj if learner else None,
        )
    )
    steps = steps_in_use(plan)
    return {
        **card,
        "changed": state.facts.get("next_session") or {},
        "titles": {s["key"]: s.get("title") or s["key"] for s in steps},
    }


def due_at(session: TrainingSession) -> dt.datetime | None:
    """When the trainer set the next session; None where no day is set."""
    at = (fold(session).facts.get("next_session") or {}).get("at")
    return dt.datetime.fromisoformat(at) if at else None


def calendar_of(session: TrainingSession, card: dict[str, Any], now: dt.datetime) -> bytes:
    """The next session as an iCalendar file (RFC 5545) with one event in local time."""
    state = fold(session)
    learner = state.facts.get("learner") or session.learner or "Training"
    behaviour = state.facts.get("behaviour") or session.behaviour
    changed = card["changed"]
    minutes = changed.get("minutes", card["minutes"])
    tomorrow = dt.datetime.combine(now.date() + dt.timedelta(days=1), dt.time(USUAL_HOUR))
    begin = due_at(session) or tomorrow
    event = Event()
    event.add("uid", f"next-{session.pk}@frequens")
    event.add("dtstamp", now)
    event.add("dtstart", begin)
    # Fetching, warming up and putting away take their time too.
    event.add("dtend", begin + dt.timedelta(minutes=max(15, 10 + minutes)))
    event.add("summary", " · ".join(filter(None, (learner, behaviour))))
    event.add("description", "\n".join(lines_of(card, titles_of(plan_of(session, state)))))
    calendar = Calendar()
    calendar.add("prodid", "-//Frequens//Next session//EN")
    calendar.add("version", "2.0")
    calendar.add_component(event)
    body: bytes = calendar.to_ical()
    return body


def lines_of(card: dict[str, Any], title_of: Any) -> list[str]:
    """The card as plain lines, the trainer's changes in place of the rule's values."""
    values = {**card, **card["changed"]}
    said = [card["why"]["text"]]
    if values["warm_up"]:
        said.append(f"Begin with {card['warm_up_reps']} easy reps: {title_of(values['warm_up'])}.")
    if values["criterion"]:
        said.append(f"Then: {title_of(values['criterion'])}.")
    reps = f" or {values['reps']} reps" if values["reps"] else ""
    said.append(f"At most {values['minutes']:g} min{reps}.")
    said.append(f"Prepare {values['pieces']} rewards.")
    said += [*card["watch"], *card["stop_rules"]]
    if values.get("note"):
        said.append(values["note"])
    return said
