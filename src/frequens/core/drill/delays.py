"""How much of a lag is the machine's: the display's, the key's; estimated, not measured.

The tap pass takes the whole lag off, as the same display and keys are in it there. In the yard
there are none, and what is left is the trainer's own.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from ..statistics.summaries import Summary, Z

#: What was pressed.
By = Literal["key", "pointer", "touch", "clicker"]

#: Least and most delay until a press is told to the page, seconds: from memory of published
#: measurements of keyboards, mice and touch screens (Plant & Turner 2009, Behavior Research
#: Methods 41:598-614; Bridges et al. 2020, PeerJ 8:e9414). A clicker is heard through the
#: microphone's buffers.
_PRESS_S: Mapping[By, tuple[float, float]] = {
    "key": (0.005, 0.035),
    "pointer": (0.002, 0.020),
    "touch": (0.030, 0.090),
    "clicker": (0.005, 0.050),
}
#: What is drawn in a frame's callback is seen one or two refreshes later.
_REFRESHES = (1.0, 2.0)


@dataclass(frozen=True, slots=True)
class Estimate:
    """A delay in seconds, with its standard uncertainty."""

    value_s: float
    u_s: float


@dataclass(frozen=True, slots=True)
class Delays:
    """The parts of a lag: the display's, the press's, and the trainer's own (None: too few)."""

    display: Estimate
    press: Estimate
    own: Estimate | None


def delays_of(lag_s: Summary, frame_s: float, by: By) -> Delays:
    """What of a lag the machine took. `frame_s` is the display's time for a frame, seconds.

    Between two bounds nothing is likelier than anything else: half the range over the root of
    three (JCGM 100:2008, 4.3.7). The lag's own uncertainty is its median's interval over 2 x 1.96.
    """
    display = _between(*(frame_s * refreshes for refreshes in _REFRESHES))
    press = _between(*_PRESS_S[by])
    if lag_s.median is None or lag_s.median_low is None or lag_s.median_high is None:
        return Delays(display, press, None)
    median_u = (lag_s.median_high - lag_s.median_low) / (2 * Z)
    return Delays(
        display,
        press,
        Estimate(
            lag_s.median - display.value_s - press.value_s,
            math.hypot(median_u, display.u_s, press.u_s),
        ),
    )


def _between(low: float, high: float) -> Estimate:
    return Estimate((low + high) / 2, (high - low) / 2 / math.sqrt(3))
