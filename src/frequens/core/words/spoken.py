"""The language in which the core speaks: one so far; another is chosen here and nowhere else."""

from .english import calculators, judgement, judgement_numbers, limits, next_session, remarks

__all__ = ["calculators", "judgement", "judgement_numbers", "limits", "next_session", "remarks"]
