"""All findings of a session as one document, under the keys of `docs/measures.md`."""

from .document import Findings, as_plain_values
from .measuring import MeasuredSession, measure, measure_session

__all__ = ["Findings", "MeasuredSession", "as_plain_values", "measure", "measure_session"]
