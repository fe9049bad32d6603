"""Days as an iCalendar file (RFC 5545), for calendar programs."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Entry:
    """One entry: of whole days where `begin` and `end` are dates, else in local time.

    `uid` stays the same when the entry changes, and is nobody else's.
    """

    uid: str
    begin: dt.date
    end: dt.date
    summary: str
    description: str | None = None


def calendar_file(
    entries: Iterable[Entry],
    now: dt.datetime,
    product: str,
    name: str | None = None,
    refresh: dt.timedelta | None = None,
) -> bytes:
    """The entries as one file. `refresh` is after how long a subscriber asks again."""
    # Takes longer to import than to use; a start does without it.
    from icalendar import Calendar, Event

    calendar = Calendar()
    calendar.add("prodid", f"-//Frequens//{product}//EN")
    calendar.add("version", "2.0")
    if name is not None:
        calendar.add("x-wr-calname", name)
    if refresh is not None:
        calendar.add("refresh-interval", refresh)
    for entry in entries:
        event = Event()
        event.add("uid", f"{entry.uid}@frequens")
        event.add("dtstamp", now)
        event.add("dtstart", entry.begin)
        event.add("dtend", entry.end)
        event.add("summary", entry.summary)
        if entry.description is not None:
            event.add("description", entry.description)
        if not isinstance(entry.begin, dt.datetime):
            # A day on which something is trained is no day one is away.
            event.add("transp", "TRANSPARENT")
        calendar.add_component(event)
    body: bytes = calendar.to_ical()
    return body
