"""Findings and logbook as tables, and a table as CSV for any program."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from frequens.core.findings import as_plain_values
from frequens.core.formats.text_formats import safe_cell

from ..logbook.schemas import LogbookOut

Cell = str | float | int | bool | None


@dataclass(frozen=True)
class Table:
    """A table with the core's names as its heads; times in seconds."""

    name: str
    heads: Sequence[str]
    rows: Sequence[Sequence[Cell]]


_REP = (
    "approximation", "met", "onset_s", "offset_s", "target_s", "marker_s", "reward_s",
    "marker_latency_s", "timing_error_s", "timing", "behaviour_over", "uncertainty_s",
    "reward_latency_s", "pieces", "caught", "reach_lead_s", "hand_first", "pause_s", "response_s",
    "value", "held_s", "help", "missed", "false_alarm", "pays", "paid_directly", "direct_reward_s",
    "next_pause_s", "stay", "cue", "said", "answer", "broke_at",
)  # fmt: skip
_SPLIT = (
    "approximation", "start_s", "end_s", "training_time_s", "attempts", "judged", "met", "share",
    "low", "high", "longest_run", "attempts_to_first_met", "time_to_first_met_s",
    "attempts_to_rule", "time_to_rule_s", "marker_latency_s", "reward_latency_s",
)  # fmt: skip
_SUMMARIES = ("marker_latency_s", "timing_error_s", "reward_latency_s", "reach_lead_s", "pause_s")
_SUMMARY = (
    "n", "mean", "sd", "min", "q1", "median", "q3", "p90", "max", "median_low", "median_high",
)  # fmt: skip
_LOGGED = (
    "date", "trainer", "by_hand", "step", "minutes", "attempts", "judged", "met", "per_min",
    "marker_latency_s", "reward_latency_s", "verdict", "code", "sentence", "marker_s", "handler",
    "place",
)  # fmt: skip


#: What a session adds to the logbook beside these; shares as `count` and `of`.
_TREND = (
    "signs", "worst", "opt_outs", "d_prime", "said_per_cue", "stay_s", "pays_in_place", "return_s",
    "lost", "weakest",
)  # fmt: skip
_TREND_SHARES = ("hits", "alarms", "kept", "completed", "alone")


def session_tables(findings: Mapping[str, Any]) -> list[Table]:
    """Every table of a session's findings."""
    reps = findings["reps"]
    names = sorted({name for rep in reps for name in rep["conditions"]})
    return [
        Table(
            "reps",
            ("rep", *_REP, *(f"condition_{name}" for name in names)),
            [
                (n, *(rep[k] for k in _REP), *(rep["conditions"].get(name) for name in names))
                for n, rep in enumerate(reps, 1)
            ],
        ),
        _split_table("splits", findings["splits"]["approximations"]),
        _split_table("stretches", findings["splits"]["segments"]),
        Table(
            "summaries",
            ("measure", *_SUMMARY),
            [(key, *(findings[key][k] for k in _SUMMARY)) for key in _SUMMARIES],
        ),
        Table(
            "rates",
            ("rate", "per_min", "low", "high", "count"),
            [
                (k, r["value"], r["low"], r["high"], r["count"])
                for k, r in findings["rates"].items()
            ],
        ),
        Table(
            "rate_curve",
            ("t_s", "training_s", "per_min"),
            [(p["t_s"], p["training_s"], p["per_min"]) for p in findings["rate_curve"]],
        ),
        Table(
            "conditions",
            ("condition", "level", "attempts", "judged", "met", "share", "low", "high"),
            [
                (name, level, found["attempts"], *_share(found["success"]))
                for name, condition in findings["conditions"].items()
                for level, found in condition["levels"].items()
            ],
        ),
        Table(
            "placement",
            ("placement", "pieces", "of", "share", "low", "high", "target"),
            [
                (place, p["count"], p["of"], p["share"], p["low"], p["high"], p["target"])
                for place, p in findings["placement"].items()
            ],
        ),
        *_ways(findings),
    ]


