"""Sessions said in a trainer's words, coded frame by frame, for the tests of the judgement."""

from __future__ import annotations

import datetime as dt
from typing import Any

from frequens.core import read_session
from frequens.core.decisions.judging import Digest, Judgement, judge
from frequens.core.findings import measure_session

from .coded import document

FRAME = 1 / 30
FIRST = dt.date(2026, 5, 1)


def plan_of(*steps: str | dict[str, Any], rule: str = "run", **whole: Any) -> dict[str, Any]:
    """A session's plan: a step is its key, or its fields; a rule is `run`, `run need=4` …"""
    kind, *numbers = rule.split()
    pairs = (number.split("=") for number in numbers)
    made = []
    for step in steps:
        fields = {"key": step} if isinstance(step, str) else dict(step)
        fields.setdefault("mark_at", "hold" if "hold_s" in fields else "onset")
        made.append(fields)
    parsed = {k: float(v) if "." in v else int(v) for k, v in pairs}
    return {"approximations": made, "rule": {"kind": kind, **parsed}, **whole}


class Day:
    """One filmed session, written along its own clock; each call adds to it."""

    def __init__(self, plan: dict[str, Any], n: int = 1, gap: float = 2.5, **always: Any):
        self.plan, self.n, self.gap, self.always = plan, n, gap, always
        self.steps = {step["key"]: step for step in plan["approximations"]}
        self.step = plan["approximations"][0]
        self.events: list[dict[str, Any]] = []
        self.now = self.last = 1.0
        self.tail = 2.0
        self.settings: dict[str, Any] = {}
        self.facts: dict[str, Any] = {}

    def mark(self, kind: str, t: float, **fields: Any) -> Day:
        frame = round(t / FRAME)
        name = f"{kind}{len(self.events)}"
        at = {"t": round(frame * FRAME, 6), "width": round(FRAME, 6)}
        self.events.append({"id": name, "kind": kind, **at, **fields})
        self.last = max(self.last, frame * FRAME)
        return self

    def at(self, step: str) -> Day:
        """From here on this step is in force."""
        self.step = self.steps[step]
        return self.mark("criterion", self.now + 0.3, approximation=step)

    def fits(self, times: int = 1, **how: Any) -> Day:
        for _ in range(times):
            self._rep(True, {**self.always, **how})
        return self

    def misses(self, times: int = 1, **how: Any) -> Day:
        for _ in range(times):
            self._rep(False, {**self.always, **how})
        return self

    def unjudged(self, times: int = 1, **how: Any) -> Day:
        for _ in range(times):
            self._rep(None, {**self.always, **how})
        return self

    def mixed(self, pattern: str, **how: Any) -> Day:
        """`++-+`: fits and misses in this order."""
        for one in pattern:
            self._rep(one == "+", {**self.always, **how})
        return self

    def _rep(self, met: bool | None, how: dict[str, Any]) -> None:
        said = how.get("said", 1)
        lead = 2 + 1.5 * (said - 1) if "cue" in how else 1.2 if "help" in how else 0.0
        onset = self.now + self.gap + how.get("slower", 0) + max(lead, how.get("sent", 0))
        if "sent" in how:
            self.mark("reset", onset - how["sent"])
        for n in range(said if "cue" in how else 0):
            self.mark("cue", onset - 2 - 1.5 * n, label=how["cue"])
        if "help" in how:
            self.mark("prompt", onset - (1.8 if how.get("together") else 1), level=how["help"])
        hold = self.step.get("hold_s", 0)
        lasts = how.get("lasts", hold + 1 if met is not False else hold * 0.4 or 1)
        fields = {k: how[k] for k in ("label", "value", "conditions") if k in how}
        if "shows" in how:
            fields["approximation"] = how["shows"]
        self.mark("onset", onset, met=met, **fields)
        end = onset + lasts
        aim = {"onset": onset, "hold": onset + hold, "offset": end}[self.step["mark_at"]]
        click = aim + (0.9 if how.get("late") else -0.3 if how.get("early") else 0.3)
        if how.get("over"):
            click = end + 0.3
        pays, paid = how.get("pays", 1), click
        if met and not how.get("unmarked"):
            for n in range(1, pays):
                sooner = onset + (aim - onset) * n / pays
                self.mark("marker", sooner, marker="keep_going").mark("reward", sooner + 1)
            if "hand" in how:
                self.mark("reach", click + (-0.5 if how["hand"] == "first" else 0.4))
            self.mark("marker", click, marker="event")
            if not how.get("unpaid"):
                paid = click + 1.2
                self.mark("reward", paid)
        if how.get("let_go"):
            self.mark("release", max(paid + 0.5, end - 0.3))
            end = self.last + 0.3
        if how.get("left"):
            self.mark("release", end + 1.5)
        self.mark("offset", end)
        self.now = self.last

    def sign(self, severity: int, times: int = 1) -> Day:
        for _ in range(times):
            self.mark("sign", self.now + 0.5, label="looks away", severity=severity)
            self.now += 0.6
        return self

    def left(self) -> Day:
        """It leaves the work and comes back."""
        self.mark("off_task_start", self.now + 0.8).mark("off_task_end", self.now + 6)
        self.now = self.last
        return self

    def waits(self, times: int = 1, shown: bool = False, paid: bool = False) -> Day:
        """Nothing is asked for five seconds."""
        for _ in range(times):
            start = self.now + 2
            self.mark("no_cue_window", start, end_s=round(start + 5, 3))
            self.last = max(self.last, start + 5)
            if shown:
                self.mark("onset", start + 2).mark("offset", start + 3)
            if paid:
                self.mark("marker", start + 4.6, marker="event").mark("reward", start + 5.8)
            self.now = self.last
        return self

    def touched(self, times: int = 1, food_first: bool = False) -> Day:
        for _ in range(times):
            at = self.now + 3
            if food_first:
                self.mark("reach", at - 0.5)
            self.mark("exposure", at, label="girth").mark("reward", at + 1.2)
            self.now = self.last + 1
        return self

    def idle(self, s: float) -> Day:
        self.now += s
        return self

    def document(self) -> dict[str, Any]:
        end = round(max(self.last, self.now) + self.tail, 3)
        day = (FIRST + dt.timedelta(days=self.n - 1)).isoformat()
        return document(
            sorted(self.events, key=lambda e: e["t"]),
            session={"date": day, "start_s": 0, "end_s": end, **self.facts},
            plan=self.plan,
            settings=self.settings,
        )


class Counted:
    """A session nobody filmed."""

    def __init__(self, plan: dict[str, Any], n: int, step: str, met: int, of: int, **more: Any):
        self.plan, self.n = plan, n
        signs = [{"severity": severity} for severity in more.pop("signs", ())]
        self.counts = {"approximation": step, "met": met, "judged": of, "signs": signs, **more}

    def document(self) -> dict[str, Any]:
        day = (FIRST + dt.timedelta(days=self.n - 1)).isoformat()
        return {
            "format": "frequens-session",
            "version": 1,
            "session": {"date": day},
            "plan": self.plan,
            "by_hand": self.counts,
        }


def digest_of(day: Day | Counted) -> Digest:
    return measure_session(read_session(day.document())).digest


def judged(*days: Day | Counted) -> Judgement:
    """The judgement of the latest of these days, under its plan."""
    last = max(days, key=lambda day: day.n)
    plan = read_session(last.document()).plan
    return judge([digest_of(day) for day in days], plan)


def codes(judgement: Judgement) -> set[str]:
    """What is said: the reason and everything beside it."""
    return {judgement.why.code, *(said.code for said in judgement.beside)}
