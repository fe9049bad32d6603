"""The `frequens-session` document, version 1: reading with every fault named, and writing."""

from .by_hand import BY_HAND_READERS, read_hand_signs
from .document import FORMAT, VERSION, read_session, write_session
from .events import read_event, write_event
from .facts import read_settings
from .plan import STEP_READERS, read_cues, read_placement, read_plan, read_prompts, read_rule
from .shared import MOST_STEPS, InvalidSession, flag

__all__ = [
    "BY_HAND_READERS",
    "FORMAT",
    "MOST_STEPS",
    "STEP_READERS",
    "VERSION",
    "InvalidSession",
    "flag",
    "read_cues",
    "read_event",
    "read_hand_signs",
    "read_placement",
    "read_plan",
    "read_prompts",
    "read_rule",
    "read_session",
    "read_settings",
    "write_event",
    "write_session",
]
