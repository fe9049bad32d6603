"""The language in which the core speaks: one so far; another is chosen here and nowhere else."""

from .english import judgement, next_session, remarks

__all__ = ["judgement", "next_session", "remarks"]