def _ways(findings: Mapping[str, Any]) -> list[Table]:
    """Stays, returns, cues, chains, touches, numbers, bouts and help: one table each."""
    outcomes = [m for m in findings["moments"] if "role" in m]
    control = findings["stimulus_control"]
    return [
        Table(
            "stays",
            ("approximation", "attempts", "kept", "left_early", "open", "pays", "held_s"),
            [
                (
                    *(key, stay["attempts"], stay["kept"]["count"], stay["left_early"]),
                    *(stay["open"], stay["pays_per_rep"]["mean"], stay["held_s"]["median"]),
                )
                for key, stay in findings["stays"].items()
            ],
        ),
        Table(
            "outcomes",
            ("role", "t_s", "outcome", "s"),
            [(m["role"], m["t_s"], m["outcome"], m["s"]) for m in outcomes],
        ),
        Table(
            "cues",
            ("cue", "presentations", "hits", "wrong", "misses", "said_once", "said"),
            [
                (
                    *(label, cue["presentations"], cue["hits"], cue["wrong"], cue["misses"]),
                    *(cue["said_once"], cue["said"]["mean"]),
                )
                for label, cue in findings["cues"].items()
            ],
        ),
        Table(
            "confusion",
            ("cue", "came", "count"),
            [
                (label, came, count)
                for label, row in findings["confusion"].items()
                for came, count in row.items()
            ],
        ),
        Table("stimulus_control", tuple(control), [tuple(control.values())]),
        Table(
            "chains",
            ("approximation", "part", "reached", "of", "share", "low", "high", "gap_s", "helped"),
            [
                (
                    *(key, part["key"]),
                    *(part["reached"][k] for k in ("count", "of", "share", "low", "high")),
                    *(part["gap_s"], part["helped"]),
                )
                for key, chain in findings["chains"].items()
                for part in chain["parts"]
            ],
        ),
        Table(
            "exposures",
            (
                *("exposure", "n", "paid", "latency_s", "food_first"),
                *("signs_1", "signs_2", "signs_3", "opt_outs"),
            ),
            [
                (
                    *(label, touch["n"], touch["paid"]["count"], touch["latency_s"]["median"]),
                    *(touch["food_first"], *touch["signs"].values(), touch["opt_outs"]),
                )
                for label, touch in findings["exposures"].items()
            ],
        ),
        Table(
            "values",
            ("approximation", "n", "median", "first_third", "last_third", "target", "reached"),
            [
                (
                    *(key, *(v[k] for k in ("n", "median", "first_third", "last_third"))),
                    *(v["target"], v["reached"]["count"] if v["reached"] else None),
                )
                for key, v in findings["values"].items()
            ],
        ),
        Table("bouts", _BOUT, [tuple(bout[k] for k in _BOUT) for bout in findings["bouts"]]),
    ]


_BOUT = (
    "start_s", "end_s", "attempts", "judged", "met", "pays", "signs", "opt_outs", "break_before_s",
)  # fmt: skip


def _split_table(name: str, splits: Sequence[Mapping[str, Any]]) -> Table:
    heads = (*_SPLIT, "reinforcement_per_min", "change", "change_attempts")
    rows = [
        (
            *(split[k] for k in _SPLIT),
            split["reinforcement_per_min"]["value"],
            split["change"]["kind"],
            split["change"]["attempts"],
        )
        for split in splits
    ]
    return Table(name, heads, rows)


def _share(success: Mapping[str, Any]) -> tuple[Cell, ...]:
    return tuple(success[k] for k in ("of", "count", "share", "low", "high"))


def logbook_tables(logbook: LogbookOut) -> list[Table]:
    """Every table of a behaviour's logbook; days as ISO dates."""
    book = as_plain_values(logbook.book)
    sessions = [
        (
            *(_cell_of(getattr(s, k)) for k in _LOGGED),
            s.counts.get("note") if s.counts else None,
            ", ".join(s.tags),
        )
        for s in logbook.sessions
    ]
    return [
        Table("sessions", (*_LOGGED, "note", "tags"), sessions),
        Table(
            "trends",
            (
                *("date", *_TREND),
                *(f"{key}_{half}" for key in _TREND_SHARES for half in ("count", "of")),
            ),
            [
                (
                    *(_cell_of(trend[key]) for key in ("date", *_TREND)),
                    *(
                        trend[key][half] if trend[key] else None
                        for key in _TREND_SHARES
                        for half in ("count", "of")
                    ),
                )
                for trend in book["trends"]
            ],
        ),
        Table(
            "weeks",
            ("monday", "sessions", "minutes", "minutes_cap", "reps", "reps_cap", "over_cap"),
            [
                tuple(
                    week[k]
                    for k in (
                        *("monday", "sessions", "minutes", "minutes_cap"),
                        *("reps", "reps_cap", "over_cap"),
                    )
                )
                for week in book["weeks"]
            ],
        ),
        Table(
            "steps",
            ("approximation", "first_day", "last_day", "sessions", "attempts", "minutes"),
            [
                (
                    *(step[k] for k in ("approximation", "first_day", "last_day")),
                    *(step[k] for k in ("sessions", "attempts", "minutes")),
                )
                for step in book["steps"]["steps"]
            ],
        ),
        Table(
            "success",
            ("approximation", "judged", "met", "share", "low", "high"),
            [
                (s["approximation"], s["judged"], s["met"], s["share"], s["low"], s["high"])
                for s in book["success"]
            ],
        ),
        Table(
            "growth",
            ("days", "per_week", "low", "high", "dispersion"),
            [tuple(book["growth"][k] for k in ("days", "per_week", "low", "high", "dispersion"))],
        ),
    ]


def _cell_of(value: Any) -> Cell:
    return value if isinstance(value, str | float | int | bool | None) else str(value)


def write_csv(table: Table) -> str:
    """One table as CSV; texts a spreadsheet would take for formulas are quoted."""
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(table.heads)
    for row in table.rows:
        writer.writerow(["" if cell is None else _csv_cell(cell) for cell in row])
    return text.getvalue()


def _csv_cell(cell: Cell) -> Any:
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    return safe_cell(cell) if isinstance(cell, str) else cell
