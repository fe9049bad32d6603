"""What the core says of many sessions, for the front end's own judging to be held against.

``python -m tools.judged_cases OUT [SITUATIONS…]`` writes JSON. `judged` are histories of sessions
in short with the core's judgement of each: all that the core's own tests of it ask about, and
random ones of every school. `led` are random sessions tapped on a phone, with the digest the core
makes of them; `laid` are random taps on random films, and where the core lays them. `SITUATIONS`
are further files, each a list of lists of `frequens-session` documents.
"""

from __future__ import annotations

import argparse
import contextlib
import io
import json
import random
import sys
from collections.abc import Sequence
from dataclasses import asdict
from pathlib import Path
from typing import Any

import pytest
from tests.core import training_days
from tests.core.coded import document
from tests.core.training_days import Counted, Day, plan_of

from frequens.core import read_session
from frequens.core.decisions import judging
from frequens.core.decisions.judging import Digest, Judgement, judge
from frequens.core.decisions.judging.sent_plan import sent_plan
from frequens.core.findings import measure_session
from frequens.core.linking.taps_on_film import TAP_WIDTH_S, FilmedStretch, lay_taps
from frequens.core.model.events import Plan

RULES = (
    *("run", "run need=3 miss=2", "run need=4 miss=0", "share", "share window=5 raise=0.6"),
    *("block", "block size=4 raise_at=3 lower_at=1", "percentile window=5", "comfort"),
    "comfort clean_sessions=1",
)
HELPS = ("food_lure", "empty_hand", "gesture", "physical", "target")
RANDOM, LED, LAID, MOST_ASKED = 80, 80, 200, 1500
#: The tests that ask about one history each, and not about hundreds made up at random.
SINGLE = "not never and not worse and not order_of_files"
#: Plugins that are in the way here.
NO = [part for name in ("django", "xdist", "cacheprovider") for part in ("-p", f"no:{name}")]


def main() -> None:
    """Write the cases."""
    parser = argparse.ArgumentParser(description=(__doc__ or "").splitlines()[0])
    parser.add_argument("out", type=Path)
    parser.add_argument("situations", type=Path, nargs="*")
    options = parser.parse_args()
    judged = [_case(f"asked {n}", *one) for n, one in enumerate(_asked_by_tests())]
    judged += [_judged(f"random {n}", _history(random.Random(n))) for n in range(RANDOM)]
    for path in options.situations:
        told = json.loads(path.read_text())
        judged += [_judged(f"{path.name} {n}", history) for n, history in enumerate(told)]
    led = [_led(random.Random(n)) for n in range(LED)]
    options.out.parent.mkdir(parents=True, exist_ok=True)
    laid = [_laid(random.Random(n)) for n in range(LAID)]
    options.out.write_text(json.dumps({"judged": judged, "led": led, "laid": laid}))


def _asked_by_tests() -> list[tuple[list[Digest], Plan]]:
    """Every judgement the core's own tests ask for: situations, and each limit on both sides."""
    asked: dict[str, tuple[list[Digest], Plan]] = {}

    def noting(history: Sequence[Digest], plan: Plan) -> Judgement:
        said = judge(history, plan)
        if len(asked) < MOST_ASKED:
            asked.setdefault(repr((history, plan)), (list(history), plan))
        return said

    judging.judge = training_days.judge = noting
    files = ["tests/core/test_judging_limits.py", "tests/core/test_judging.py"]
    with contextlib.redirect_stdout(io.StringIO()) as said:
        ended = pytest.main([*NO, "-k", SINGLE, *files])
    judging.judge = training_days.judge = judge
    if ended != pytest.ExitCode.OK:
        sys.exit(said.getvalue())
    return list(asked.values())


def _judged(name: str, documents: list[dict[str, Any]]) -> dict[str, Any]:
    records = [read_session(one) for one in documents]
    digests = [_digest(record) for record in records]
    last = max(
        range(len(records)),
        key=lambda n: (digests[n].date or "", digests[n].time or "", n),
    )
    return _case(name, digests, records[last].plan)


