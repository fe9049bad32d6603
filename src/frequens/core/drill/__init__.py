"""The timing drill: one's own lag and its spread, on a drawn animal or on one's own films.

All times are seconds from the drill's beginning unless said otherwise.
"""

from .acts import Act, Moved, draw_acts
from .curve import WeeklyChange, change
from .delays import By, Delays, delays_of
from .from_film import FilmedRep, FilmedSession, Piece, draw_pieces
from .levels import (
    HOLD_S,
    INSTANTS,
    LEVELS,
    Advice,
    Difficulty,
    Instant,
    LevelKey,
    Ran,
    advise,
    level_of,
)
from .scoring import Lag, Score, Shown, Window, score, usual_lag
from .windows import windows_of

__all__ = [
    "HOLD_S",
    "INSTANTS",
    "LEVELS",
    "Act",
    "Advice",
    "By",
    "Delays",
    "Difficulty",
    "FilmedRep",
    "FilmedSession",
    "Instant",
    "Lag",
    "LevelKey",
    "Moved",
    "Piece",
    "Ran",
    "Score",
    "Shown",
    "WeeklyChange",
    "Window",
    "advise",
    "change",
    "delays_of",
    "draw_acts",
    "draw_pieces",
    "level_of",
    "score",
    "usual_lag",
    "windows_of",
]
