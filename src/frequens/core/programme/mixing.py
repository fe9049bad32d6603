"""An order nobody can foresee: each kind as often as asked for, and few alike in a row."""

from __future__ import annotations

import random
from collections.abc import Mapping, Sequence

#: What an animal may meet alike in a row before it counts on it (common practice).
MOST_ALIKE = 3


def least_alike(counts: Mapping[str, int]) -> int:
    """The shortest run that cannot be avoided: of the most frequent kind, spread by the others.

    With n of it among m others there are m + 1 gaps, and one of them takes ceil(n / (m + 1)).
    """
    most = max(counts.values(), default=0)
    others = sum(counts.values()) - most
    return -(-most // (others + 1))


def mixed_order(
    counts: Mapping[str, int],
    seed: int,
    most_alike: int = MOST_ALIKE,
    first: str | None = None,
) -> tuple[str, ...]:
    """Every kind as often as `counts` says, in an order drawn from `seed`.

    Never more than `most_alike` alike in a row, or, where so many of one kind leave no choice,
    than `least_alike`. Each order that keeps to this can come. It begins with the kind `first`
    where that is given, is among them and leaves the rest its place. Raises ValueError for a count
    below 0 and for `most_alike` below 1.
    """
    if any(count < 0 for count in counts.values()):
        raise ValueError("counts must not be negative")
    if most_alike < 1:
        raise ValueError(f"most_alike must be at least 1, not {most_alike}")
    limit = max(most_alike, least_alike(counts))
    chance = random.Random(seed)
    left = {kind: count for kind, count in counts.items() if count}
    order: list[str] = []
    while left:
        # Drawn by how many are left, from those after which the rest still has its place.
        kinds = [kind for kind in left if _can_follow(order, kind, left, limit)]
        if not order and first in kinds:
            kinds = [first]
        kind = chance.choices(kinds, [left[kind] for kind in kinds])[0]
        order.append(kind)
        left[kind] -= 1
        if not left[kind]:
            del left[kind]
    return tuple(order)


def _can_follow(order: Sequence[str], kind: str, left: Mapping[str, int], limit: int) -> bool:
    run = _run_at_end(order, kind) + 1
    if run > limit:
        return False
    rest = {**left, kind: left[kind] - 1}
    total = sum(rest.values())
    for other, count in rest.items():
        # The run under way takes of the first gap what it has had.
        room = limit * (total - count + 1) - (run if other == kind else 0)
        if count > room:
            return False
    return True


def _run_at_end(order: Sequence[str], kind: str) -> int:
    run = 0
    for one in reversed(order):
        if one != kind:
            break
        run += 1
    return run
