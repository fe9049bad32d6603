"""Which marker belongs to which attempt, which only repeats another, and which paid a wait."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence

from ..model.bouts import TrainingClock
from ..model.events import Event, SessionRecord, seconds, ticks, uncertainty_of_difference
from ..model.reps import Attempt, MarkerUse
from ..model.uncued import Windows


def link_markers(
    record: SessionRecord, clock: TrainingClock, windows: Windows, attempts: Sequence[Attempt]
) -> list[MarkerUse]:
    """Uses of all event and keep-going markers, in time order."""
    uses = [MarkerUse(e) for e in record.of_kind("marker") if e.marker != "no_reward"]
    linking = _Linking(record, clock, windows, attempts)
    linking.link_named([u for u in uses if u.marker.marker == "event"])
    by_id = {use.marker.id: use for use in uses}
    for event in record.ordered:
        if event.kind == "onset":
            linking.onset_passed(event)
        elif event.kind == "reward":
            linking.bases.clear()
        elif event.id in by_id:
            if event.marker == "event":
                linking.link(by_id[event.id])
            else:
                linking.link_keep_going(by_id[event.id])
    return uses


class _Linking:
    """Goes through the markers in time order; what has passed is known, what comes is not used."""

    def __init__(
        self,
        record: SessionRecord,
        clock: TrainingClock,
        windows: Windows,
        attempts: Sequence[Attempt],
    ):
        settings = record.settings
        self.clock, self.windows, self.attempts = clock, windows, attempts
        self.anticipation = ticks(settings.anticipation_s)
        self.window = ticks(settings.link_window_s)
        self.repeat = ticks(settings.repeat_s)
        self.onsets = [a.onset.best for a in attempts]
        self.by_onset = {a.onset.id: a for a in attempts}
        #: How far past its onset a target can lie; bounds the look back.
        self.reach = max((a.aim - a.onset.best for a in attempts), default=0)
        self.last_marked = -1
        #: The latest attempt whose onset has passed.
        self.in_progress: Attempt | None = None
        #: First and further markers and paid waits with no onset and no reward since.
        self.bases: list[MarkerUse] = []
        self.linked_first: dict[str, MarkerUse] = {}

    def link_named(self, uses: Sequence[MarkerUse]) -> None:
        """The earliest marker linked to an onset is its first; for now nothing else."""
        for use in uses:
            if use.marker.link is not None and use.marker.link not in self.linked_first:
                self.linked_first[use.marker.link] = use
                self.by_onset[use.marker.link].marker = use.marker

    def onset_passed(self, onset: Event) -> None:
        self.in_progress = self.by_onset[onset.id]
        self.bases.clear()

    def link(self, use: MarkerUse) -> None:
        """Find the place of the next event marker."""
        link = use.marker.link
        if link is not None:
            self._link_to(use, self.by_onset[link])
            return
        current = self._current(use.marker)
        if current is not None and self._comes_before_its_linked_first(use, current):
            self._make_first(use, current)
        elif self._is_paid_wait(use, current):
            use.is_paid_wait = True
            self.bases.append(use)
        elif (nearest := self._nearest(use.marker)) is not None:
            self._make_first(use, nearest)
        elif (base := self._repeated_by(use, self.bases)) is not None:
            use.repeats = base
        elif (rep := self._takes_further(use.marker)) is not None:
            self._make_further(use, rep)

    def _link_to(self, use: MarkerUse, attempt: Attempt) -> None:
        if attempt.marker is None or attempt.marker is use.marker:
            self._make_first(use, attempt)
            return
        own = [base for base in self.bases if base.attempt is attempt]
        base = self._repeated_by(use, own)
        if base is not None:
            use.repeats = base
        else:
            self._make_further(use, attempt)

    def _make_first(self, use: MarkerUse, attempt: Attempt) -> None:
        use.attempt, attempt.marker = attempt, use.marker
        self.last_marked = max(self.last_marked, attempt.place)
        self.bases.append(use)

    def _make_further(self, use: MarkerUse, attempt: Attempt) -> None:
        use.attempt, use.is_further = attempt, True
        attempt.further.append(use.marker)
        self.bases.append(use)

    def _current(self, marker: Event) -> Attempt | None:
        """The attempt in progress: the latest onset before, in the same bout."""
        current = self.in_progress
        if current is None or current.bout != self.clock.bout_of(marker.best):
            return None
        return current

    def _comes_before_its_linked_first(self, use: MarkerUse, attempt: Attempt) -> bool:
        first = self.linked_first.get(attempt.onset.id)
        return first is not None and first.marker is attempt.marker and first.attempt is None

    def _is_paid_wait(self, use: MarkerUse, current: Attempt | None) -> bool:
        window = self.windows.near(use.marker)
        if window is None or self._repeated_by(use, self.bases) is not None:
            return False
        latest = self.in_progress
        if latest is not None and latest.onset.best >= window.start:
            return False
        if current is None:
            return True
        end = current.coded_end
        return end is None or use.marker.best > end.best

    def _repeated_by(self, use: MarkerUse, bases: Sequence[MarkerUse]) -> MarkerUse | None:
        """The latest of these markers, where the one at hand only repeats it."""
        base = bases[-1] if bases else None
        if base is None or use.marker.best - base.marker.best > self.repeat:
            return None
        return base

    def _nearest(self, marker: Event) -> Attempt | None:
        """Rule 4: the nearest attempt that may take it, the earlier at a tie."""
        at = marker.best
        bout = self.clock.bout_of(at)
        nearest: Attempt | None = None
        place = bisect_right(self.onsets, at + self.anticipation) - 1
        while place > self.last_marked:
            attempt = self.attempts[place]
            if (
                attempt.marker is None
                and attempt.bout == bout
                and at - attempt.latest_known <= self.window
                and (nearest is None or abs(at - attempt.aim) <= abs(at - nearest.aim))
            ):
                nearest = attempt
            # Everything further back ended before this onset and aims at most `reach` past its own.
            if at - self.onsets[place] > self.window + self.reach:
                break
            place -= 1
        return nearest

    def _takes_further(self, marker: Event) -> Attempt | None:
        """The latest rep marked before whose end has not passed."""
        bout = self.clock.bout_of(marker.best)
        place = (
            min(bisect_right(self.onsets, marker.best + self.anticipation), len(self.onsets)) - 1
        )
        looked = 0
        while place >= 0 and looked < LOOKED_BACK:
            attempt = self.attempts[place]
            if attempt.bout != bout:
                return None
            is_marked = attempt.marker is not None and attempt.marker.best <= marker.best
            if is_marked and _is_before_end(marker, attempt, self.clock):
                return attempt
            looked += attempt.onset.best <= marker.best
            place -= 1
        return None

    def link_keep_going(self, use: MarkerUse) -> None:
        """A keep-going marker: its link, the attempt in progress, else one about to begin."""
        marker = use.marker
        attempt = self.by_onset.get(marker.link) if marker.link is not None else None
        if attempt is None:
            current = self._current(marker)
            if current is not None and _is_before_end(marker, current, self.clock):
                attempt = current
            else:
                attempt = self._about_to_begin(marker)
        if attempt is not None:
            use.attempt = attempt
            attempt.keep_going.append(marker)

    def _about_to_begin(self, marker: Event) -> Attempt | None:
        place = bisect_right(self.onsets, marker.best)
        if place == len(self.onsets):
            return None
        attempt = self.attempts[place]
        is_soon = attempt.onset.best - marker.best <= self.anticipation
        return attempt if is_soon and attempt.bout == self.clock.bout_of(marker.best) else None


#: Ends beyond the next onset by what two marks leave open: further back none can reach.
LOOKED_BACK = 3


def _is_before_end(marker: Event, attempt: Attempt, clock: TrainingClock) -> bool:
    """Whether a marker falls before a rep's end, and what the two marks leave open."""
    end = attempt.coded_end or attempt.following
    at = end.best if end is not None else clock.bouts[attempt.bout].end
    return seconds(marker.best - at) <= 2 * uncertainty_of_difference(marker, end)


def link_reaches(record: SessionRecord, uses: Sequence[MarkerUse]) -> None:
    """Each reach to the next event marker with nothing between, else to the one before it."""
    if not record.of_kind("reach"):
        return
    by_marker = {u.marker.id: u for u in uses if u.marker.marker == "event"}
    pending: list[Event] = []
    before: MarkerUse | None = None
    for event in record.ordered:
        if event.kind == "reach":
            if before is not None and before.marker.best == event.best:
                _give_reaches(before, [event])
            else:
                pending.append(event)
        elif event.kind == "reward" or (event.kind == "marker" and event.id not in by_marker):
            _give_reaches(before, pending)
            pending = []
        elif event.id in by_marker:
            before = by_marker[event.id]
            _give_reaches(before, pending)
            pending = []
    _give_reaches(before, pending)


def _give_reaches(use: MarkerUse | None, reaches: Sequence[Event]) -> None:
    if use is not None:
        own_marker(use).reaches.extend(reaches)


def own_marker(use: MarkerUse) -> MarkerUse:
    """A repeat passes what it brings on to the marker it repeats."""
    return use.repeats or use
