"""The judgement of the last of a behaviour's sessions, in the light of those before."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ...model.events import Plan
from ...rules.judgement_numbers import Judging
from ...rules.schools import RULES, School, Verdict
from ...words.of_judgement import checked_words, count_of, hands_sentence, headline, in_full
from .case import Case
from .checked import CHECKED
from .digest import Digest
from .lines import (
    BESIDE,
    FIRST,
    KEEPS,
    Decision,
    Finding,
    distress,
    half_met,
    lure_long,
    plateau,
    unease,
)
from .record import in_order, record_of, step_of, within_memory
from .schools import Asked, SchoolSays, ask

DEFAULT_RULE: Mapping[str, Any] = {"kind": "run"}
#: What is said beside, in this order: the animal's ease, then the hands, then pay, then the plan.
ORDER: Sequence[str] = (
    "distress", "unease", "ease_first", "rising_pause", "more_signs", "dry_spell",
    "at_limit", "over_limit",
    "mend_timing", "mend_hand", "cue_overlap", "cue_repeated", "food_first",
    "mend_pay", "rate_floor", "slow_pay",
    "rule_lower", "five_misses", "mostly_missed", "left_early", "failed_above",
    "failed_above_today", "help_left", "lure_long", "not_waiting", "not_tested", "wrong_answers",
    "uneven", "plateau",
)  # fmt: skip
TitleOf = Callable[[str | None], str | None]


@dataclass(frozen=True)
class Said:
    """One reason: its stable code, its words and its numbers."""

    code: str
    text: str
    numbers: Mapping[str, Any]


@dataclass(frozen=True)
class Checked:
    """A line that was asked and was not true: its code, the question, and what was found.

    `numbers` are what the words in `found` were made of.
    """

    code: str
    question: str
    found: str
    numbers: Mapping[str, Any]


@dataclass(frozen=True)
class OnRecord:
    """What the decision rests on: how many sessions and judged reps, since when."""

    sessions: int
    judged: int
    met: int
    low: float | None
    high: float | None
    by_hand: int
    since: str | None


@dataclass(frozen=True)
class SaidBySchool:
    """One school's answer on the record; `reason` is why it holds."""

    kind: School
    decision: Verdict
    reason: str
    numbers: Mapping[str, float]


@dataclass(frozen=True)
class Judgement:
    """What to do next at a step, why, what else is true, and on what it rests.

    `next_step` is where the next session works; `help` the level to go to; `split_between` the
    keys of the two steps around a new one. `checked` are the lines that were asked before the one
    that decided. `rests_on` are the sessions of the record, by their place in the ordered history,
    with their judged and met attempts; `attempts` the ids of those on film.
    """

    decision: Decision
    step: str | None
    next_step: str | None
    help: str | None
    split_between: tuple[str | None, str | None] | None
    why: Said
    beside: tuple[Said, ...]
    school: SaidBySchool
    other_schools: Mapping[str, SaidBySchool]
    record: OnRecord
    headline: str
    hands: str | None
    checked: tuple[Checked, ...]
    rests_on: tuple[tuple[int, int, int], ...]
    attempts: tuple[str, ...]


def judge(history: Sequence[Digest], plan: Plan) -> Judgement:
    """Judge the last session of a history under its plan.

    Sessions may come in any order; the last is the one with the latest day and time, of equal ones
    the one given last. Raises ValueError for no session.
    """
    if not history:
        raise ValueError("no session to judge")
    given: dict[str, Any] = dict(plan.judging)
    numbers = Judging(**given)
    ordered = in_order(history)
    today = ordered[-1]
    sessions = within_memory(ordered, today, numbers)
    key = step_of(today, plan, numbers)
    record = record_of(sessions, key, plan)
    rule = plan.rule or DEFAULT_RULE
    step = plan.approximation(key)
    asked = Asked(record, step.quantity if step else None, numbers)
    case = Case(today, ordered, sessions, plan, numbers, record, ask(rule, asked))
    others = {kind: ask({"kind": kind}, asked) for kind in RULES if kind != rule["kind"]}
    found, checked = _decide(case)
    return _judgement(case, found, checked, others, _titles(plan))


def _titles(plan: Plan) -> TitleOf:
    titles = {step.key: step.title or step.key for step in plan.approximations}
    return lambda key: titles.get(key or "", key)


def _nothing(case: Case) -> Finding:
    return Finding("nothing_judged", "none", {"attempts": case.today.attempts})


