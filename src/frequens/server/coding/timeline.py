"""A session's clips one after another: where a frame of one lies on the session's own time."""

from __future__ import annotations

import itertools
from bisect import bisect_right
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from frequens.core import Event, InvalidSession
from frequens.core.model.events import MICROSECONDS
from frequens.core.reading.document_values import fault_at
from frequens.media.decode.frames import FrameIndex

from ..library.sessions import TrainingSession

#: Between two clips the camera was off. How long nobody knows: it is written as one second, so
#: that a mark on a clip's first frame, which reaches back half a frame, is not in the one before.
GAP_US = 1_000_000


@dataclass(frozen=True)
class Clip:
    """One film of a session: its frames and where it begins, microseconds."""

    film_id: str
    index: FrameIndex
    start_us: int

    @property
    def end_us(self) -> int:
        return self.start_us + self.index.duration_us


@dataclass(frozen=True)
class Timeline:
    """The clips of a session in their order; none for a session without a film."""

    clips: tuple[Clip, ...]

    @classmethod
    def of(cls, session: TrainingSession) -> Timeline:
        """The session's timeline as its films are now."""
        films = session.clips
        indexes = [film.index for film in films]
        steps = (index.duration_us + GAP_US for index in indexes)
        starts = itertools.accumulate(steps, initial=0)
        return cls(
            tuple(
                Clip(str(film.pk), index, start)
                for film, index, start in zip(films, indexes, starts, strict=False)
            )
        )

    @property
    def duration_us(self) -> int | None:
        """All clips together; None without one."""
        return self.clips[-1].end_us if self.clips else None

    def clip_of(self, stored: Mapping[str, Any]) -> Clip:
        """The clip a stored event stands on; one that names none stands on the first.

        Raises InvalidSession where there is no such clip.
        """
        if not self.clips:
            raise InvalidSession([fault_at("event.frame", "no_film")])
        wanted = stored.get("clip", self.clips[0].film_id)
        for clip in self.clips:
            if clip.film_id == wanted:
                return clip
        raise InvalidSession([fault_at("event.clip", "no_such_clip", value=repr(wanted))])

    def document_event(self, stored: Mapping[str, Any]) -> dict[str, Any]:
        """A stored event as the document writes it: a frame becomes its time and width.

        Raises InvalidSession for a clip or frame that is not there.
        """
        event = dict(stored)
        event.pop("clip", None)
        event.pop("clock", None)
        if "frame" not in event:
            return event
        frame, pts = event.pop("frame"), event.pop("pts", None)
        clip = self.clip_of(stored)
        index = clip.index
        if not isinstance(frame, int) or not 0 <= frame < len(index):
            limits = {"low": 0, "high": len(index) - 1}
            raise InvalidSession(
                [fault_at("event.frame", "out_of_range", **limits, given=repr(frame))]
            )
        if pts != index.pts[frame]:
            raise InvalidSession(
                [
                    fault_at(
                        "event.pts",
                        "other_pts",
                        frame=frame,
                        pts=str(index.pts[frame]),
                        value=repr(pts),
                    )
                ]
            )
        event["t"] = (clip.start_us + index.times_us[frame]) / MICROSECONDS
        event["width"] = index.width_us(frame) / MICROSECONDS
        event.setdefault("source", "video")
        return event

    def stored_event(self, event: Mapping[str, Any]) -> dict[str, Any]:
        """A document's event as it is stored: a picture's mark finds its frame again."""
        stored = dict(event)
        if not self.clips or event.get("source") != "video":
            return stored
        t_us, width_us = (round(event.get(key, 0) * MICROSECONDS) for key in ("t", "width"))
        place = bisect_right([clip.start_us for clip in self.clips], t_us) - 1
        clip = self.clips[max(0, place)]
        frame = clip.index.first_after(t_us - clip.start_us)
        if (
            clip.start_us + clip.index.times_us[frame] == t_us
            and clip.index.width_us(frame) == width_us
        ):
            for key in ("t", "width"):
                stored.pop(key, None)
            stored |= {"frame": frame, "pts": clip.index.pts[frame]}
            if place > 0:
                stored["clip"] = clip.film_id
        return stored

    @property
    def break_ids(self) -> frozenset[str]:
        """The ids `breaks` may use: an import that brings them back needs none of them."""
        numbers = range(1, len(self.clips) + 1)
        return frozenset(f"clip-{n}-{end}" for n in numbers for end in ("start", "end"))

    def breaks(self, events: list[Event]) -> list[Event]:
        """Ends and beginnings of work where one clip ends and the next begins.

        Between clips the camera was off: that is no training time, and no rep reaches from
        one into the other. Bouts the reviewer marked are cut there, and none is added to a
        break of theirs. Without any, each clip is a bout.
        """
        marked = sorted(
            (e for e in events if e.kind in ("bout_start", "bout_end")), key=lambda e: e.best
        )
        made: list[Event] = []
        for number, (clip, after) in enumerate(itertools.pairwise(self.clips)):
            at = after.start_us - after.index.nominal_us
            before = [e for e in marked if e.best <= 2 * at]
            if marked and not (before and before[-1].kind == "bout_start"):
                continue
            made.append(Event(f"clip-{number + 1}-end", "bout_end", clip.end_us))
            made.append(Event(f"clip-{number + 2}-start", "bout_start", at))
        if made and not marked:
            made.insert(0, Event("clip-1-start", "bout_start", 0))
        return made
