"""Two reviewers of one film: what both saw, what only one saw, and how far apart they put it."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

from ..model.events import Event, SessionRecord, seconds, ticks
from ..statistics.summaries import COVERAGE, Z, wilson

TOLERANCE_S = 0.2
INTERVAL_S = 10.0


@dataclass(frozen=True, slots=True)
class Match:
    """One event both coded; `difference_s` is b minus a."""

    a: str
    b: str
    difference_s: float


@dataclass(frozen=True, slots=True)
class Bias:
    """Differences b minus a of matched times, seconds, with the 95 % limits of agreement.

    `mean_low` and `mean_high` are the 95 % interval of the mean itself.
    """

    n: int
    mean: float | None
    sd: float | None
    low: float | None
    high: float | None
    mean_low: float | None
    mean_high: float | None


@dataclass(frozen=True, slots=True)
class KindAgreement:
    """How two codings agree on one kind of event. Shares from 0 to 1, None where empty.

    `agreement` is 2M/(nA+nB), `agreement_low` and `agreement_high` its 95 % interval. The others
    count by intervals of 10 s; `scored_interval` looks at intervals where at least one coded it,
    `unscored_interval` where at least one did not.
    """

    a: int
    b: int
    matched: int
    agreement: float | None
    agreement_low: float | None
    agreement_high: float | None
    total_count: float | None
    mean_count_per_interval: float | None
    exact_count_per_interval: float | None
    scored_interval: float | None
    unscored_interval: float | None
    interval_by_interval: float | None
    bias_s: Bias
    only_a: tuple[str, ...]
    only_b: tuple[str, ...]
    matches: tuple[Match, ...]


@dataclass(frozen=True, slots=True)
class Kappa:
    """Cohen's kappa on `met` of matched attempts that both judged, with its 95 % interval."""

    n: int
    observed: float | None
    expected: float | None
    value: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class Agreement:
    """Two codings of one film side by side, by kind of event."""

    tolerance_s: float
    kinds: Mapping[str, KindAgreement]
    kappa_met: Kappa


def agree(a: SessionRecord, b: SessionRecord, tolerance_s: float = TOLERANCE_S) -> Agreement:
    """Compare two codings of the same film.

    Events of one kind match if their best estimates lie at most `tolerance_s` apart; as many
    as possible are matched, and among those ways the one of least total distance is taken.
    Raises ValueError for a negative or infinite tolerance.
    """
    if not (math.isfinite(tolerance_s) and tolerance_s >= 0):
        raise ValueError(f"tolerance_s must be a length of time, not {tolerance_s!r}")
    edges = _interval_edges(a, b)
    kinds: dict[str, KindAgreement] = {}
    judged: list[tuple[bool, bool]] = []
    for kind in sorted({e.kind for e in (*a.events, *b.events)}):
        of_a = [e for e in a.ordered if e.kind == kind]
        of_b = [e for e in b.ordered if e.kind == kind]
        pairs = list(match_events(of_a, of_b, tolerance_s))
        kinds[kind] = _kind_agreement(of_a, of_b, pairs, edges)
        judged += [
            (one.met, other.met)
            for one, other in pairs
            if one.met is not None and other.met is not None
        ]
    return Agreement(tolerance_s, kinds, cohen_kappa(judged))


def match_events(
    a: Sequence[Event], b: Sequence[Event], tolerance_s: float
) -> Iterator[tuple[Event, Event]]:
    """Pairs at most `tolerance_s` apart: as many as can be, then the nearest in all.

    Both in time order. Events further apart than the tolerance from all between them cannot
    influence each other, so each cluster is assigned on its own.
    """
    tolerance = ticks(tolerance_s)
    both = sorted([(e.best, 0, e) for e in a] + [(e.best, 1, e) for e in b], key=lambda x: x[:2])
    cluster: list[tuple[int, int, Event]] = []
    for entry in both:
        if cluster and entry[0] - cluster[-1][0] > tolerance:
            yield from _assigned(cluster, tolerance)
            cluster = []
        cluster.append(entry)
    yield from _assigned(cluster, tolerance)


def _assigned(
    cluster: Sequence[tuple[int, int, Event]], tolerance: int
) -> Iterator[tuple[Event, Event]]:
    of_a = [e for _, who, e in cluster if who == 0]
    of_b = [e for _, who, e in cluster if who == 1]
    if not of_a or not of_b:
        return
    apart = np.abs(
        np.array([e.best for e in of_a])[:, None] - np.array([e.best for e in of_b])[None, :]
    )
    allowed = apart <= tolerance
    # Takes longer to import than to use; a start does without it.
    from scipy.optimize import linear_sum_assignment

    # One more pair always outweighs any total distance.
    worth = (tolerance + 1) * (min(apart.shape) + 1)
    cost = np.where(allowed, apart - worth, 0)
    for row, column in zip(*linear_sum_assignment(cost), strict=True):
        if allowed[row, column]:
            yield of_a[row], of_b[column]


def _interval_edges(a: SessionRecord, b: SessionRecord) -> list[int]:
    """Edges of intervals of 10 s over what both reviewed; the last one may be short."""
    starts = [r.session.start_s for r in (a, b) if r.session.start_s is not None]
    ends = [r.session.end_s for r in (a, b) if r.session.end_s is not None]
    ends += [r.recording.duration_s for r in (a, b) if r.recording.duration_s and not ends]
    last = max((e.best for r in (a, b) for e in r.events), default=0)
    start = ticks(min(starts, default=0.0))
    end = max(ticks(max(ends, default=0.0)), last, start)
    return [*range(start, max(end, start + 1), ticks(INTERVAL_S)), end]


