"""Shaping plans: the flight of steps to a behaviour, and what can be said of it in words."""

from .document import InvalidPlan, read_shaping_plan, session_plan, step_in_use, steps_in_use
from .limits import LIMITS, Limit
from .plan_types import PlanDocument
from .remarks import Learner, Remark, remarks
from .starters import STARTERS

__all__ = [
    "LIMITS",
    "STARTERS",
    "InvalidPlan",
    "Learner",
    "Limit",
    "PlanDocument",
    "Remark",
    "read_shaping_plan",
    "remarks",
    "session_plan",
    "step_in_use",
    "steps_in_use",
]
