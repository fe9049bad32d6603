"""Heard clicks: where in the sound a clicker may have been pressed, ranked.

A suggestion is a place to look, never a mark. Scores order the suggestions of one film; they
are no probabilities.

`Listener` finds candidates in the sound as it comes, `rank` orders them: what each is by
itself, how like the film's best, and how like what the reviewer has confirmed or refused.
"""

from .candidates import Candidates, Listener, find_candidates
from .presses import presses_in
from .ranking import MERGE_S, WIDTH_S, Ranking, Sound, rank

__all__ = [
    "MERGE_S",
    "WIDTH_S",
    "Candidates",
    "Listener",
    "Ranking",
    "Sound",
    "find_candidates",
    "presses_in",
    "rank",
]
