"""The report's pieces by themselves: plots, the choice of frames, and words."""

from __future__ import annotations

import xml.etree.ElementTree as ET

import pytest
from hypothesis import given
from hypothesis import strategies as st

from frequens.core import measure
from frequens.server.reports import plots
from frequens.server.reports.content import MOST_STEPS, _steps
from frequens.server.reports.pictures import usual_choice
from frequens.server.reports.tables import Table, session_tables, write_csv
from tests.core.coded import Coding

SVG = "{http://www.w3.org/2000/svg}"


def measured(latencies, held=2.0, met=True, title="nose"):
    coding = Coding(width=1 / 30).event("criterion", 0.0, approximation=title)
    for n, value in enumerate(latencies):
        at = 3.0 + 6 * n
        coding.onset(at, met=met).offset(at + held).marker(at + value).reward(at + value + 1)
    end = 6.0 * (len(latencies) + 1)
    return measure(coding.record(session={"start_s": 0, "end_s": end}))


@given(st.lists(st.floats(-0.4, 2.5), min_size=1, max_size=80))
def test_every_marker_is_a_ring_inside_the_plot(latencies):
    found = measured(latencies)
    drawn = ET.fromstring(plots.timing_plot(found, 0.5))
    rings = drawn.findall(f"{SVG}circle")
    marked = [r for r in found["reps"] if r["marker_latency_s"] is not None]
    assert len(rings) == len(marked)
    _, _, width, height = map(float, drawn.attrib["viewBox"].split())
    for ring in rings:
        x, y, r = (float(ring.attrib[key]) for key in ("cx", "cy", "r"))
        assert x - r + 1 >= 0
        assert x + r - 1 <= width
        assert y - r >= 0
        assert y + r <= height
    filled = sum(ring.attrib["fill"] == plots.MARKER for ring in rings)
    assert filled == sum(r["timing"] == "late" or r["behaviour_over"] is True for r in marked)


def test_the_axis_names_the_onset_and_the_seconds_from_it():
    drawn = ET.fromstring(plots.timing_plot(measured([-0.4, 0.3, 1.6]), 0.5))
    at = {text.text: float(text.attrib["x"]) for text in drawn.findall(f"{SVG}text")}
    assert list(at) == sorted(at, key=at.get)
    assert set(at) >= {"begins", "+0.5 s", "+1 s"}
    assert at["+1 s"] - at["+0.5 s"] == pytest.approx(at["+0.5 s"] - at["begins"], abs=0.2)


@pytest.mark.parametrize(
    ("held_s", "is_shaded"), [(None, True), (0.0, True), (0.49, True), (0.5, False), (2.0, False)]
)
def test_what_is_on_time_is_shaded_where_the_onset_is_what_is_marked(held_s, is_shaded):
    found = measured([0.1, 0.3])
    for rep in found["reps"]:
        rep["target_s"] = None if held_s is None else rep["onset_s"] + held_s
    drawn = ET.fromstring(plots.timing_plot(found, 0.5))
    shades = [rect.attrib["fill"] for rect in drawn.findall(f"{SVG}rect")]
    assert (plots.REWARD in shades) is is_shaded


def test_rings_stand_in_the_order_of_their_latencies():
    found = measured([0.9, 0.1, 0.5])
    rings = ET.fromstring(plots.timing_plot(found, 0.5)).findall(f"{SVG}circle")
    xs = [float(ring.attrib["cx"]) for ring in rings]
    assert xs[1] < xs[2] < xs[0]


def test_a_title_is_a_text_in_the_plot_whatever_it_says():
    found = measured([0.3] * 4, title="nose")
    svg = plots.rate_plot(found, lambda key: "<b>&\"'")
    assert [t.text for t in ET.fromstring(svg).findall(f"{SVG}text") if "b>" in (t.text or "")]


