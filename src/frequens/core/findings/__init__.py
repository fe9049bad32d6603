"""All findings of a session as one document, under the keys of `docs/measures.md`."""

from .document import Findings, plain
from .measuring import MeasuredSession, measure, measure_session

__all__ = ["Findings", "MeasuredSession", "measure", "measure_session", "plain"]
