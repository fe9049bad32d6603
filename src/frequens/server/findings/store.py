"""The core's findings of a session, worked out once for each state of its marks."""

from __future__ import annotations

import contextlib
import hashlib
import threading
import time
from collections import OrderedDict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from django.db import IntegrityError, OperationalError
from django.db.models import Max

import frequens.core
from frequens.core import InvalidSession
from frequens.core.findings import measure_session
from frequens.core.measures.reviewer_spread import placed_u_s
from frequens.core.model.bouts import BoutFault

from ..coding.edit_store import Present, plan_of, present, session_record
from ..coding.models import Edit
from ..findings.models import KeptFindings
from ..library.models import Film
from ..library.sessions import TrainingSession
from ..second_look.models import SecondLook


def _core_as_it_is() -> str:
    """A name for what the core's files say: another core, and nothing kept is shown any more."""
    folder = Path(frequens.core.__file__).parent
    named = hashlib.sha256()
    for path in sorted(folder.rglob("*.py")):
        named.update(path.relative_to(folder).as_posix().encode() + b"\0" + path.read_bytes())
    return named.hexdigest()[:12]


CORE = _core_as_it_is()


@dataclass(frozen=True)
class Measurement:
    """Findings as of change `seq`; None with the reasons where they cannot be had."""

    seq: int
    findings: dict[str, Any] | None
    faults: list[str]
    #: What judgements ask of it: `session` in short, and the `plan` it was filmed under.
    digest: dict[str, Any] | None = None


def measurement_of(session: TrainingSession, *, keep: bool = False) -> Measurement:
    """The session as it stands, from what was kept where nothing has changed since.

    `keep` for pages that show many sessions; at the bench the next mark comes in a moment.
    """
    now = present(session)
    look = opened_look(session)
    films = (clip.film_id for clip in now.timeline.clips)
    state = _state_of(now.seq, now.last, films, look)
    known = KeptFindings.objects.filter(session=session, state=state).first()
    if known is not None:
        return Measurement(now.seq, known.findings, known.faults, known.digest)
    with _LOCK:
        if (session.pk, state) in _LATELY:
            return _LATELY[session.pk, state]
    with _TURN:
        began = time.monotonic()
        made = _measure(session, now, look)
        _BUDGET.spend(time.monotonic() - began)
    if keep:
        _keep(session, {"state": state, "outline": _outline(made.findings), **_kept_of(made)})
    else:
        with _LOCK:
            _LATELY[session.pk, state] = made
            while len(_LATELY) > _MOST_LATELY:
                _LATELY.popitem(last=False)
    return made


def measurement_if_idle(session: TrainingSession) -> Measurement | None:
    """The session as it stands, or None where so much is being measured that it has to wait.

    Whoever gets None asks for the findings a little later, once for several changes.
    """
    return measurement_of(session) if _BUDGET.is_left() and not _TURN.locked() else None


class _Budget:
    """Time this process may spend on measuring at once with each mark, seconds.

    It grows with the time that passes. One reviewer never uses it up; of many, each has the
    findings less often than with every mark, and none waits for another's.
    """

    SHARE, MOST_S = 0.15, 0.25

    def __init__(self) -> None:
        self._left, self._since = self.MOST_S, time.monotonic()
        self._lock = threading.Lock()

    def is_left(self) -> bool:
        with self._lock:
            now = time.monotonic()
            self._left = min(self.MOST_S, self._left + self.SHARE * (now - self._since))
            self._since = now
            return self._left > 0

    def spend(self, seconds: float) -> None:
        with self._lock:
            # The first one reads libraries in; that is not what measuring costs.
            self._left -= min(seconds, self.MOST_S)


_BUDGET = _Budget()
#: Only one is measured at a time: the core computes, and two would take twice as long.
_TURN = threading.Lock()

#: What was worked out last at the bench, for whoever asks for the same state again. What a
#: transaction still holds has a key of its own as well: the last edit's id is never given twice.
_LATELY: OrderedDict[tuple[Any, str], Measurement] = OrderedDict()
_MOST_LATELY = 32
_LOCK = threading.Lock()


