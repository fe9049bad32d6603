"""How the animal was, and what else a session holds beside marker and rate, in sentences."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import Any

from frequens.core.measures.responding import UNLABELLED
from frequens.words import fill
from frequens.words.spoken import report as words

Findings = Mapping[str, Any]
TitleOf = Callable[[str | None], str]


def ease(findings: Findings) -> list[str]:
    """Signs and leaving the work; nothing where there was neither."""
    said = [
        fill(
            words.SIGN,
            {"count": sign["count"]},
            label=label or words.NOT_NAMED,
            worst=words.WORST.get(sign["worst"], ""),
        )
        for label, sign in findings["signs"]["labels"].items()
    ]
    left = findings["opt_outs"]
    if left["count"]:
        away_s = 60 * left["away_min"]
        said.append(fill(words.LEFT, {"count": left["count"], "away_s": away_s}))
    return said


def ways(findings: Findings, title_of: TitleOf) -> list[str]:
    """Stays, coming back, cues, chains, touches and measured reps: only what there was."""
    return [
        line
        for part in (_stays, _returns, _cues, _chains, _touches, _values)
        for line in part(findings, title_of)
    ]


def _stays(findings: Findings, title_of: TitleOf) -> Iterator[str]:
    for key, stay in findings["stays"].items():
        kept, pays = stay["kept"], stay["pays_per_rep"]["mean"]
        if kept["of"]:
            numbers = {"kept": kept["count"], "of": kept["of"], "pays": pays}
            template = words.STAY["unpaid" if pays is None else "paid"]
            yield fill(template, numbers, step=title_of(key or None))


def _returns(findings: Findings, title_of: TitleOf) -> Iterator[str]:
    returns = findings["returns"]
    if returns["km_median_s"] is not None:
        yield fill(words.RETURNS, {"n": returns["n"], "median_s": returns["km_median_s"]})


def _cues(findings: Findings, title_of: TitleOf) -> Iterator[str]:
    for label, cue in findings["cues"].items():
        again = cue["presentations"] - cue["said_once"]
        yield fill(
            words.CUE,
            cue,
            cue=words.CUE_NAMELESS
            if label == UNLABELLED
            else fill(words.CUE_NAMED, {}, label=label),
            wrong=fill(words.WRONG, cue) if cue["wrong"] else "",
            again=fill(words.AGAIN, {"again": again}) if again else "",
        )
    control = findings["stimulus_control"]
    windows = control["false_alarm"] + control["correct_rejection"]
    if windows:
        yield fill(words.UNASKED, {"alarms": control["false_alarm"], "windows": windows})


def _chains(findings: Findings, title_of: TitleOf) -> Iterator[str]:
    for key, chain in findings["chains"].items():
        done = {"done": chain["completed"]["count"], "of": chain["completed"]["of"]}
        yield fill(words.CHAIN, done, step=title_of(key or None))


def _touches(findings: Findings, title_of: TitleOf) -> Iterator[str]:
    for label, touch in findings["exposures"].items():
        yield fill(
            words.TOUCH,
            {"n": touch["n"], "paid": touch["paid"]["count"]},
            label=label,
            food_first=fill(words.FOOD_FIRST, touch) if touch["food_first"] else "",
        )


def _values(findings: Findings, title_of: TitleOf) -> Iterator[str]:
    for key, values in findings["values"].items():
        if values["median"] is None:
            continue
        numbers = {"median": values["median"], "n": values["n"]}
        reached = values["reached"]
        if reached:
            numbers |= {"reached": reached["count"], "of": reached["of"]}
        template = words.VALUES["aim" if reached else "no_aim"]
        yield fill(template, numbers, step=title_of(key or None))