def test_a_dry_spell_shades_its_stretch():
    coding = Coding().onset(2.0).marker(2.2).reward(3.0).onset(60.0).marker(60.2).reward(61.0)
    found = measure(coding.record(session={"start_s": 0, "end_s": 64}))
    (rect,) = ET.fromstring(plots.rate_plot(found, str)).findall(f"{SVG}rect")
    left, room = plots.LEFT, plots.WIDTH - plots.LEFT - plots.RIGHT
    (spell,) = found["dry_spells"]["spells"]
    last = max(found["rate_curve"][-1]["t_s"], spell["end_s"])
    assert float(rect.attrib["x"]) == pytest.approx(left + spell["start_s"] / last * room, abs=0.1)
    assert float(rect.attrib["width"]) == pytest.approx(
        (spell["end_s"] - spell["start_s"]) / last * room, abs=0.2
    )


def test_the_usual_frames_are_the_best_timed_rep_and_the_latest_marker():
    found = measured([0.4, 0.05, 1.4])
    best, worst = found["reps"][1], found["reps"][2]
    assert usual_choice(found) == [best["id"], best["marker_id"], worst["marker_id"]]


def test_without_a_marker_the_last_rep_that_fits_is_shown():
    found = measure(Coding().onset(2.0, met=True).onset(5.0, met=True).onset(8.0).record())
    assert usual_choice(found) == [found["reps"][1]["id"]]
    assert usual_choice(measure(Coding().onset(2.0).record())) == []


@pytest.mark.parametrize("worked", [(0,), (12,), (29,), (10, 14), (0, 29)])
def test_a_long_plan_shows_the_steps_around_the_worked_ones(worked):
    plan = {"approximations": [{"key": f"k{n}", "criterion": "c"} for n in range(30)]}
    splits = [{"approximation": f"k{n}", "attempts": 3} for n in worked]
    rows = _steps(plan, {"splits": {"approximations": splits}})
    assert MOST_STEPS <= len(rows) <= MOST_STEPS + 3
    assert rows[0][0] == str(max(1, min(min(worked), 24)))
    # The first worked step is always among them.
    assert str(min(worked) + 1) in [row[0] for row in rows if row[4]]


def test_a_later_worked_step_is_shown_while_there_is_room():
    plan = {"approximations": [{"key": f"k{n}"} for n in range(30)]}
    splits = [{"approximation": f"k{n}", "attempts": 3} for n in (0, 9)]
    rows = _steps(plan, {"splits": {"approximations": splits}})
    assert [row[0] for row in rows] == [str(n) for n in range(1, MOST_STEPS + 4)]
    assert [row[0] for row in rows if row[4]] == ["1", "10"]


def test_retired_steps_are_not_in_the_report():
    plan = {"approximations": [{"key": "a", "retired": True}, {"key": "b", "title": "B"}]}
    rows = _steps(plan, {"splits": {"approximations": []}})
    assert rows == [["1", "B", "", "mark when it begins", ""]]


def test_the_tables_of_conditions_and_placement_are_the_cores():
    coding = Coding().onset(2.0, met=True, conditions={"side": "left", "wet": True}).marker(2.2)
    coding.reward(3.0, placement="ahead", pieces=2)
    coding.onset(6.0, met=False, conditions={"side": "right"})
    found = measure(coding.record())
    tables = {table.name: table for table in session_tables(found)}
    heads, rows = tables["reps"].heads, tables["reps"].rows
    assert [rows[0][heads.index(h)] for h in ("condition_side", "condition_wet")] == ["left", "yes"]
    assert rows[1][heads.index("condition_wet")] is None
    assert tables["conditions"].rows[0][:6] == ("side", "left", 1, 1, 1, 1.0)
    assert tables["placement"].rows[0][:3] == ("ahead", 2, 2)
    assert len({len(row) for row in rows} | {len(heads)}) == 1


@given(st.text())
def test_no_cell_of_a_csv_begins_a_formula(said):
    written = write_csv(Table("t", ("a",), [(said,)])).split("\r\n", 1)[1]
    cell = written.removeprefix('"')
    assert not cell.startswith(("=", "+", "-", "@", "\t"))
