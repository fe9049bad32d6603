"""The computing core: plain values in, plain values out.

Nothing here knows Django, files, clocks or the network. `read_session` turns a
`frequens-session` document into values, `write_session` turns them back, and
`measure` computes the findings.
"""

from .findings import measure
from .formats.session_document import InvalidSession, read_session, write_session
from .model.events import (
    Approximation,
    Event,
    Plan,
    Recording,
    SessionFacts,
    SessionRecord,
    Settings,
)

__all__ = [
    "Approximation",
    "Event",
    "InvalidSession",
    "Plan",
    "Recording",
    "SessionFacts",
    "SessionRecord",
    "Settings",
    "measure",
    "read_session",
    "write_session",
]
