"""The logbook on the screen: plots with the core's numbers, sessions by hand, tags, filters."""

from __future__ import annotations

import csv
import datetime as dt
import json
from pathlib import Path

import pytest
from playwright.sync_api import expect

from frequens.core.formats.session_document import write_session
from frequens.simulator.camera import script_session
from tests.long import few

from .test_findings import numbers


@pytest.fixture(scope="module")
def kept(trainer):
    """A behaviour with three coded sessions of two trainers and one by hand."""
    learner = trainer.ask("POST", "/api/learners", json={"name": "Bramble"}).json()
    body = {"learner_id": learner["id"], "starter": "bell", "name": "Ring the gate bell"}
    behaviour = trainer.ask("POST", "/api/behaviours", json=body).json()
    for n, who in enumerate(["wren", "teasel", "wren"]):
        document = write_session(script_session(40, seed=n + 2, lateness_s=0.2 * n).truth())
        document["session"]["date"] = f"2026-05-{4 + 5 * n:02d}"
        said = trainer.ask("POST", "/api/sessions/import", json=document)
        session_id = said.json()["session_id"]
        path = f"/api/behaviours/{behaviour['id']}/sessions"
        trainer.ask("POST", path, json={"session_id": session_id})
        facts = {"trainer": who, "tags": ["windy"] if n == 1 else []}
        edit = {"client_id": "who", "body": {"op": "facts", "set": facts}}
        trainer.ask("POST", f"/api/sessions/{session_id}/edits", json={"edits": [edit]})
    counts = {"minutes": 2, "reps": 11, "met": 8, "reinforcements": 8, "approximation": "nose"}
    body = {"date": "2026-05-07", "trainer": "teasel", "counts": counts}
    trainer.ask("POST", f"/api/logbook/{behaviour['id']}/by-hand", json=body)
    return behaviour["id"]


@pytest.fixture
def book(trainer, kept):
    return trainer.ask("GET", f"/api/logbook/{kept}").json()


@pytest.fixture
def logbook(page, house, kept):
    page.goto(f"{house.url}/logbook/{kept}")
    expect(page.get_by_role("heading", name="The stairs, day by day")).to_be_visible()
    return page


def day(iso):
    date = dt.date.fromisoformat(iso)
    return f"{date.day} {date:%b}"


def part(page, name):
    return page.locator(f"section#{name}")


def test_the_numbers_behind_every_plot_are_the_cores(logbook, book):
    found, titles = book["book"], book["titles"]
    assert [row[:2] + row[3:] for row in numbers(part(logbook, "rate"))] == [
        [
            day(r["date"]),
            f"{r['rate']['value']:.2f}",
            str(r["rate"]["count"]),
            f"{r['minutes']:.2f}",
        ]
        for r in found["rates"]
    ]
    assert numbers(part(logbook, "stairs")) == [
        [day(x["date"]), titles[x["approximation"]], f"{x['met']} of {x['judged']}"]
        for x in found["landings"]
    ]
    assert sorted(row[:2] for row in numbers(part(logbook, "success"))) == sorted(
        [titles[s["approximation"]], f"{s['met']} of {s['judged']}"] for s in found["success"]
    )
    for name, key in (("marker", "marker_latency_s"), ("reward", "reward_latency_s")):
        assert [[row[0], row[2], row[4]] for row in numbers(part(logbook, name))] == [
            [
                day(t["skill"]["date"]),
                f"{t['skill']['median']:.3f}",
                f"{t['skill']['q1']:.3f} to {t['skill']['q3']:.3f}",
            ]
            for t in found[key]
        ]
    assert numbers(part(logbook, "weeks")) == [
        [
            day(w["monday"]),
            str(w["sessions"]),
            f"{w['minutes']:.2f}",
            f"{w['minutes_cap']:.2f}",
            str(w["reps"]),
            str(w["reps_cap"]),
            str(w["over_cap"]),
        ]
        for w in found["weeks"]
    ]
    growth = found["growth"]
    expect(part(logbook, "rate")).to_contain_text(f"×{growth['per_week']:.2f} a week")
    # Four days are too few to claim any growth.
    assert (growth["days"], growth["low"]) == (4, None)
    expect(logbook.get_by_text("Five days or more tell whether the rate grows.")).to_be_visible()


def test_two_hands_are_told_apart(logbook):
    expect(part(logbook, "marker")).to_contain_text("Open rings: wren; filled: teasel")