def _decide(case: Case) -> tuple[Finding, list[str]]:
    """The first line that applies, and the codes of the lines asked before it."""
    checked: list[str] = []

    def first(lines: Sequence[Callable[[Case], Finding | None]]) -> Finding | None:
        for line in lines:
            finding = line(case)
            if finding is not None:
                return finding
            checked.append(line.__name__)
        return None

    if _is_unjudged(case):
        found = first((distress, unease))
        return found or _nothing(case), checked
    found = first(FIRST)
    if found is not None:
        return found, checked
    if case.says_raise:
        found = first(KEEPS)
        if found is not None:
            return found, checked
        if case.step is not None and case.above is None:
            return Finding("last_step", "proof", case.school.numbers), checked
        return Finding("rule_raise", "raise", case.school.numbers), checked
    found = plateau(case)
    if found is not None:
        return found, checked
    checked.append("plateau")
    found = lure_long(case)
    if found is not None and half_met(case):
        return found, checked
    checked.append("lure_long")
    more = {} if case.school.more is None else {"more": case.school.more}
    return Finding(case.school.reason, "hold", {**case.school.numbers, **more}), checked


def _is_unjudged(case: Case) -> bool:
    """Whether there is nothing to decide on; the comfort school decides on ease alone."""
    return not case.today.trials and not (case.school.kind == "comfort" and case.record.entries)


def _beside(case: Case, why: Finding) -> list[Finding]:
    """Every other finding that is true, each once."""
    lines = [*FIRST, *KEEPS, *BESIDE, plateau]
    if _is_unjudged(case):
        lines = [distress, unease, *KEEPS, *BESIDE]
    found = {f.code: f for line in lines if (f := line(case)) is not None and f.code != why.code}
    # What decides is not said a second time, weaker.
    if why.code in ("distress", "unease") or "unease" in found:
        found.pop("ease_first", None)
    if why.code == "distress":
        found.pop("unease", None)
    if why.code == "failed_above":
        found.pop("failed_above_today", None)
    return sorted(found.values(), key=lambda f: ORDER.index(f.code))


def _judgement(
    case: Case,
    why: Finding,
    checked: Sequence[str],
    others: Mapping[str, SchoolSays],
    title_of: TitleOf,
) -> Judgement:
    record = _on_record(case)
    beside = _beside(case, why)
    split = why.split if why.decision == "split" else None
    count = count_of(record.met, record.judged, record.sessions)
    return Judgement(
        decision=why.decision,
        step=case.key,
        next_step=_next_step(case, why.decision),
        help=why.help if why.decision == "fade" else None,
        split_between=split,
        why=_reason(why),
        beside=tuple(_reason(finding) for finding in beside),
        school=_of_school(case.school),
        other_schools={kind: _of_school(said) for kind, said in others.items()},
        record=record,
        headline=headline(
            why.decision,
            why.code,
            why.numbers,
            title_of(case.key),
            count,
            is_after=split is not None and split[0] is not None and split[0] == case.key,
            help_level=why.help,
        ),
        hands=_hands(case, beside, why),
        checked=tuple(_checked(case, code) for code in checked),
        rests_on=_rests_on(case),
        attempts=tuple(trial.id for trial in case.record.trials if trial.id is not None),
    )


def _next_step(case: Case, decision: Decision) -> str | None:
    if decision == "raise":
        return case.above or case.key
    return (case.below or case.key) if decision in ("lower", "end") else case.key


def _reason(finding: Finding) -> Said:
    return Said(finding.code, in_full(finding.code, finding.numbers), finding.numbers)


def _checked(case: Case, code: str) -> Checked:
    numbers = CHECKED[code](case)
    return Checked(code, *checked_words(code, numbers), numbers)


def _of_school(said: SchoolSays) -> SaidBySchool:
    return SaidBySchool(said.kind, said.decision, said.reason, said.numbers)


def _on_record(case: Case) -> OnRecord:
    share = case.record.share
    is_comfort = case.school.kind == "comfort"
    entries = [entry for entry in case.record.entries if entry.trials or is_comfort]
    return OnRecord(
        sessions=len(entries),
        judged=share.of,
        met=share.count,
        low=share.low,
        high=share.high,
        by_hand=sum(entry.digest.by_hand for entry in entries),
        since=entries[0].digest.date if entries else None,
    )


def _rests_on(case: Case) -> tuple[tuple[int, int, int], ...]:
    # Sessions beyond memory come first in the whole history.
    places = {id(session): place for place, session in enumerate(case.history)}
    return tuple(
        (places[id(e.digest)], len(e.trials), sum(t.met for t in e.trials))
        for e in case.record.entries
    )


def _hands(case: Case, beside: Sequence[Finding], why: Finding) -> str | None:
    is_food_first = any(finding.code == "food_first" for finding in (*beside, why))
    return hands_sentence(
        case.today.missed_kinds,
        case.today.hand_first,
        case.today.unpaid,
        (case.today.food_first, case.today.exposures) if is_food_first else (0, 0),
    )
