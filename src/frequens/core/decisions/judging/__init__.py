"""The judgement: what an expert beside the trainer would say, over sessions, the animal first.

`digest` brings one session into the short form the judgement works with, `judge` judges the last
of a behaviour's sessions in the light of those before. Everything in here is common practice, put
in rules so that it can be checked, changed and argued with; it has no source but use.
"""

from ...rules.judgement_numbers import NUMBERS, Judging
from .digest import Digest, digest, digest_by_hand
from .judge import Judgement, judge

__all__ = ["NUMBERS", "Digest", "Judgement", "Judging", "digest", "digest_by_hand", "judge"]
