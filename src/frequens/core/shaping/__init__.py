"""Shaping plans: the flight of steps to a behaviour, and what can be said of it in words."""

from .document import InvalidPlan, read_shaping_plan, session_plan, steps_in_use
from .remarks import Learner, Remark, remarks
from .starters import STARTERS

__all__ = [
    "STARTERS",
    "InvalidPlan",
    "Learner",
    "Remark",
    "read_shaping_plan",
    "remarks",
    "session_plan",
    "steps_in_use",
]