def _per_interval(events: Sequence[Event], edges: Sequence[int]) -> list[int]:
    counts = [0] * (len(edges) - 1)
    for event in events:
        place = int(np.searchsorted(edges, event.best, side="right")) - 1
        counts[min(max(place, 0), len(counts) - 1)] += 1
    return counts


def _ratio(one: int, other: int) -> float:
    return min(one, other) / max(one, other) if one or other else 1.0


def _mean(values: Sequence[float]) -> float | None:
    return sum(values) / len(values) if values else None


def _kind_agreement(
    of_a: Sequence[Event],
    of_b: Sequence[Event],
    pairs: Sequence[tuple[Event, Event]],
    edges: Sequence[int],
) -> KindAgreement:
    counts = list(zip(_per_interval(of_a, edges), _per_interval(of_b, edges), strict=True))
    matches = tuple(Match(x.id, y.id, seconds(y.best - x.best)) for x, y in pairs)
    found_a, found_b = {x.id for x, _ in pairs}, {y.id for _, y in pairs}
    share = agreed(len(pairs), len(of_a), len(of_b))
    return KindAgreement(
        a=len(of_a),
        b=len(of_b),
        matched=len(pairs),
        agreement=share.value,
        agreement_low=share.low,
        agreement_high=share.high,
        total_count=_ratio(len(of_a), len(of_b)),
        mean_count_per_interval=_mean([_ratio(x, y) for x, y in counts]),
        exact_count_per_interval=_mean([float(x == y) for x, y in counts]),
        scored_interval=_mean([float(bool(x and y)) for x, y in counts if x or y]),
        unscored_interval=_mean([float(not x and not y) for x, y in counts if not x or not y]),
        interval_by_interval=_mean([float(bool(x) == bool(y)) for x, y in counts]),
        bias_s=limits_of_agreement([m.difference_s for m in matches]),
        only_a=tuple(e.id for e in of_a if e.id not in found_a),
        only_b=tuple(e.id for e in of_b if e.id not in found_b),
        matches=matches,
    )


@dataclass(frozen=True, slots=True)
class Agreed:
    """The share 2M/(nA+nB) with its 95 % interval; None where neither coded anything."""

    value: float | None
    low: float | None
    high: float | None


def agreed(matched: int, a: int, b: int) -> Agreed:
    """How much of what either coded both did.

    Dice (1945), Ecology 26:297-302. It rises and falls with the share J that both have of all
    there is, as 2J/(1+J): so its interval is that of J by Wilson, bent the same way. Raises
    ValueError where more were matched than either has.
    """
    if not 0 <= matched <= min(a, b):
        raise ValueError(f"matched must lie in 0..{min(a, b)}, not {matched}")
    of = wilson(matched, a + b - matched)
    bent = [None if j is None else 2 * j / (1 + j) for j in (of.share, of.low, of.high)]
    return Agreed(*bent)


def limits_of_agreement(differences: Sequence[float]) -> Bias:
    """Mean difference and the 95 % limits, mean ± 1.96 sd.

    Bland & Altman (1986), The Lancet 327:307-310; the interval of the mean by Student's t.
    """
    n = len(differences)
    if n == 0:
        return Bias(0, None, None, None, None, None, None)
    mean = sum(differences) / n
    if n == 1:
        return Bias(1, mean, None, None, None, None, None)
    sd = math.sqrt(sum((d - mean) ** 2 for d in differences) / (n - 1))
    half = float(special.stdtrit(n - 1, 0.5 + COVERAGE / 2)) * sd / math.sqrt(n)
    return Bias(n, mean, sd, mean - Z * sd, mean + Z * sd, mean - half, mean + half)


def cohen_kappa(judged: Sequence[tuple[bool, bool]]) -> Kappa:
    """Agreement on yes and no beyond chance.

    Cohen (1960), Educational and Psychological Measurement 20:37-46; the interval by Fleiss,
    Cohen & Everitt (1969), Psychological Bulletin 72:323-327. Theirs has no width where both
    always agreed; then it is that of the share agreed on by Wilson, chance held as it is. None
    where chance alone explains everything (both always say the same one thing).
    """
    n = len(judged)
    if n == 0:
        return Kappa(0, None, None, None, None, None)
    table = Counter(judged)
    yes_a = sum(count for (one, _), count in table.items() if one) / n
    yes_b = sum(count for (_, other), count in table.items() if other) / n
    observed = (table[True, True] + table[False, False]) / n
    expected = yes_a * yes_b + (1 - yes_a) * (1 - yes_b)
    if expected == 1:
        return Kappa(n, observed, expected, None, None, None)
    value = (observed - expected) / (1 - expected)
    if observed == 1:
        least = wilson(n, n).low or 0.0
        return Kappa(n, observed, expected, value, (least - expected) / (1 - expected), 1.0)
    half = Z * math.sqrt(_kappa_variance(table, n, value, expected))
    return Kappa(n, observed, expected, value, max(-1.0, value - half), min(1.0, value + half))


def _kappa_variance(
    table: Mapping[tuple[bool, bool], int], n: int, kappa: float, expected: float
) -> float:
    share = {(x, y): table.get((x, y), 0) / n for x in (True, False) for y in (True, False)}
    a = {x: share[x, True] + share[x, False] for x in (True, False)}
    b = {y: share[True, y] + share[False, y] for y in (True, False)}
    same = sum(share[x, x] * (1 - (a[x] + b[x]) * (1 - kappa)) ** 2 for x in (True, False))
    apart = sum(share[x, not x] * (b[x] + a[not x]) ** 2 for x in (True, False))
    chance = (kappa - expected * (1 - kappa)) ** 2
    spread = same + (1 - kappa) ** 2 * apart - chance
    # Rounding must not make it less than nothing.
    return max(0.0, spread) / (n * (1 - expected) ** 2)
