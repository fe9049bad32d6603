"""How far apart two people place the same mark, and how sure one person's marks are by that."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from .agreement import Agreement, Bias, limits_of_agreement

#: From fewer marks that both have nothing is said about how surely a kind is placed.
LEAST_MARKS = 5


@dataclass(frozen=True, slots=True)
class Placing:
    """One kind of mark, placed by two people: `bias_s` second minus first, seconds.

    `u_s` is the standard uncertainty of one person's mark, seconds; None below LEAST_MARKS.
    """

    kind: str
    bias_s: Bias
    u_s: float | None


def placing(kind: str, differences_s: Sequence[float]) -> Placing:
    """What the differences of matched marks, seconds, say about that kind."""
    enough = len(differences_s) >= LEAST_MARKS
    return Placing(
        kind, limits_of_agreement(differences_s), dahlberg(differences_s) if enough else None
    )


def dahlberg(differences_s: Sequence[float]) -> float:
    """The standard uncertainty of one of two placings, seconds: type A, from what was observed.

    The root of Σd²/2n (Dahlberg 1940, Statistical Methods for Medical and Biological Students;
    JCGM 100:2008, 4.2). A bias between the two stays in it: neither is the true one. Raises
    ValueError for no differences.
    """
    if not differences_s:
        raise ValueError("no differences")
    return math.sqrt(sum(d * d for d in differences_s) / (2 * len(differences_s)))


def differences_of(agreement: Agreement) -> dict[str, list[float]]:
    """The differences of matched marks by kind, seconds, second minus first."""
    return {kind: [m.difference_s for m in k.matches] for kind, k in agreement.kinds.items()}


def placed_u_s(differences_s: Mapping[str, Sequence[float]]) -> dict[str, float]:
    """By kind, the standard uncertainty of a person's mark, seconds; only where enough tells."""
    found = {kind: placing(kind, values).u_s for kind, values in differences_s.items()}
    return {kind: u for kind, u in found.items() if u is not None}
