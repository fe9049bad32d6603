"""What a report says, once for the page and once for the PDF."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from frequens.core.decisions.judging import Judgement
from frequens.core.history.logbook import wants_elsewhere
from frequens.core.model.events import Settings
from frequens.core.planning.shaping import steps_in_use
from frequens.core.words import counted

from ..coding.edit_store import fold, settings_of
from ..coding.plan_titles import titles_of
from ..findings.judgements import judged, plan_in_force
from ..findings.store import measurement_of
from ..library.sessions import TrainingSession
from ..plans.next_card import card_of, lines_of
from .pictures import Picture, pictures
from .plots import rate_plot, timing_plot
from .ways import ease, ways
from .words import WAYS, between, clock, latency, long_day, mark_at_words, percent, rule_words

#: A plan of more steps shows those around the ones that were worked.
MOST_STEPS = 7
SPLIT_HEADS = (
    "Step",
    "Time",
    "Fits",
    "could be",
    "Longest run",
    "Rewards a minute",
    "Marker",
    "Reward",
)


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
    handler, place = state.facts.get("handler"), state.facts.get("place")
    trainer = f"trained by {session.trainer_now}" if session.trainer_now else ""
    counts = findings["counts"]
    facts = [
        long_day(session.date_now),
        trainer,
        f"handled by {handler}" if handler else "",
        place or "",
        f"{clock(findings['training_time_s'])} of training",
        counted(counts["attempts"], "rep"),
    ]
    return Report(
        title=" · ".join(filter(None, who)) or "A training session",
        facts=", ".join(filter(None, facts)),
        reader=chosen.get("reader", ""),
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


def _reasons(said: Judgement) -> list[str]:
    """Why, what else is true, the hands, and on what it rests."""
    record = said.record
    sessions = counted(record.sessions, "session")
    rests = f"It rests on {counted(record.judged, 'judged rep')} in {sessions}"
    if record.low is not None and record.high is not None:
        rests += f"; the true share could be {between(record.low, record.high)}"
    lines = [said.why.text, *(one.text for one in said.beside)]
    return [*lines, *([said.hands] if said.hands else []), f"{rests}."]


def _timing_svg(on_time_s: float, findings: Mapping[str, Any]) -> str | None:
    if findings["marker_latency_s"]["n"] == 0:
        return None
    return timing_plot(findings, on_time_s)


def _how(plan: Mapping[str, Any]) -> str:
    """The way of working and the rule, in a sentence each."""
    said = []
    way = WAYS.get(plan.get("way", ""))
    markers = [m["name"] for m in plan.get("markers", []) if m["meaning"] == "event"]
    if way:
        said.append(
            f"Taught by {way}" + (f", marked with {' or '.join(markers)}." if markers else ".")
        )
    said.append(rule_words(plan.get("rule")))
    limits = []
    if plan.get("session_cap_s"):
        limits.append(f"{plan['session_cap_s'] / 60:g} min")
    if plan.get("rep_cap"):
        limits.append(counted(plan["rep_cap"], "rep"))
    if limits:
        said.append(f"A session is at most {' or '.join(limits)}.")
    return " ".join(filter(None, said))


def _steps(plan: Mapping[str, Any], findings: Mapping[str, Any]) -> list[list[str]]:
    """Steps from the bottom: number, name, criterion, when the marker falls, whether worked."""
    steps = steps_in_use(plan)
    worked = {s["approximation"] for s in findings["splits"]["approximations"] if s["attempts"]}
    rows = [
        [
            str(number),
            step.get("title") or step["key"],
            step.get("criterion", ""),
            mark_at_words(step),
            "worked" if step["key"] in worked else "",
        ]
        for number, step in enumerate(steps, 1)
    ]
    if len(rows) <= MOST_STEPS:
        return rows
    places = [place for place, row in enumerate(rows) if row[4]] or [0]
    first = max(0, min(min(places) - 1, len(rows) - MOST_STEPS))
    return rows[first : max(first + MOST_STEPS, max(places) + 1)][: MOST_STEPS + 3]


def _splits(findings: Mapping[str, Any], title_of: Callable[[str | None], str]) -> list[list[str]]:
    rows = []
    for split in findings["splits"]["approximations"]:
        rate = split["reinforcement_per_min"]["value"]
        is_judged = split["judged"] > 0
        rows.append(
            [
                title_of(split["approximation"]) if split["approximation"] else "No step named",
                clock(split["training_time_s"]),
                f"{split['met']} of {split['judged']}" if is_judged else "–",
                between(split["low"], split["high"]),
                str(split["longest_run"]) if is_judged else "–",
                "–" if rate is None else f"{rate:.1f}",
                latency(split["marker_latency_s"]),
                latency(split["reward_latency_s"]),
            ]
        )
    return rows


def _timing(findings: Mapping[str, Any]) -> list[str]:
    marker, reward = findings["marker_latency_s"], findings["reward_latency_s"]
    counts, timing = findings["counts"], findings["timing"]
    if marker["n"] == 0:
        return ["No rep was marked."]
    wanted = findings["timing_error_s"] if wants_elsewhere(findings) else marker
    instant = "the behaviour began" if wanted is marker else "the instant the plan wants"
    said = [
        f"The marker fell {latency(abs(wanted['median']))[1:]} "
        f"{'before' if wanted['median'] < 0 else 'after'} {instant}, in the middle of "
        f"{counted(wanted['n'], 'marked rep')}{_could(wanted)}: {timing['early']} early, "
        f"{timing['on_time']} on time, {timing['late']} late"
        + (
            f", {timing['behaviour_over']} after the behaviour was over."
            if timing["behaviour_over"]
            else "."
        )
        + " Each ring is a marker, a filled one late or after it was over."
    ]
    if reward["n"]:
        said.append(
            f"The reward followed {latency(reward['median'])[1:]} after the marker, in the middle"
            f"{_could(reward)}; {reward['over_limit']} took too long."
        )
    if counts["unrewarded_markers"]:
        said.append(
            f"{counted(counts['unrewarded_markers'], 'marker')} brought no reward: a promise not "
            "kept."
        )
    reach = findings["reach_lead_s"]
    if reach["before_marker"]:
        first = f"{reach['before_marker']} of {reach['n']}"
        said.append(f"The hand moved before the marker on {first}.")
    return said


def _could(summary: Mapping[str, Any]) -> str:
    if summary["median_low"] is None:
        return " (too few to say how far the true middle could lie)"
    return f" (could be {latency(summary['median_low'])} to {latency(summary['median_high'])})"


def _rate(findings: Mapping[str, Any]) -> list[str]:
    pay = findings["certainty"]["pay"]
    if pay["per_min"] is None:
        return ["No training time, no rate."]
    said = [
        f"{pay['per_min']:.1f} rewards a minute; taught like this, the true middle could be "
        f"{pay['low']:.1f} to {pay['high']:.1f}."
    ]
    longest = findings["dry_spells"]["longest_s"]
    if longest is not None:
        said.append(f"The longest wait for a reward was {longest:.0f} s.")
    success = findings["success"]
    if success["judged"]:
        could = between(success["low"], success["high"])
        said.append(
            f"{success['met']} of {success['judged']} judged reps fit "
            f"({percent(success['share'])}; could be {could})."
        )
    return said


#: Parts of the findings a note may stand beside, as the report calls them.
PARTS = {
    "splits": "steps",
    "marker_latency_s": "marker",
    "reward_latency_s": "reward",
    "rates": "rate",
    "cumulative": "rate",
    "success": "what fits",
    "reach_lead_s": "hand",
    "pause_s": "pauses",
    "held_s": "how long it lasted",
    "signs": "how it was",
    "returns": "coming back",
    "stays": "staying",
    "chains": "the chain",
    "exposures": "touch and food",
    "values": "what was measured",
    "bouts": "work and breaks",
    "offered": "what else it did",
    "placement": "placement",
    "prompts": "help",
    "stimulus_control": "cue",
}


def _notes(notes: Mapping[str, str]) -> list[tuple[str, str]]:
    return [
        (PARTS.get(part, part.removeprefix("conditions.")), text)
        for part, text in notes.items()
        if text
    ]


def _method(findings: Mapping[str, Any]) -> list[str]:
    """How the numbers came about, and how sure they are, in words."""
    source = findings["sources"]["marker_latency_s"]
    said = [
        "Behaviour, marker and reward were marked on single frames of the film."
        if source
        else "Behaviour, marker and reward were marked by hand."
    ]
    if source:
        said.append(
            f"A frame shows only that something happened since the frame before: each marker's "
            f"distance is therefore sure to ±{max(1, round(1960 * source))} ms (95 %)."
        )
    said.append(
        f"With {counted(findings['counts']['attempts'], 'rep')}, “could be” gives where the truth "
        "may lie (95 % intervals: shares by Wilson, rates by how evenly the rewards came, middles "
        "by order statistics)."
    )
    said.append(
        "“Fits” is the reviewer's judgement against the criterion in the plan. Nothing here "
        "replaces a veterinarian's or a qualified behaviour professional's examination."
    )
    return said
