"""The next session: the card by rule with the trainer's changes, and its calendar entry."""

from __future__ import annotations

import copy
import datetime as dt
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

from django.utils import timezone

from frequens.core.planning.next_session import missing_step, next_session
from frequens.core.planning.shaping import steps_in_use
from frequens.core.planning.shaping.manner import manner
from frequens.core.programme.chaining import alone_of, chaining, parts_of
from frequens.core.programme.grid import Grid
from frequens.core.programme.quantity_ladder import quantity_ladders
from frequens.core.programme.variation import variation_of
from frequens.words import fill
from frequens.words.spoken import judgement as judgement_words
from frequens.words.spoken import next_session as words

from ..coding.edit_store import fold, plan_of
from ..coding.plan_titles import titles_by_key, titles_of
from ..findings.judgements import history_of, judged, links_before, plan_in_force
from ..findings.store import measurement_of
from ..library.sessions import TrainingSession
from .drafts import keep
from .ical import Entry, calendar_file

#: Where no day is set: tomorrow at this hour.
USUAL_HOUR = 17


@dataclass(frozen=True)
class Prepared:
    """The next session as it is prepared: its card, where it holds, and the plan it is under."""

    card: dict[str, Any]
    grid: Grid
    plan: dict[str, Any]


def card_of(
    session: TrainingSession, findings: Mapping[str, Any] | None = None
) -> dict[str, Any] | None:
    """The card after this session; None while its marks cannot be measured.

    `findings` for whoever has them already. Values are the rule's, `changed` what the trainer
    set instead, `how` says how one works at the criterion, `titles` name the steps.
    """
    made = prepared(session, findings)
    return made.card if made else None


def prepared(
    session: TrainingSession, findings: Mapping[str, Any] | None = None
) -> Prepared | None:
    """The session after this one, as `card_of`, with what its card was made from."""
    known = judged(session)
    if known is None:
        return None
    state = fold(session)
    version = session.plan_version
    plan = plan_in_force(session, known.plan)
    learner = version.behaviour.learner if version else None
    if findings is None and session.by_hand is None:
        findings = measurement_of(session, keep=True).findings
    said = known.judgement
    card = asdict(
        next_session(
            said,
            known.digest,
            plan,
            learner.as_core if learner else None,
            piece_kj=learner.piece_kj if learner else None,
            day_kj=learner.day_kj if learner else None,
            findings=findings,
        )
    )
    changed = state.facts.get("next_session") or {}
    printed = state.facts.get("printed")
    steps = steps_in_use(plan)
    today, history = timezone.localdate(), history_of(session, known)
    grid = variation_of(history, said, plan, today, changed.get("criterion"))
    digests = [held.digest for held in history]
    whole = {
        **card,
        "levels": grid.next,
        "chain": chaining(plan, links_before(session), alone_of(digests), said)
        if parts_of(plan)
        else None,
        "ladders": quantity_ladders(
            plan, digests, said, today, learner.as_core if learner else None
        ),
        "why": {"decision": said.decision, "code": said.why.code, "text": said.headline},
        "how": list(manner(plan, steps, changed.get("criterion") or card["criterion"])),
        "before": printed if printed and printed != said.headline else None,
        "changed": changed,
        "titles": titles_by_key(plan),
    }
    return Prepared(whole, grid, plan)


def _places(levels: Mapping[str, str]) -> str:
    told = (fill(words.LEVEL, {}, name=name, level=level) for name, level in levels.items())
    return words.BETWEEN_LEVELS.join(told)


def put_between(session: TrainingSession, author: Any) -> str | None:
    """Write the step that is missing into the behaviour's plan as it is now; gives its key.

    None where no step is missing, or the plan has no such place any more.
    """
    known, version = judged(session), session.plan_version
    if known is None or version is None:
        return None
    missing = missing_step(known.judgement, plan_in_force(session, known.plan))
    if missing is None:
        return None
    step = dict(missing)
    behaviour = version.behaviour
    current = behaviour.current
    document = copy.deepcopy(current.document)
    steps = document.get("approximations", [])
    low, high = known.judgement.split_between or (None, None)
    keys = [one["key"] for one in steps]
    if high not in keys or (low is not None and low not in keys) or step["key"] in keys:
        return None
    place = keys.index(high)
    if steps[place].get("fallback") == low:
        steps[place]["fallback"] = step["key"]
    steps.insert(place, step)
    keep(behaviour, document, current.number, current.revision, author)
    return str(step["key"])


def due_at(session: TrainingSession) -> dt.datetime | None:
    """When the trainer set the next session; None where no day is set."""
    at = (fold(session).facts.get("next_session") or {}).get("at")
    return dt.datetime.fromisoformat(at) if at else None


def calendar_of(session: TrainingSession, card: dict[str, Any], now: dt.datetime) -> bytes:
    """The next session as an iCalendar file (RFC 5545) with one event in local time."""
    state = fold(session)
    learner = state.facts.get("learner") or session.learner or words.NAMELESS
    behaviour = state.facts.get("behaviour") or session.behaviour
    changed = card["changed"]
    minutes = changed.get("minutes", card["minutes"])
    tomorrow = dt.datetime.combine(now.date() + dt.timedelta(days=1), dt.time(USUAL_HOUR))
    begin = due_at(session) or tomorrow
    entry = Entry(
        f"next-{session.pk}",
        begin,
        # Fetching, warming up and putting away take their time too.
        begin + dt.timedelta(minutes=max(15, 10 + minutes)),
        " · ".join(filter(None, (learner, behaviour))),
        "\n".join(lines_of(card, titles_of(plan_of(session, state)))),
    )
    return calendar_file([entry], now, "Next session")


def lines_of(card: dict[str, Any], title_of: Any) -> list[str]:
    """The card as plain lines, the trainer's changes in place of the rule's values."""
    values = {**card, **card["changed"]}
    said = [card["why"]["text"]]
    if values["warm_up"]:
        reps = {"reps": card["warm_up_reps"]}
        said.append(fill(words.LINES["warm_up"], reps, step=title_of(values["warm_up"])))
    if values["criterion"]:
        said.append(fill(words.LINES["criterion"], {}, step=title_of(values["criterion"])))
    if card["levels"].levels:
        said.append(fill(words.LINES["levels"], {}, levels=_places(card["levels"].levels)))
    if card["help"]:
        said.append(fill(words.WATCH_HANDS["fade"], {}, help=judgement_words.HELP[card["help"]]))
    if card["between"]:
        said.append(fill(words.LINES["between"], {}, step=card["between"]["title"]))
    said += card["how"]
    said.append(fill(words.LINES["limit.reps" if values["reps"] else "limit"], values))
    said.append(fill(words.LINES["pieces"], values))
    said += [*card["watch"], *card["stop_rules"]]
    if values.get("note"):
        said.append(values["note"])
    return said
