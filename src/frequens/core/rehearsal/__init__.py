"""A simulated learner works through a plan: never a forecast, and never about one animal alone.

What the model leaves out stands in `LEFT_OUT`; whoever shows a rehearsal shows that with it.
"""

from .fitting import Fitted, Practice, fit
from .learner import DEFAULT, RANGES, Learner
from .rehearse import LEFT_OUT, Course, Rehearsal, Spread, rehearse, with_a_step_between

__all__ = [
    "DEFAULT",
    "LEFT_OUT",
    "RANGES",
    "Course",
    "Fitted",
    "Learner",
    "Practice",
    "Rehearsal",
    "Spread",
    "fit",
    "rehearse",
    "with_a_step_between",
]