def _case(name: str, history: list[Digest], plan: Plan) -> dict[str, Any]:
    said = judge(history, plan)
    return {
        "name": name,
        "plan": sent_plan(plan),
        "history": [digest.as_plain_values() for digest in history],
        "said": {
            "decision": said.decision,
            "why": said.why.code,
            "step": said.step,
            "next_step": said.next_step,
            "help": said.help,
            "split_between": said.split_between,
            "beside": [one.code for one in said.beside],
            "judged": said.record.judged,
            "met": said.record.met,
        },
    }


def _digest(record: Any) -> Digest:
    return measure_session(record).digest


def _plan(rng: random.Random) -> dict[str, Any]:
    steps: list[Any] = ["look", "nose", "mouth", "ring"][: rng.randint(1, 4)]
    quantity = {"name": "pull", "unit": "cm", "better": rng.choice(["more", "less"]), "target": 20}
    fields: list[dict[str, Any]] = [
        *({}, {}, {"hold_s": 6}, {"hold_s": 3, "until_release": True}, {"answers": True}),
        *({"help": "gesture"}, {"rate_floor_per_min": 4}, {"quantity": quantity}),
        *([{"fallback": steps[0]}] if len(steps) > 2 else []),
    ]
    steps = [{"key": key, **rng.choice(fields)} for key in steps]
    whole: dict[str, Any] = {}
    if rng.random() < 0.3:
        whole["prompts"] = rng.sample(HELPS, 2)
    if rng.random() < 0.3:
        whole["rate_floor_per_min"] = rng.choice([1, 4, 8])
    if rng.random() < 0.4:
        whole |= {"session_cap_s": rng.choice([30, 120]), "rep_cap": rng.choice([5, 12])}
    if rng.random() < 0.2:
        whole["judging"] = {"memory_days": rng.choice([2, 5]), "misses": 4, "plateau_reps": 12}
    return plan_of(*steps, rule=rng.choice(RULES), **whole)


def _history(rng: random.Random) -> list[dict[str, Any]]:
    plan = _plan(rng)
    keys = [step["key"] for step in plan["approximations"]]
    days = sorted(rng.sample(range(1, 25), rng.randint(1, 5)))
    good = rng.choice([0.2, 0.5, 0.7, 0.9, 1.0])
    return [_day(rng, plan, n, keys, good).document() for n in days]


def _day(rng: random.Random, plan: dict[str, Any], n: int, keys: list[str], good: float) -> Any:
    if rng.random() < 0.15:
        of = rng.randint(1, 12)
        counts: dict[str, Any] = {"minutes": rng.choice([0.5, 3]), "rewards": rng.randint(0, 20)}
        if rng.random() < 0.2:
            counts |= {"signs": [2], "opt_outs": 1}
        return Counted(plan, n, rng.choice(keys), rng.randint(0, of), of, **counts)
    day = Day(plan, n, gap=rng.choice([1.0, 2.5, 6.0]))
    place = rng.randrange(len(keys))
    for _ in range(rng.randint(1, 3)):
        day.at(keys[place])
        slower = 0.0
        for _ in range(rng.randint(0, 12)):
            how: dict[str, Any] = {"slower": slower}
            slower += rng.choice([0, 0, 0.7])
            if rng.random() < 0.15:
                how["help"] = rng.choice(HELPS)
            elif rng.random() < 0.15:
                how |= {"cue": "bell", "said": rng.choice([1, 1, 2])}
            how |= {"conditions": {"side": rng.choice(["left", "right"])}}
            how |= {"value": rng.randint(5, 25)}
            if rng.random() < 0.1:
                how[rng.choice(["late", "early", "unpaid", "left", "let_go"])] = True
            (day.fits if rng.random() < good else day.misses)(1, **how)
            if rng.random() < 0.04:
                day.sign(rng.choice([1, 1, 2, 3]))
            if rng.random() < 0.03:
                day.left()
            if rng.random() < 0.05:
                day.waits(1, shown=rng.random() < 0.5)
            if rng.random() < 0.03:
                day.idle(40)
        place = max(0, min(len(keys) - 1, place + rng.choice([-1, 0, 1])))
    return day


