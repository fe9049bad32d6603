"""The core's findings of a session, worked out once for each state of its marks."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass, replace
from typing import Any

from frequens.core import InvalidSession, measure
from frequens.core.bouts import BoutFault
from frequens.core.sentence import sentence

from .folding import fold, plan_of, session_record
from .models import Measured, TrainingSession

#: Raised when the core measures differently, so that nothing kept is shown any more.
CORE = 2


@dataclass(frozen=True)
class Measurement:
    """Findings as of change `seq`; None with the reasons where they cannot be had."""

    seq: int
    findings: dict[str, Any] | None
    faults: list[str]
    #: What to do, in one sentence.
    sentence: dict[str, str] | None = None


def measured(session: TrainingSession, *, keep: bool = False) -> Measurement:
    """The session as it stands, from what was kept where nothing has changed since.

    `keep` for pages that show many sessions; at the bench the next mark comes in a moment.
    """
    seq, state = _state_of(session)
    known = Measured.objects.filter(session=session, state=state).first()
    if known is not None:
        return Measurement(seq, known.findings, known.faults, known.sentence)
    faults: list[str] = []
    try:
        findings = measure(session_record(session))
    except BoutFault as fault:
        findings, faults = None, [str(fault)]
    except InvalidSession as invalid:
        findings, faults = None, list(invalid.faults)
    said = None
    if findings is not None:
        said = asdict(sentence(findings, titles_of(plan_of(session, fold(session)))))
    if keep:
        now = {"state": state, "findings": findings, "faults": faults, "sentence": said}
        now["gist"] = _gist(findings)
        Measured.objects.update_or_create(session=session, defaults=now)
    return Measurement(seq, findings, faults, said)


def measured_in_short(session: TrainingSession) -> Measurement:
    """The same with findings that leave out what grows with the reps; see `LONGEST`."""
    seq, state = _state_of(session)
    known = Measured.objects.filter(session=session, state=state).defer("findings").first()
    if known is not None:
        return Measurement(seq, known.gist, known.faults, known.sentence)
    whole = measured(session, keep=True)
    return replace(whole, findings=_gist(whole.findings))


#: The parts of the findings that grow with the reps.
LONGEST = ("reps", "rate_curve", "cumulative", "moments", "loose")


def _gist(findings: dict[str, Any] | None) -> dict[str, Any] | None:
    if findings is None:
        return None
    return {key: value for key, value in findings.items() if key not in LONGEST}


def _state_of(session: TrainingSession) -> tuple[int, str]:
    """The session's last change, and what its findings depend on, as one text."""
    seq = session.edits.values_list("id", flat=True).last() or 0
    clips = ",".join(str(film.pk) for film in session.clips)
    return seq, f"{CORE}:{seq}:{clips}"


def titles_of(plan: Mapping[str, Any]) -> Callable[[str | None], str]:
    """Names a plan's approximations by their keys."""
    titles = {s["key"]: s.get("title") or s["key"] for s in plan.get("approximations", [])}
    return lambda key: titles.get(key or "", key or "this step")