def test_sessions_are_filtered_by_trainer_tag_verdict_and_words(logbook, book):
    rows = logbook.locator("[data-session]")
    expect(rows).to_have_count(4)
    logbook.get_by_label("Trainer").select_option("teasel")
    expect(rows).to_have_count(2)
    logbook.get_by_label("Tag", exact=True).select_option("windy")
    expect(rows).to_have_count(1)
    expect(logbook.get_by_role("status")).to_have_text("1 of 4 sessions")
    logbook.get_by_label("Trainer").select_option("")
    logbook.get_by_label("Tag", exact=True).select_option("")
    verdict = next(s for s in book["sessions"] if s["verdict"])
    word = verdict["verdict"]
    logbook.get_by_label("Verdict").select_option(word)
    expect(rows).to_have_count(sum(s["verdict"] == word for s in book["sessions"]))
    logbook.get_by_label("Verdict").select_option("")
    logbook.get_by_label("Words").fill("no such thing")
    expect(logbook.get_by_text("No session is like this.")).to_be_visible()


def test_a_session_by_hand_is_entered_changed_and_removed(logbook, trainer, kept):
    logbook.get_by_role("button", name="Enter a session by hand").click()
    dialog = logbook.get_by_role("dialog")
    dialog.get_by_label("Day").fill("2026-05-20")
    dialog.get_by_label("Minutes").fill("1.5")
    dialog.get_by_label("Reps").fill("6")
    dialog.get_by_label("of them fit").fill("9")
    dialog.get_by_label("Note").fill("no battery")
    dialog.get_by_role("button", name="Keep").click()
    expect(dialog.get_by_role("alert")).to_have_text("More than the 6 reps.")
    dialog.get_by_label("of them fit").fill("5")
    dialog.get_by_role("button", name="Keep").click()
    row = logbook.locator("[data-session]", has_text="Wed 20 May")
    expect(row).to_contain_text("by hand")
    expect(row).to_contain_text("5 of 6 fit")
    row.get_by_role("button", name="Change").click()
    dialog.get_by_label("Rewarded").fill("6")
    dialog.get_by_role("button", name="Keep").click()
    expect(row).to_contain_text("4.0 a minute")
    row.get_by_role("button", name="Change").click()
    dialog.get_by_role("button", name="Remove").click()
    expect(row).to_have_count(0)
    logbook.get_by_role("button", name="Undo").click()
    expect(row).to_contain_text("4.0 a minute")
    expect(row).to_contain_text("no battery")
    row.get_by_role("button", name="Change").click()
    dialog.get_by_role("button", name="Remove").click()
    expect(row).to_have_count(0)
    assert len(trainer.ask("GET", f"/api/logbook/{kept}").json()["sessions"]) == 4


def test_a_tag_is_put_on_and_taken_off(logbook):
    row = logbook.locator("[data-session]").first
    row.get_by_role("button", name="Tag the session").click()
    row.get_by_label("New tag").fill("new place")
    row.get_by_label("New tag").press("Enter")
    expect(row.get_by_role("button", name="Take off the tag new place")).to_be_visible()
    logbook.reload()
    row.get_by_role("button", name="Take off the tag new place").click()
    expect(row.get_by_role("button", name="Take off the tag new place")).to_have_count(0)


def test_the_table_goes_out_as_csv(logbook, book):
    with logbook.expect_download() as download:
        logbook.get_by_role("link", name="CSV").click()
    with open(download.value.path(), newline="") as file:
        rows = list(csv.DictReader(file))
    assert [r["date"] for r in rows] == [s["date"] for s in book["sessions"]]
    assert json.loads(rows[0]["attempts"]) == book["sessions"][0]["attempts"]


def test_a_behaviour_without_sessions_says_how_to_begin(page, house, trainer):
    learner = trainer.ask("POST", "/api/learners", json={"name": "Sorrel the calf"}).json()
    body = {"learner_id": learner["id"], "starter": "straw"}
    behaviour = trainer.ask("POST", "/api/behaviours", json=body).json()
    page.goto(f"{house.url}/logbook/{behaviour['id']}")
    expect(page.get_by_role("heading", name="No session yet")).to_be_visible()
    expect(page.get_by_role("button", name="Enter a session by hand")).to_be_visible()


@pytest.mark.long
def test_the_logbook_can_be_read_on_a_phone(logbook):
    logbook.set_viewport_size({"width": 390, "height": 844})
    assert logbook.evaluate("() => document.documentElement.scrollWidth") <= 390


@pytest.fixture(scope="module")
def other(trainer):
    """Another behaviour: the worked session of stays, cues, a chain and touches."""
    learner = trainer.ask("POST", "/api/learners", json={"name": "Sorrel"}).json()
    body = {"learner_id": learner["id"], "starter": "stand", "name": "Many ways"}
    behaviour = trainer.ask("POST", "/api/behaviours", json=body).json()
    path = Path(__file__).parents[1] / "core" / "trials-worked.json"
    document = json.loads(path.read_text(encoding="utf-8"))
    session_id = trainer.ask("POST", "/api/sessions/import", json=document).json()["session_id"]
    path = f"/api/behaviours/{behaviour['id']}/sessions"
    plan = document["plan"]
    trainer.ask("POST", path, json={"session_id": session_id})
    edit = {"client_id": "plan", "body": {"op": "facts", "set": {"plan": plan}}}
    trainer.ask("POST", f"/api/sessions/{session_id}/edits", json={"edits": [edit]})
    return behaviour["id"]