def _led(rng: random.Random) -> dict[str, Any]:
    """A session as a phone keeps it: taps, each within its width, and what the core makes of it."""
    plan = _plan(rng)
    keys = [step["key"] for step in plan["approximations"]]
    events: list[dict[str, Any]] = []
    now, place, is_break, pace = TAP_WIDTH_S / 2, rng.randrange(len(keys)), False, 3.0

    def tap(kind: str, **fields: Any) -> None:
        at = {"t": round(now, 3), "width": TAP_WIDTH_S, "source": "tap"}
        events.append({"id": f"e{len(events)}", "kind": kind, **at, **fields})

    tap("bout_start")
    tap("criterion", approximation=keys[place])
    for _ in range(rng.randint(0, 60)):
        now += rng.uniform(0.3, pace)
        pace += rng.choice([0, 0, 0.2])
        what = rng.random()
        if is_break:
            tap(rng.choice(["bout_start", "sign", "off_task_start"]))
            if events[-1]["kind"] == "sign":
                events[-1] |= {"label": "yawn", "severity": 1}
            is_break = events[-1]["kind"] != "bout_start"
        elif what < 0.5:
            tap("onset", met=True, conditions={"side": rng.choice(["left", "right"])})
            tap("reward")
        elif what < 0.53:
            # A paid wait of a script; it may lie in a break's shadow, or long after a rep.
            now += rng.choice([0, 4, 11])
            tap("reward")
        elif what < 0.75:
            tap("onset", met=False)
        elif what < 0.82:
            tap("sign", label=rng.choice(["yawn", "freeze"]), severity=rng.randint(1, 3))
        elif what < 0.87:
            tap("off_task_start")
        elif what < 0.9:
            tap("off_task_end")
        elif what < 0.96:
            place = max(0, min(len(keys) - 1, place + rng.choice([-1, 1])))
            tap("criterion", approximation=keys[place])
            if rng.random() < 0.5:
                # As a script has it: the step turns with the rep that is the first at it.
                tap("onset", met=rng.random() < 0.5)
        else:
            tap("bout_end")
            is_break = True
    now += rng.uniform(0, 20)
    facts = {"date": "2026-05-04", "time": "18:30", "start_s": 0, "end_s": round(now - 1, 3)}
    record = read_session(document(events, session=facts, plan=plan))
    return {
        "plan": sent_plan(record.plan),
        "events": events,
        "facts": facts,
        "limits": {
            "dry_spell_s": record.settings.dry_spell_s,
            "reward_link_s": record.settings.reward_link_s,
        },
        "digest": _digest(record).as_plain_values(),
    }


def _laid(rng: random.Random) -> dict[str, Any]:
    """Taps of every kind, some of them while no camera ran, and where they lie on the films."""
    kinds = ("onset", "reward", "sign", "criterion", "bout_start", "bout_end")
    kinds += ("off_task_start", "off_task_end")
    taps = [
        {
            "id": f"e{n}",
            "kind": rng.choice(kinds),
            "t": round(rng.uniform(1, 300), 3),
            "width": TAP_WIDTH_S,
        }
        for n in range(rng.randint(0, 40))
    ]
    films, start_s, from_s = [], 0.0, rng.uniform(-40, 120)
    for _ in range(rng.randint(1, 4)):
        length_s = rng.uniform(2, 80)
        films.append(FilmedStretch(round(start_s, 6), round(from_s, 6), round(length_s, 6)))
        start_s += length_s + 1
        from_s += length_s + rng.uniform(0, 60)
    laid = lay_taps(taps, films)
    return {
        "taps": taps,
        "films": [asdict(film) for film in films],
        "laid": {key: asdict(at) for key, at in laid.items()},
    }


if __name__ == "__main__":
    main()
