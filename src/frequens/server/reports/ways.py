"""How the animal was, and what else a session holds beside marker and rate, in sentences."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import Any

from frequens.core.words import counted

Findings = Mapping[str, Any]
WORST = ("", "slight", "marked", "severe")


def ease(findings: Findings) -> list[str]:
    """Signs and leaving the work; nothing where there was neither."""
    said = [
        f"{counted(sign['count'], 'sign')}: {label or 'not named'}"
        f" ({WORST[sign['worst']]} at worst)."
        for label, sign in findings["signs"]["labels"].items()
    ]
    left = findings["opt_outs"]
    if left["count"]:
        said.append(
            f"It left the work {counted(left['count'], 'time')}, "
            f"for {round(60 * left['away_min'])} s in all."
        )
    return said


def ways(findings: Findings, title_of: Callable[[str | None], str]) -> list[str]:
    """Stays, coming back, cues, chains, touches and measured reps: only what there was."""
    return [
        line
        for part in (_stays, _returns, _cues, _chains, _touches, _values)
        for line in part(findings, title_of)
    ]


def _stays(findings: Findings, title_of: Callable[[str | None], str]) -> Iterator[str]:
    for key, stay in findings["stays"].items():
        kept, pays = stay["kept"], stay["pays_per_rep"]["mean"]
        if kept["of"]:
            paid = f", paid {pays:.1f} times in place" if pays is not None else ""
            count = f"{kept['count']} of {kept['of']}"
            yield f"{title_of(key or None)}: {count} stayed until let go{paid}."


def _returns(findings: Findings, title_of: Callable[[str | None], str]) -> Iterator[str]:
    returns = findings["returns"]
    if returns["km_median_s"] is not None:
        yield (
            f"Sent away {counted(returns['n'], 'time')}; half were back within "
            f"{returns['km_median_s']:.1f} s."
        )


def _cues(findings: Findings, title_of: Callable[[str | None], str]) -> Iterator[str]:
    for label, cue in findings["cues"].items():
        name = "The cue" if label == "unlabelled" else f"“{label}”"
        wrong = f", {cue['wrong']} with something else" if cue["wrong"] else ""
        again = cue["presentations"] - cue["said_once"]
        said = f"; said more than once {counted(again, 'time')}" if again else ""
        yield f"{name}: {cue['hits']} of {cue['presentations']} answered{wrong}{said}."
    control = findings["stimulus_control"]
    windows = control["false_alarm"] + control["correct_rejection"]
    if windows:
        yield (
            f"While nothing was asked it came in {control['false_alarm']} of "
            f"{counted(windows, 'wait')}."
        )


def _chains(findings: Findings, title_of: Callable[[str | None], str]) -> Iterator[str]:
    for key, chain in findings["chains"].items():
        done = chain["completed"]
        yield f"{title_of(key or None)}: {done['count']} of {done['of']} done to the end."


def _touches(findings: Findings, title_of: Callable[[str | None], str]) -> Iterator[str]:
    for label, touch in findings["exposures"].items():
        first = touch["food_first"]
        before = f"; food came first {counted(first, 'time')}" if first else ""
        yield (
            f"{label}: {counted(touch['n'], 'time')}, {touch['paid']['count']} with food after"
            f" it{before}."
        )


def _values(findings: Findings, title_of: Callable[[str | None], str]) -> Iterator[str]:
    for key, values in findings["values"].items():
        if values["median"] is None:
            continue
        reached = values["reached"]
        aim = f", {reached['count']} of {reached['of']} at the aim" if reached else ""
        measured = counted(values["n"], "measured rep")
        middle = f"{values['median']:g} in the middle of {measured}"
        yield f"{title_of(key or None)}: {middle}{aim}."
