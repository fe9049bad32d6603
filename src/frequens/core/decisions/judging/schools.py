"""What the schools say of a record: when to raise, hold or lower.

Their numbers are those of `rules`; here they look at the record of a step over sessions, where the
order within a session by hand is not known.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from ...model.events import Quantity
from ...rules.judgement_numbers import Judging
from ...rules.schools import School, Verdict, moving_criterion, with_defaults
from .digest import Digest, Trial
from .record import Record
from .rising import has_risen


@dataclass(frozen=True)
class SchoolSays:
    """A school's answer: why it holds (`too_few`, `between`, `mid_block`), and its numbers.

    `because` are the attempts that made it say raise; `more` is how many more that fit would do,
    None where that cannot be said.
    """

    kind: School
    decision: Verdict
    reason: str
    numbers: Mapping[str, float] = field(default_factory=dict)
    because: tuple[Trial, ...] = ()
    more: int | None = None


@dataclass(frozen=True)
class Asked:
    """What a school is asked about."""

    record: Record
    quantity: Quantity | None
    numbers: Judging


def ask(rule: Mapping[str, Any], asked: Asked) -> SchoolSays:
    """What the school of a rule says of the record. Raises KeyError for an unknown one."""
    return _SCHOOLS[rule["kind"]](with_defaults(rule), asked)


def _run(rule: Mapping[str, Any], asked: Asked) -> SchoolSays:
    record, need, miss = asked.record, int(rule["need"]), int(rule["miss"])
    run, misses = record.run(True), record.run(False)
    said = {"run": run, "need": need, "misses": misses, "miss": miss}
    if run >= need > 0:
        return SchoolSays("run", "raise", "met", said, record.trials[-need:])
    if miss and misses >= miss:
        return SchoolSays("run", "lower", "failed", said)
    few = len(record.met) < need
    return SchoolSays("run", "hold", "too_few" if few else "between", said, more=need - run)


def _share(rule: Mapping[str, Any], asked: Asked) -> SchoolSays:
    record, window = asked.record, int(rule["window"])
    last = record.last(window)
    said: dict[str, float] = {"met": sum(last), "judged": len(last), "window": window}
    # A share of counts is compared as counts: 0.8 of 10 must not fail by a rounding crumb.
    above, below = rule["raise"] * window - 1e-9, rule["lower"] * window - 1e-9
    more = next((n for n in range(window + 1) if _is_enough(record.met, n, window, above)), None)
    if len(last) < window:
        return SchoolSays("share", "hold", "too_few", said, more=more)
    said["share"] = sum(last) / window
    if sum(last) >= above:
        return SchoolSays("share", "raise", "met", said, record.trials[-window:])
    if sum(last) < below:
        return SchoolSays("share", "lower", "failed", said)
    return SchoolSays("share", "hold", "between", said, more=more)


def _is_enough(met: tuple[bool, ...], more: int, window: int, above: float) -> bool:
    last = (*met, *[True] * more)[-window:]
    return len(last) == window and sum(last) >= above


def _block(rule: Mapping[str, Any], asked: Asked) -> SchoolSays:
    """Between block ends the last full block's answer stands, while the open one agrees."""
    record, size = asked.record, int(rule["size"])
    into = len(record.met) % size
    full = record.met[: len(record.met) - into][-size:]
    begun = record.met[len(record.met) - into :]
    said: dict[str, float] = {"into": into, "size": size, "met": sum(full)}
    said |= {"raise_at": rule["raise_at"], "lower_at": rule["lower_at"]}
    more = (size - into) if sum(begun) + size - into >= rule["raise_at"] else None
    if not full:
        return SchoolSays("block", "hold", "too_few", said, more=more)
    trials = record.trials[: len(record.trials) - into][-size:]
    if sum(full) >= rule["raise_at"] and all(begun):
        return SchoolSays("block", "raise", "met", said, trials)
    if sum(full) <= rule["lower_at"] and (not begun or 2 * sum(begun) < len(begun)):
        return SchoolSays("block", "lower", "failed", said)
    return SchoolSays("block", "hold", "mid_block" if into else "between", said, more=more)


def _percentile(rule: Mapping[str, Any], asked: Asked) -> SchoolSays:
    """The criterion moves within the step; past the step's target the next step comes."""
    window, quantity = int(rule["window"]), asked.quantity
    valued = [trial for trial in asked.record.trials if trial.value is not None]
    # Where less is better the scale is turned round, and the answer turned back.
    sign = -1.0 if quantity is not None and quantity.better == "less" else 1.0
    values = [sign * trial.value for trial in valued if trial.value is not None]
    criterion = moving_criterion(values, window, rule["w"])
    if criterion is None:
        said: dict[str, float] = {"values": len(values), "window": window}
        return SchoolSays("percentile", "hold", "too_few", said)
    said = {"criterion": sign * criterion, "window": window}
    if quantity is not None and quantity.target is not None:
        said["target"] = quantity.target
        if quantity.is_reached(sign * criterion):
            return SchoolSays("percentile", "raise", "met", said, tuple(valued[-window:]))
    return SchoolSays("percentile", "hold", "between", said)


def _comfort(rule: Mapping[str, Any], asked: Asked) -> SchoolSays:
    entries, wanted = asked.record.entries, int(rule["clean_sessions"])
    last = entries[-1].digest if entries else None
    clean = 0
    for entry in reversed(entries):
        if not _is_clean(entry.digest, asked.numbers):
            break
        clean += 1
    said: dict[str, float] = {"clean": clean, "clean_sessions": wanted}
    if last is not None and (last.signs[2] or last.signs[1] >= 2 or last.opt_outs >= 2):
        return SchoolSays("comfort", "lower", "failed", said)
    share = asked.record.share_of_last(asked.numbers.last_reps)
    if clean >= wanted and (share is None or share >= asked.numbers.good_share):
        because = [trial for entry in entries[-wanted:] for trial in entry.trials]
        return SchoolSays("comfort", "raise", "met", said, tuple(because))
    return SchoolSays("comfort", "hold", "too_few" if clean < wanted else "between", said)


def _is_clean(session: Digest, numbers: Judging) -> bool:
    at_ease = session.signs[1] + session.signs[2] + session.opt_outs == 0
    rose = has_risen(session.pauses, numbers) or has_risen(session.returns, numbers)
    return at_ease and not rose


_SCHOOLS: Mapping[str, Callable[[Mapping[str, Any], Asked], SchoolSays]] = {
    "run": _run,
    "share": _share,
    "block": _block,
    "percentile": _percentile,
    "comfort": _comfort,
}
