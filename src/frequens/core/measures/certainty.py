"""No surer than it is: intervals and chances that take account of how reps and rewards really come.

Planned rewards come more evenly than by chance, handfuls less; fits and misses come in clusters.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from scipy import special

from ..statistics.summaries import Z, poisson_rate
from .rates import DrySpells
from .responding import StimulusControl

#: Fewer gaps do not tell how evenly the pay came; fewer reps not whether fits cluster.
LEAST_GAPS, LEAST_REPS = 10, 20
#: Evenness that ten gaps cannot prove.
LEAST_DISPERSION = 0.05


@dataclass(frozen=True, slots=True)
class Pay:
    """Reinforcements a minute with a 95 % interval for the true rate.

    `dispersion` is variance over mean of the counts, from the gaps between reinforcements: under 1
    they came more evenly than by chance. `way` says what the interval rests on: ``gaps``, or
    ``chance`` (Garwood 1936) where there are too few.
    """

    per_min: float | None
    low: float | None
    high: float | None
    dispersion: float | None
    way: Literal["gaps", "chance"]


@dataclass(frozen=True, slots=True)
class Fits:
    """Wilson's interval of the share of fits for as many independent reps as they are worth.

    `lag1` is the correlation of each judged rep with the next, None below 20 reps or where all
    were alike; `effective` the number of independent reps, at most the number judged.
    """

    low: float | None
    high: float | None
    lag1: float | None
    effective: float


@dataclass(frozen=True, slots=True)
class Apart:
    """The 95 % interval of d′; None where there is no d′."""

    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class Certainty:
    """`signs_p` is the chance of so many more signs in the last third than in the first, one-sided;
    `dry_by_chance` that a wait as long as the longest comes in such a session by chance alone.
    """

    pay: Pay
    fits: Fits
    d_prime: Apart
    signs_p: float | None
    dry_by_chance: float | None


def pay(instants: Sequence[float], minutes: float) -> Pay:
    """The rate of reinforcements at these instants of training time, seconds.

    Counts of a renewal process vary as the square of the gaps' coefficient of variation (Cox 1962,
    Renewal Theory, section 4.2), widened by the correlation of neighbouring gaps; Student's t.
    """
    count = len(instants)
    plain = poisson_rate(count, minutes)
    gaps = [b - a for a, b in pairwise(instants)]
    if minutes <= 0 or len(gaps) < LEAST_GAPS or sum(gaps) <= 0:
        return Pay(plain.value, plain.low, plain.high, None, "chance")
    mean = sum(gaps) / len(gaps)
    variance = sum((gap - mean) ** 2 for gap in gaps) / (len(gaps) - 1)
    correlation = _lag1(gaps) or 0.0
    dispersion = max(LEAST_DISPERSION, variance / mean**2 * max(0.2, 1 + 2 * correlation))
    half = float(special.stdtrit(len(gaps) - 1, 0.975)) * math.sqrt(count * dispersion)
    low, high = max(0.0, count - half) / minutes, (count + half) / minutes
    return Pay(plain.value, low, high, dispersion, "gaps")


def fits(met: Sequence[bool]) -> Fits:
    """The interval of a share whose reps may not be independent.

    n (1 - r) / (1 + r) for a correlation r of neighbours (Bartlett 1935, JRSS 98:536-543); reps
    that alternate are taken as they are.
    """
    count = len(met)
    lag1 = _lag1([float(m) for m in met]) if count >= LEAST_REPS else None
    rho = max(0.0, lag1 or 0.0)
    effective = count * (1 - rho) / (1 + rho)
    if effective <= 0:
        return Fits(None, None, lag1, effective)
    share = sum(met) / count
    scale = 1 + Z * Z / effective
    centre = (share + Z * Z / (2 * effective)) / scale
    spread = share * (1 - share) / effective + Z * Z / (4 * effective**2)
    half = Z * math.sqrt(spread) / scale
    return Fits(max(0.0, centre - half), min(1.0, centre + half), lag1, effective)


def apart(control: StimulusControl) -> Apart:
    """Gourevitch and Galanter (1967), Psychometrika 32:25-33, with the log-linear rates."""
    if control.d_prime is None:
        return Apart(None, None)
    asked = control.hit + control.wrong + control.miss
    waits = control.false_alarm + control.correct_rejection
    variance = sum(
        p * (1 - p) / (n * _density(float(special.ndtri(p))) ** 2)
        for p, n in (
            ((control.hit + 0.5) / (asked + 1), asked + 1),
            ((control.false_alarm + 0.5) / (waits + 1), waits + 1),
        )
    )
    half = Z * math.sqrt(variance)
    return Apart(control.d_prime - half, control.d_prime + half)


def more_signs_p(first: int, last: int) -> float | None:
    """The chance of at least `last` of all of them in the last third, were both thirds alike."""
    total = first + last
    return float(special.bdtrc(last - 1, total, 0.5)) if total and last else None


def dry_by_chance(dry: DrySpells, per_min: float | None, count: int) -> float | None:
    """The chance of one gap as long as the longest among so many that come at random."""
    if dry.longest_s is None or not per_min or count < 2:
        return None
    return float(1 - (1 - math.exp(-per_min * dry.longest_s / 60)) ** (count + 1))


def _density(z: float) -> float:
    return math.exp(-z * z / 2) / math.sqrt(2 * math.pi)


def _lag1(values: Sequence[float]) -> float | None:
    """The correlation of each value with the next one; None where all are alike."""
    mean = sum(values) / len(values)
    spread = sum((v - mean) ** 2 for v in values)
    if spread == 0:
        return None
    pairs = pairwise(values)
    return sum((a - mean) * (b - mean) for a, b in pairs) / spread
