"""The language in which all of it speaks: one so far; another is chosen here and nowhere else."""

from .english import (
    calculators,
    calendar,
    exports,
    faults,
    films,
    judgement,
    judgement_numbers,
    limits,
    next_session,
    refusals,
    remarks,
    report,
)

__all__ = [
    "calculators",
    "calendar",
    "exports",
    "faults",
    "films",
    "judgement",
    "judgement_numbers",
    "limits",
    "next_session",
    "refusals",
    "remarks",
    "report",
]
