"""The core's findings of a session, worked out once for each state of its marks."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from frequens.core import InvalidSession, measure
from frequens.core.bouts import BoutFault

from .folding import session_record
from .models import Measured, TrainingSession

#: Raised when the core measures differently, so that nothing kept is shown any more.
CORE = 1


@dataclass(frozen=True)
class Measurement:
    """Findings as of change `seq`; None with the reasons where they cannot be had."""

    seq: int
    findings: dict[str, Any] | None
    faults: list[str]


def measured(session: TrainingSession, *, keep: bool = False) -> Measurement:
    """The session as it stands, from what was kept where nothing has changed since.

    `keep` for pages that show many sessions; at the bench the next mark comes in a moment.
    """
    seq = session.edits.values_list("id", flat=True).last() or 0
    state = f"{CORE}:{seq}:{','.join(str(film.pk) for film in session.clips)}"
    known = Measured.objects.filter(session=session, state=state).first()
    if known is not None:
        return Measurement(seq, known.findings, known.faults)
    faults: list[str] = []
    try:
        findings = measure(session_record(session))
    except BoutFault as fault:
        findings, faults = None, [str(fault)]
    except InvalidSession as invalid:
        findings, faults = None, list(invalid.faults)
    if keep:
        Measured.objects.update_or_create(
            session=session, defaults={"state": state, "findings": findings, "faults": faults}
        )
    return Measurement(seq, findings, faults)
