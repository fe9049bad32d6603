"""The core's findings of a session, worked out once for each state of its marks."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass
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
    seq = session.edits.values_list("id", flat=True).last() or 0
    state = f"{CORE}:{seq}:{','.join(str(film.pk) for film in session.clips)}"
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
        Measured.objects.update_or_create(session=session, defaults=now)
    return Measurement(seq, findings, faults, said)


def titles_of(plan: Mapping[str, Any]) -> Callable[[str | None], str]:
    """Names a plan's approximations by their keys."""
    titles = {s["key"]: s.get("title") or s["key"] for s in plan.get("approximations", [])}
    return lambda key: titles.get(key or "", key or "this step")
