"""Planning arithmetic: the numbers a trainer would otherwise work out on paper.

Every plan comes with the practice it follows and the caution that belongs to it. Numbers
marked common practice have no source but use; all can be changed by the arguments.
"""

from .clock import clock_orders, side_allotment
from .ladders import (
    distance_ladder,
    duration_plan,
    height_from_withers,
    height_ladder,
    jump_span,
    numeric_ladder,
)
from .preparing import placement_budget, prepare_rewards
from .schedules import dose_plan
from .transfer import chain_plan, cue_transfer, lure_fading

__all__ = [
    "chain_plan",
    "clock_orders",
    "cue_transfer",
    "distance_ladder",
    "dose_plan",
    "duration_plan",
    "height_from_withers",
    "height_ladder",
    "jump_span",
    "lure_fading",
    "numeric_ladder",
    "placement_budget",
    "prepare_rewards",
    "side_allotment",
]
