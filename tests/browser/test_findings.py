"""Findings: every number is the core's, opens its reps, and each rep its frames."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect


@pytest.fixture
def measured(trainer, coded):
    return trainer.ask("GET", f"/api/sessions/{coded['session_id']}/findings").json()


@pytest.fixture
def findings(measured):
    return measured["findings"]


@pytest.fixture
def opened(page, house, coded, measured):
    page.goto(f"{house.url}/sessions/{coded['session_id']}/findings")
    expect(page.get_by_role("heading", level=1)).to_have_text(measured["sentence"]["text"])
    return page


def signed(value, digits=3):
    return f"{'−' if value < 0 else '+'}{abs(value):.{digits}f} s"


def section(page, name):
    return page.locator(f"section#{name}")


def test_the_main_numbers_are_the_cores(opened, findings):
    marker, reward = findings["marker_latency_s"], findings["reward_latency_s"]
    expect(section(opened, "marker")).to_contain_text(signed(marker["median"], 2))
    expect(section(opened, "reward")).to_contain_text(signed(reward["median"], 2))
    rate = findings["rates"]["reinforcement_per_min"]
    expect(section(opened, "rate")).to_contain_text(f"{rate['value']:.1f}")
    expect(section(opened, "rate")).to_contain_text(f"{rate['low']:.1f} to {rate['high']:.1f}")
    success = findings["success"]
    expect(section(opened, "fit")).to_contain_text(f"{success['met']} of {success['judged']}")
    expect(section(opened, "fit")).to_contain_text(
        f"{round(success['low'] * 100)} % to {round(success['high'] * 100)} %"
    )
    ms = round(findings["sources"]["marker_latency_s"] * 1000)
    expect(section(opened, "marker")).to_contain_text(f"±{ms} ms")


def test_each_rep_stands_in_the_list_with_its_latencies(opened, findings):
    rows = opened.locator("#reps tbody tr")
    expect(rows).to_have_count(len(findings["reps"]))
    for place, rep in enumerate(findings["reps"]):
        if rep["marker_latency_s"] is not None:
            expect(rows.nth(place)).to_contain_text(signed(rep["marker_latency_s"]))
        if rep["reward_latency_s"] is not None:
            expect(rows.nth(place)).to_contain_text(signed(rep["reward_latency_s"]))


@pytest.mark.parametrize("key", ["early", "on_time", "late"])
def test_a_count_opens_its_reps(opened, findings, key):
    behind = [r for r in findings["reps"] if r["timing"] == key]
    words = {"early": "early", "on_time": "on time", "late": "late"}[key]
    link = section(opened, "marker").get_by_role("link", name=f"{len(behind)} {words}")
    link.click()
    expect(opened.locator("#reps tbody tr")).to_have_count(len(behind))


def test_a_rep_opens_its_frames(opened, findings, coded):
    number, rep = next((n, r) for n, r in enumerate(findings["reps"]) if r["marker_s"] is not None)
    row = opened.locator("#reps tbody tr").nth(number)
    row.get_by_role("link").nth(1).click()
    expect(opened.locator("canvas[role=img]")).to_have_attribute(
        "data-frame", str(round(rep["marker_s"] * 30))
    )


def test_a_session_without_marks_says_what_to_do(page, house, trainer, coded):
    film = trainer.settled(trainer.upload(coded["path"], "again.mp4")["id"])
    page.goto(f"{house.url}/sessions/{film['session_id']}/findings")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Nothing is coded yet")
    page.get_by_role("link", name="To the bench").click()
    expect(page.get_by_role("heading", name="The first rep in three marks")).to_be_visible()


def test_the_steps_table_is_the_cores_and_opens_its_reps(opened, findings):
    rows = opened.get_by_test_id("splits").locator("tbody tr")
    pooled = findings["splits"]["approximations"]
    expect(rows).to_have_count(len(pooled))
    for place, split in enumerate(pooled):
        row = rows.nth(place)
        if split["judged"]:
            expect(row).to_contain_text(f"{split['met']} of {split['judged']}")
            expect(row).to_contain_text(
                f"{round(split['low'] * 100)} % to {round(split['high'] * 100)} %"
            )
        expect(row).to_contain_text(f"{split['reinforcement_per_min']['value']:.1f}")
    rows.first.get_by_role("link").click()
    expect(opened.locator("#reps tbody tr")).to_have_count(pooled[0]["attempts"])


def test_what_to_do_next_is_the_cores_advice(opened, findings):
    words = {
        "raise": "Raise",
        "hold": "Hold",
        "lower": "One step back",
        "split": "A smaller step",
        "end": "End here",
    }
    expect(opened.get_by_test_id("decision")).to_have_text(words[findings["advice"]["decision"]])
    for reason in findings["advice"]["reasons"]:
        expect(opened.get_by_text(reason["text"])).to_be_visible()
    opened.get_by_text("What other schools would say").click()
    expect(opened.get_by_text("By a share of the last reps")).to_be_visible()


def test_findings_can_be_read_on_a_phone(opened):
    opened.set_viewport_size({"width": 390, "height": 844})
    assert opened.evaluate("() => document.documentElement.scrollWidth") <= 390
    # A table wider than the screen moves by itself.
    assert opened.locator("#reps .overflow-x-auto").evaluate("e => e.scrollWidth > e.clientWidth")