def opened_look(session: TrainingSession) -> SecondLook | None:
    """The last second look at a session that both have opened."""
    return SecondLook.objects.filter(coding__second_of=session.pk, opened_at__isnull=False).first()


def _measure(session: TrainingSession, now: Present, look: SecondLook | None) -> Measurement:
    try:
        record = session_record(session, now)
        if look is not None:
            record = replace(record, placed_u_s=placed_u_s(look.differences_s))
        made = measure_session(record)
    except BoutFault as fault:
        return Measurement(now.seq, None, [str(fault)])
    except InvalidSession as invalid:
        return Measurement(now.seq, None, list(invalid.faults))
    digest = {"session": made.digest.as_plain_values(), "plan": plan_of(session, now.folded)}
    return Measurement(now.seq, made.findings, [], digest)


def _kept_of(made: Measurement) -> dict[str, Any]:
    return {key: getattr(made, key) for key in ("findings", "faults", "digest")}


def _keep(session: TrainingSession, values: dict[str, Any]) -> None:
    """Keep what was measured where that is possible; a page is shown without it as well."""
    with contextlib.suppress(OperationalError, IntegrityError):
        KeptFindings.objects.update_or_create(session=session, defaults=values)


def measurements_of(
    sessions: Sequence[TrainingSession], *, digests_only: bool = False
) -> dict[Any, Measurement]:
    """Many sessions in short at once, in a few queries; without folding any.

    Their findings leave out what grows with the reps (`LONGEST`), with `digests_only` all.
    """
    ids = [session.pk for session in sessions]
    last = Edit.objects.filter(session__in=ids).order_by().values("session").annotate(at=Max("pk"))
    rows = Edit.objects.filter(pk__in=[row["at"] for row in last])
    edits = {e.session_id: (e.pk, e.client_id) for e in rows.only("session_id", "client_id")}
    films: dict[Any, list[str]] = {}
    for film in Film.objects.filter(session__in=ids).order_by("place", "created_at"):
        if film.has_index:
            films.setdefault(film.session_id, []).append(str(film.pk))
    looks = {
        look.coding.second_of_id: look
        for look in SecondLook.objects.filter(coding__second_of__in=ids, opened_at__isnull=False)
        .select_related("coding")
        .reverse()
    }
    unwanted = ("findings", "outline") if digests_only else ("findings",)
    kept = {m.session_id: m for m in KeptFindings.objects.filter(session__in=ids).defer(*unwanted)}
    found: dict[Any, Measurement] = {}
    for session in sessions:
        seq, client_id = edits.get(session.pk, (0, ""))
        look = looks.get(session.pk)
        state = _state_of(seq, client_id, films.get(session.pk, []), look)
        known = kept.get(session.pk)
        if known is not None and known.state == state:
            outline = None if digests_only else known.outline
            found[session.pk] = Measurement(seq, outline, known.faults, known.digest)
        else:
            whole = measurement_of(session, keep=True)
            found[session.pk] = replace(whole, findings=_outline(whole.findings))
    return found


#: The parts of the findings that grow with the reps.
LONGEST = ("reps", "rate_curve", "cumulative", "moments", "loose", "marker_density")


def _outline(findings: dict[str, Any] | None) -> dict[str, Any] | None:
    if findings is None:
        return None
    return {key: value for key, value in findings.items() if key not in LONGEST}


def _state_of(seq: int, last: str, films: Iterable[str], look: SecondLook | None) -> str:
    """What the findings depend on, as one text that never stands for anything else.

    The number of the last edit alone is not enough: one that was taken back gives its number to
    the next. The edit's own id is never used again; a film's frames never change, nor what two
    codings were when both were done.
    """
    seen_again = f":{look.pk}" if look else ""
    return f"{CORE}:{seq}:{last}:{','.join(films)}{seen_again}"
