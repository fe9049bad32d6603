"""Findings of sessions with several pays, chains, touches and tosses: each part says the core's."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.long import few

WORKED = json.loads(
    (Path(__file__).parents[1] / "core" / "trials-worked.json").read_text(encoding="utf-8")
)


@pytest.fixture(scope="module")
def worked(trainer):
    made = trainer.ask("POST", "/api/sessions/import", json=WORKED).json()["session_id"]
    return made, trainer.ask("GET", f"/api/sessions/{made}/findings").json()["findings"]


@pytest.fixture
def whole(page, house, worked):
    page.goto(f"{house.url}/sessions/{worked[0]}/findings")
    expect(page.locator("#reps")).to_be_visible()
    return page


@pytest.mark.parametrize(
    ("part", "said"),
    few(
        2,
        [
            ("signs", ["1 × ", "It left the work 1 time, for 3 seconds"]),
            (
                "returns",
                ["14.0 s", "2 came back by itself", "1 did not", "1 could not be waited for"],
            ),
            ("stays", ["2 of 3", "1 left before", "paid 2.0 times in place, at most 3"]),
            ("chains", ["1 of 2", "1.8 s after the part before", "1 broke here", "1 with help"]),
            ("exposures", ["1 of 2", "food came first", "1 sign, left the work 1 time"]),
            (
                "stimulus_control",
                [
                    "Asked 4 times, 2 answered, 1 with something else, 1 not at all",
                    "“hoof” was said more than once 1 time of 3, up to 2 times",
                    "Asked in 57 % of all",
                    "1 × the waiting itself was paid",
                ],
            ),
            ("values", ["in the middle of 6 reps", "the first third 17", "4 of 6 at 20"]),
            ("prompts", ["The longest run that fitted without help: 3 reps"]),
        ],
    ),
)
def test_each_part_says_what_the_session_holds(whole, part, said):
    for words in said:
        expect(whole.locator(f"#{part}")).to_contain_text(words)


def test_what_came_after_each_cue_is_a_table_one_can_read(whole, worked):
    table = whole.get_by_role("table", name="What came after each cue")
    heads = [head for head in table.get_by_role("columnheader").all_text_contents() if head]
    for label, row in worked[1]["confusion"].items():
        cells = table.get_by_role("row", name=f"“{label}”").get_by_role("cell").all_text_contents()
        said = dict(zip(heads[1:], cells, strict=False))
        wanted = {"unlabelled": "it came", "none": "nothing"}
        for came, count in row.items():
            assert said[wanted.get(came, came)] == str(count)


def test_how_the_animal_was_stands_before_every_number(whole):
    top = {
        part: whole.locator(f"#{part}").bounding_box()["y"]
        for part in ("signs", "marker_latency_s", "reward_latency_s", "success", "returns")
    }
    assert min(top.values()) == top["signs"]
    lefts = [
        whole.locator(f"#{part}").bounding_box()["x"] for part in ("signs", "marker_latency_s")
    ]
    assert lefts[0] < lefts[1]


@pytest.mark.long
@pytest.mark.parametrize(
    ("part", "link", "rows"),
    [
        ("returns", "did not", 1),
        ("signs", "time", 1),
        ("exposures", "food came first", 1),
    ],
)
def test_numbers_open_their_moments(whole, part, link, rows):
    whole.locator(f"#{part}").get_by_role("link", name=link).first.click()
    expect(whole.locator("#reps tbody tr")).to_have_count(rows)


@pytest.mark.long
@pytest.mark.parametrize(
    ("part", "link", "reps"),
    [
        ("stays", "left before", ["6"]),
        ("chains", "broke here", ["9"]),
        ("stays", "2 of 3", ["5", "7"]),
    ],
)
def test_numbers_open_their_reps(whole, part, link, reps):
    whole.locator(f"#{part}").get_by_role("link", name=link).first.click()
    expect(whole.locator("#reps tbody th")).to_have_text(reps)
