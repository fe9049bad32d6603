"""Slow motion: films whose pictures were taken faster than they are shown.

Some phones write such a film to be played slowly and say under a key of their own how fast they
took the pictures (common practice). Training is measured in real time, so it has to be known.
"""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction

#: The last two parts of the key that holds the rate at which pictures were taken.
_KEY = "capture.fps"
#: A ratio this near to a whole number is that number.
NEAR = 0.03
MOST = 32


def slowed_by(metadata: Mapping[str, str], shown_rate: Fraction | None) -> int:
    """How many times slower than life the film plays; 1 where it does not say so."""
    said = next((v for key, v in metadata.items() if key.lower().endswith(_KEY)), None)
    if said is None or not shown_rate:
        return 1
    try:
        ratio = float(said) / float(shown_rate)
    except ValueError:
        return 1
    if not 1.5 <= ratio <= MOST + 0.5:
        return 1
    times = round(ratio)
    return times if abs(ratio - times) <= NEAR * times else 1
