"""The next session's script, as it would be made now or was taken along, and how it was kept to."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from frequens.core.planning.next_session import MOST_REPS
from frequens.core.programme.followed import Done, Followed, followed
from frequens.core.programme.script import Script, session_script
from frequens.core.programme.script_document import read_script
from frequens.core.programme.script_order import script_order

from ..coding.edit_store import fold
from ..findings.judgements import order_of, worked_on
from ..findings.store import measurement_of
from ..library.sessions import TrainingSession
from .next_card import Prepared, prepared


@dataclass(frozen=True)
class Scripted:
    """A script with the preparation it belongs to; `is_kept` was taken along as it stands."""

    script: Script
    is_kept: bool
    made: Prepared


def script_of(session: TrainingSession, seed: int | None = None) -> Scripted | None:
    """The script of the session after this one; None while its marks cannot be measured.

    Without `seed` it is the one that was taken along, if one was, else always the same one.
    """
    made = prepared(session)
    if made is None:
        return None
    if seed is None and (kept := kept_script(session)) is not None:
        return Scripted(kept, True, made)
    seed = int(session.pk.hex[:8], 16) if seed is None else seed
    order = script_order(_with_changes(made.card), made.grid, made.plan)
    return Scripted(session_script(order, seed), False, made)


def _with_changes(card: dict[str, Any]) -> dict[str, Any]:
    """The card's values with the trainer's in place of the rule's; what reps are expected follows
    the minutes."""
    changed = {key: value for key, value in card["changed"].items() if value is not None}
    values = {**card, **changed}
    expected = round(card["expected_reps"] * values["minutes"] / card["minutes"])
    values["reps"] = changed.get("reps")
    values["expected_reps"] = max(1, min(card["reps"] or MOST_REPS, expected))
    return values


def kept_script(session: TrainingSession) -> Script | None:
    """The script that was taken along to the session after this one; None without one."""
    kept = fold(session).facts.get("script")
    return None if kept is None else read_script(kept)


def followed_script(session: TrainingSession) -> tuple[Script, Followed] | None:
    """How a session kept to the script of the session before it; None without a script or marks."""
    version = session.plan_version
    if version is None or session.by_hand is not None:
        return None
    earlier = [s for s in worked_on(version.behaviour_id) if order_of(s) < order_of(session)]
    if not earlier:
        return None
    script = kept_script(max(earlier, key=order_of))
    findings = measurement_of(session, keep=True).findings
    if script is None or findings is None:
        return None
    return script, followed(script.lines, done_of(findings))


def done_of(findings: Any) -> list[Done]:
    """The reps and paid waits of a session's findings in the order they were done."""
    reps = [
        (
            rep["onset_s"],
            Done(rep["id"], "rep", rep["approximation"], rep["conditions"], rep["cue"], rep["met"]),
        )
        for rep in findings["reps"]
        if not rep["false_alarm"]
    ]
    waits = [
        (one["t_s"], Done(one["id"], "wait", None, {}, None, None))
        for one in findings["moments"]
        if one.get("role") == "window"
    ]
    return [done for _, done in sorted([*reps, *waits], key=lambda pair: pair[0])]
