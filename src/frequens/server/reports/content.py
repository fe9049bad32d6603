"""What a report says, once for the page and once for the PDF."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from frequens.core.decisions.judging import Judgement
from frequens.core.history.logbook import wants_elsewhere
from frequens.core.model.events import Settings
from frequens.core.planning.shaping import steps_in_use
from frequens.words import fill, joined, latency
from frequens.words.forms import NOTHING, clock
from frequens.words.spoken import report as words

from ..coding.edit_store import fold, settings_of
from ..coding.plan_titles import titles_of
from ..findings.judgements import judged, plan_in_force
from ..findings.store import measurement_of
from ..library.sessions import TrainingSession
from ..plans.next_card import card_of, lines_of
from .phrases import between, long_day, mark_at_words, rule_words
from .pictures import Picture, pictures
from .plots import rate_plot, timing_plot
from .ways import ease, ways

Findings = Mapping[str, Any]
#: A plan of more steps shows those around the ones that were worked.
MOST_STEPS = 7


@dataclass(frozen=True)
class Report:
    """A session for a client, a colleague or a veterinarian. Texts are plain, not markup."""

    title: str
    facts: str
    reader: str
    words: str
    verdict: str
    #: How the animal was, where there is anything to say: it comes first.
    ease: list[str]
    reasons: list[str]
    goal: str
    how: str
    steps: list[list[str]]
    splits: list[list[str]]
    timing: list[str]
    timing_svg: str | None
    rate: list[str]
    rate_svg: str | None
    ways: list[str]
    pictures: list[Picture]
    notes: list[tuple[str, str]]
    cautions: list[str]
    coming: list[str]
    method: list[str]


def report_of(session: TrainingSession) -> Report | None:
    """The report of a session as it stands; None while nothing of it can be measured."""
    known = measurement_of(session, keep=True)
    findings = known.findings
    verdict = judged(session, known.digest)
    if findings is None or verdict is None or findings["counts"]["attempts"] == 0:
        return None
    state = fold(session)
    plan = plan_in_force(session, verdict.plan)
    title_of = titles_of(plan)
    chosen: Mapping[str, Any] = state.facts.get("report") or {}
    card = card_of(session, findings)
    who = [session.learner_now, session.behaviour_now]
    facts = {
        "day": long_day(session.date_now),
        "trainer": session.trainer_now,
        "handler": state.facts.get("handler"),
        "place": state.facts.get("place"),
        "training_time_s": findings["training_time_s"],
        "attempts": findings["counts"]["attempts"],
    }
    return Report(
        title=" · ".join(filter(None, who)) or words.NAMELESS,
        facts=_facts(facts),
        reader=fill(words.READER, chosen) if chosen.get("reader") else "",
        words=chosen.get("words", ""),
        verdict=verdict.judgement.headline,
        ease=ease(findings),
        reasons=_reasons(verdict.judgement),
        goal=plan.get("goal", ""),
        how=_how(plan),
        steps=_steps(plan, findings),
        splits=_splits(findings, title_of),
        timing=_timing(findings),
        timing_svg=_timing_svg(Settings(**settings_of(session, state)).on_time_s, findings),
        rate=_rate(findings),
        rate_svg=rate_plot(findings, title_of) if findings["rate_curve"] else None,
        ways=ways(findings, title_of),
        pictures=pictures(session, findings, chosen.get("pictures")),
        notes=_notes(state.notes),
        cautions=list(card["cautions"]) if card else [],
        coming=lines_of(card, title_of)[1:6] if card else [],
        method=_method(findings),
    )


def _facts(known: Mapping[str, Any]) -> str:
    """What is known of who worked when and where, how long and how often."""
    told = (fill(said, known) for key, said in words.FACTS.items() if known[key] not in (None, ""))
    return words.BETWEEN_FACTS.join(told)


def _reasons(said: Judgement) -> list[str]:
    """Why, what else is true, the hands, and on what it rests."""
    record = said.record
    could = ""
    if record.low is not None and record.high is not None:
        could = fill(words.RESTS_COULD, {}, between=between(record.low, record.high))
    rests = fill(words.RESTS, {"judged": record.judged, "sessions": record.sessions}, could=could)
    lines = [said.why.text, *(one.text for one in said.beside)]
    return [*lines, *([said.hands] if said.hands else []), rests]


def _timing_svg(on_time_s: float, findings: Findings) -> str | None:
    if findings["marker_latency_s"]["n"] == 0:
        return None
    return timing_plot(findings, on_time_s)


def _how(plan: Mapping[str, Any]) -> str:
    """The way of working and the rule, in a sentence each."""
    said = []
    way = words.WAYS.get(plan.get("way", ""))
    markers = [m["name"] for m in plan.get("markers", []) if m["meaning"] == "event"]
    if way:
        template = words.TAUGHT["marked" if markers else "unmarked"]
        said.append(fill(template, {}, way=way, markers=words.BETWEEN_WAYS.join(markers)))
    said.append(rule_words(plan.get("rule")))
    caps = {"minutes": (plan.get("session_cap_s") or 0) / 60, "reps": plan.get("rep_cap")}
    limits = joined(words.LIMITS, caps, words.BETWEEN_WAYS)
    if limits:
        said.append(fill(words.LIMITED, {}, limits=limits))
    return " ".join(filter(None, said))


def _steps(plan: Mapping[str, Any], findings: Findings) -> list[list[str]]:
    """Steps from the bottom: number, name, criterion, when the marker falls, whether worked."""
    steps = steps_in_use(plan)
    worked = {s["approximation"] for s in findings["splits"]["approximations"] if s["attempts"]}
    rows = [
        [
            str(number),
            step.get("title") or step["key"],
            step.get("criterion", ""),
            fill(words.MARK, {}, when=mark_at_words(step)),
            "worked" if step["key"] in worked else "",
        ]
        for number, step in enumerate(steps, 1)
    ]
    if len(rows) <= MOST_STEPS:
        return rows
    places = [place for place, row in enumerate(rows) if row[4]] or [0]
    first = max(0, min(min(places) - 1, len(rows) - MOST_STEPS))
    return rows[first : max(first + MOST_STEPS, max(places) + 1)][: MOST_STEPS + 3]


def _splits(findings: Findings, title_of: Callable[[str | None], str]) -> list[list[str]]:
    rows = []
    for split in findings["splits"]["approximations"]:
        rate = split["reinforcement_per_min"]["value"]
        is_judged = split["judged"] > 0
        rows.append(
            [
                title_of(split["approximation"]) if split["approximation"] else words.NO_STEP,
                clock(split["training_time_s"]),
                fill(words.FITS, split) if is_judged else NOTHING,
                between(split["low"], split["high"]),
                str(split["longest_run"]) if is_judged else NOTHING,
                NOTHING if rate is None else f"{rate:.1f}",
                latency(split["marker_latency_s"]),
                latency(split["reward_latency_s"]),
            ]
        )
    return rows


def _timing(findings: Findings) -> list[str]:
    marker, reward = findings["marker_latency_s"], findings["reward_latency_s"]
    if marker["n"] == 0:
        return [words.NOT_MARKED]
    said = [_fell(findings)]
    if reward["n"]:
        said.append(fill(words.REWARD, reward, could=_could(reward)))
    unrewarded = findings["counts"]["unrewarded_markers"]
    if unrewarded:
        said.append(fill(words.UNREWARDED, {"unrewarded": unrewarded}))
    reach = findings["reach_lead_s"]
    if reach["before_marker"]:
        said.append(fill(words.HAND, reach))
    return said


def _fell(findings: Findings) -> str:
    """Where the marker fell: by the onset, or by the instant the plan wants."""
    is_elsewhere = wants_elsewhere(findings)
    middle = findings["timing_error_s" if is_elsewhere else "marker_latency_s"]
    timing = findings["timing"]
    return fill(
        words.TIMING["before" if middle["median"] < 0 else "after"],
        {**timing, "median": middle["median"], "n": middle["n"]},
        instant=words.INSTANTS["wanted" if is_elsewhere else "onset"],
        could=_could(middle),
        over=fill(words.OVER, timing) if timing["behaviour_over"] else "",
    )


def _could(summary: Mapping[str, Any]) -> str:
    """Where the true middle may lie."""
    if summary["median_low"] is None:
        return words.MIDDLE_COULD["too_few"]
    limits = {"low": summary["median_low"], "high": summary["median_high"]}
    return fill(words.MIDDLE_COULD["known"], limits)


def _rate(findings: Findings) -> list[str]:
    pay = findings["certainty"]["pay"]
    if pay["per_min"] is None:
        return [words.NO_RATE]
    said = [fill(words.PAY, pay)]
    spells = findings["dry_spells"]
    if spells["longest_s"] is not None:
        said.append(fill(words.LONGEST, {"longest_s": spells["longest_s"]}))
    success = findings["success"]
    if success["judged"]:
        could = between(success["low"], success["high"])
        said.append(fill(words.SUCCESS, success, between=could))
    return said


def _notes(notes: Mapping[str, str]) -> list[tuple[str, str]]:
    return [
        (words.PARTS.get(part, part.removeprefix("conditions.")), text)
        for part, text in notes.items()
        if text
    ]


def _method(findings: Findings) -> list[str]:
    """How the numbers came about, and how sure they are, in words."""
    source = findings["sources"]["marker_latency_s"]
    said = [words.METHOD["film" if source else "hand"]]
    if source:
        within_ms = max(1, round(1960 * source))
        said.append(fill(words.METHOD["frames"], {"within_ms": within_ms}))
    said.append(fill(words.METHOD["few"], {"attempts": findings["counts"]["attempts"]}))
    said.append(words.METHOD["judged"])
    return said
