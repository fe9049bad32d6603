"""The language in which the core speaks: one so far; another is chosen here and nowhere else."""

from .english import (
    calculators,
    calendar,
    judgement,
    judgement_numbers,
    limits,
    next_session,
    remarks,
    report,
)

__all__ = [
    "calculators",
    "calendar",
    "judgement",
    "judgement_numbers",
    "limits",
    "next_session",
    "remarks",
    "report",
]