@pytest.mark.parametrize(
    ("name", "said"),
    few(
        2,
        [
            ("ease", "2"),
            ("hits", "2 of 4"),
            ("alarms", "1 of 3"),
            ("stay", "4.0 s"),
            ("return", "14.0 s"),
            ("chain", "1 of 2"),
            ("alone", "of 12"),
        ],
    ),
)
def test_the_logbook_follows_what_the_sessions_hold(page, house, other, name, said):
    page.goto(f"{house.url}/logbook/{other}")
    expect(part(page, name)).to_contain_text(said)


def test_what_no_session_holds_is_not_there(logbook):
    for name in ("hits", "alarms", "stay", "return", "chain", "alone"):
        expect(part(logbook, name)).to_have_count(0)


@pytest.mark.long
def test_two_logbooks_stand_side_by_side_on_request(logbook, page, kept, other, trainer):
    books = [trainer.ask("GET", f"/api/logbook/{id_}").json() for id_ in (kept, other)]
    page.get_by_label("Beside it").select_option(other)
    table = page.get_by_role("table", name="Both in short")
    expect(table.get_by_role("columnheader")).to_have_text(
        [f"{b['learner']}{b['behaviour']}" for b in books]
    )
    rows = [
        f"{b['book']['in_short']['sessions']} on {b['book']['in_short']['days']}" for b in books
    ]
    cells = table.get_by_role("row", name="sessions").last.get_by_role("cell")
    for cell, words in zip(cells.all(), rows, strict=True):
        expect(cell).to_contain_text(words)
    expect(page.locator("section#stairs")).to_have_count(2)
    # The address holds it, and nothing beside it is as before.
    assert f"beside={other}" in page.url
    page.get_by_label("Beside it").select_option("")
    expect(page.locator("section#stairs")).to_have_count(1)


def test_what_each_school_would_have_done_stands_under_the_stairs(logbook, book):
    stairs = part(logbook, "stairs")
    stairs.get_by_text("What each school would have done").click()
    plot = stairs.get_by_role("img", name="What each school would have said")
    judged = [s for s in book["sessions"] if s["schools"]]
    raised = sum(s == "raise" for row in judged for s in row["schools"].values())
    lowered = sum(s == "lower" for row in judged for s in row["schools"].values())
    expect(plot.locator("path[fill='var(--behaviour)']")).to_have_count(raised)
    expect(plot.locator("path[fill='var(--marker)']")).to_have_count(lowered)


def test_the_plans_conditions_stand_by_their_levels_and_one_is_next(logbook, book):
    """The bell's plan names a location; what was coded beside it stands there as well."""
    section = part(logbook, "variation")
    rows = book["programme"]["rows"]
    assert rows[0]["name"] == "location"
    for row in rows:
        heading = section.get_by_role("heading", name=row["name"], exact=True)
        levels = heading.locator("xpath=../ol/li")
        expect(levels).to_have_count(len(row["levels"]))
    # As the judgement goes, so do the conditions: nothing new beside a step under work.
    said = {
        "steady": "Nothing new around it while the step is not sure: location yard.",
        "step": "The step itself changes, so nothing else does: location yard.",
    }
    expect(section).to_contain_text(said[book["programme"]["next"]["why"]])
    expect(section.get_by_role("listitem").first).to_contain_text("not tried yet")


def test_a_session_by_hand_says_signs_leaving_help_and_conditions(logbook, trainer, kept):
    logbook.get_by_role("button", name="Enter a session by hand").click()
    dialog = logbook.get_by_role("dialog")
    dialog.get_by_label("Minutes").fill("2")
    dialog.get_by_label("Reps").fill("5")
    dialog.get_by_label("of them fit").fill("5")
    dialog.get_by_label("Step").select_option("nose")
    dialog.get_by_label("marked signs").fill("1")
    dialog.get_by_label("It left").fill("1")
    dialog.get_by_label("Most help").select_option("gesture")
    dialog.get_by_label("Conditions").fill("side: left, place: barn")
    dialog.get_by_role("button", name="Keep").click()
    expect(dialog).to_have_count(0)
    rows = trainer.ask("GET", f"/api/logbook/{kept}").json()["sessions"]
    (made,) = [r for r in rows if (r["counts"] or {}).get("opt_outs")]
    assert made["counts"]["signs"] == [{"severity": 2}]
    assert made["counts"]["help"] == "gesture"
    assert made["counts"]["conditions"] == {"side": "left", "place": "barn"}
    # No count of rewards is no count, and unease comes before five of five.
    assert (made["per_min"], made["code"]) == (None, "unease")
    expect(logbook.get_by_text("One step back from “Nose on the rope”").first).to_be_visible()
    trainer.ask("DELETE", f"/api/sessions/{made['session_id']}")
