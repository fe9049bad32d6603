"""Findings: every number is the core's, opens its reps, and each rep its frames."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from tests.long import few

from .conftest import cleaned


@pytest.fixture
def measured(trainer, coded):
    return trainer.ask("GET", f"/api/sessions/{coded['session_id']}/findings").json()


@pytest.fixture
def findings(measured):
    return measured["findings"]


@pytest.fixture
def judgement(trainer, coded):
    path = f"/api/sessions/{coded['session_id']}/judgement"
    return trainer.ask("GET", path).json()["judgement"]


@pytest.fixture
def opened(page, house, coded, judgement):
    page.goto(f"{house.url}/sessions/{coded['session_id']}/findings")
    expect(page.get_by_role("heading", level=1)).to_have_text(judgement["headline"])
    return page


def signed(value, digits=3):
    return f"{'−' if value < 0 else '+'}{abs(value):.{digits}f} s"


def section(page, name):
    return page.locator(f"section[id='{name}']")


def numbers(part):
    """The table behind a plot, as its rows of texts."""
    table = part.locator("details", has=part.page.locator("> summary", has_text="In numbers")).first
    table.get_by_text("In numbers", exact=True).click()
    expect(table.locator("tbody tr").first).to_be_visible()
    rows = table.locator("tbody tr").all()
    return [row.locator("th, td").all_text_contents() for row in rows]


def test_the_main_numbers_are_the_cores(opened, findings):
    marker, reward = findings["marker_latency_s"], findings["reward_latency_s"]
    expect(section(opened, "marker_latency_s")).to_contain_text(signed(marker["median"], 2))
    expect(section(opened, "reward_latency_s")).to_contain_text(signed(reward["median"], 2))
    rate = findings["rates"]["reinforcement_per_min"]
    expect(section(opened, "rates")).to_contain_text(f"{rate['value']:.1f}")
    pay = findings["certainty"]["pay"]
    expect(section(opened, "rates")).to_contain_text(f"{pay['low']:.1f} to {pay['high']:.1f}")
    success, fits = findings["success"], findings["certainty"]["fits"]
    expect(section(opened, "success")).to_contain_text(f"{success['met']} of {success['judged']}")
    expect(section(opened, "success")).to_contain_text(
        f"{round(fits['low'] * 100)} % to {round(fits['high'] * 100)} %"
    )
    # A standard uncertainty, said as what it leaves open 95 of 100 times.
    ms = round(findings["sources"]["marker_latency_s"] * 1960)
    expect(section(opened, "marker_latency_s")).to_contain_text(f"±{ms} ms")


def test_each_rep_stands_in_the_list_with_its_latencies(opened, findings):
    rows = opened.locator("#reps tbody tr")
    expect(rows).to_have_count(len(findings["reps"]))
    for place, rep in enumerate(findings["reps"]):
        if rep["marker_latency_s"] is not None:
            expect(rows.nth(place)).to_contain_text(signed(rep["marker_latency_s"]))
        if rep["reward_latency_s"] is not None:
            expect(rows.nth(place)).to_contain_text(signed(rep["reward_latency_s"]))


@pytest.mark.parametrize("key", few(1, ["early", "on_time", "late"]))
def test_a_count_opens_its_reps(opened, findings, key):
    behind = [r for r in findings["reps"] if r["timing"] == key]
    words = {"early": "early", "on_time": "on time", "late": "late"}[key]
    link = section(opened, "marker_latency_s").get_by_role("link", name=f"{len(behind)} {words}")
    link.click()
    expect(opened.locator("#reps tbody tr")).to_have_count(len(behind))


def test_a_rep_opens_its_frames(opened, findings, coded):
    number, rep = next((n, r) for n, r in enumerate(findings["reps"]) if r["marker_s"] is not None)
    row = opened.locator("#reps tbody tr").nth(number)
    row.get_by_role("link").nth(1).click()
    expect(opened.locator("canvas[role=img]")).to_have_attribute(
        "data-frame", str(round(rep["marker_s"] * 30))
    )


def test_a_session_without_marks_says_what_to_do(page, house, trainer, shared_short):
    film = cleaned(trainer, shared_short)
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


def test_what_to_do_next_is_the_cores_judgement(opened, judgement):
    decision = opened.get_by_test_id("decision")
    expect(decision).to_have_attribute("data-decision", judgement["decision"])
    expect(opened.locator(f"p[data-code={judgement['why']['code']}]")).to_have_text(
        judgement["why"]["text"]
    )
    for said in judgement["beside"]:
        expect(opened.locator(f"li[data-code={said['code']}]")).to_have_text(said["text"])
    if judgement["hands"]:
        expect(opened.get_by_test_id("hands")).to_contain_text(judgement["hands"])
    expect(opened.get_by_test_id("record")).to_contain_text(
        f"{judgement['record']['judged']} judged rep"
    )


def test_why_opens_the_lines_the_sessions_and_the_schools(opened, judgement):
    opened.get_by_text("Why?", exact=True).click()
    lines = opened.get_by_role("list", name="Lines asked").get_by_role("listitem")
    expect(lines).to_have_count(len(judgement["checked"]) + 1)
    for line, asked in zip(lines.all(), judgement["checked"], strict=False):
        expect(line).to_have_text(f"{asked['question']} {asked['found']}")
    sessions = opened.get_by_role("list", name="Sessions it rests on").get_by_role("listitem")
    expect(sessions).to_have_count(judgement["record"]["sessions"])
    expect(opened.get_by_text("By a share of the last reps")).to_be_visible()


@pytest.mark.long
def test_findings_can_be_read_on_a_phone(opened):
    opened.set_viewport_size({"width": 390, "height": 844})
    assert opened.evaluate("() => document.documentElement.scrollWidth") <= 390
    # A table wider than the screen moves by itself.
    assert opened.locator("#reps .overflow-x-auto").evaluate("e => e.scrollWidth > e.clientWidth")


@pytest.fixture(scope="module")
def rich(trainer):
    """A session with everything there is to find, come in as a document."""
    events = []

    def add(kind, t, **fields):
        events.append(
            {"id": f"{kind}{len(events)}", "kind": kind, "t": t, "width": 1 / 30, **fields}
        )

    add("criterion", 0.5, approximation="down")
    for n in range(14):
        at = 4.0 + 6 * n + 0.15 * n * n / 10
        if n == 6:
            add("criterion", at - 2, approximation="drop")
        key = "down" if n < 6 else "drop"
        met = n % 4 != 3
        add("cue", at - 1.2, label="mat")
        add("prompt", at - 0.4, level="gesture" if n < 3 else "none")
        where = {"clock": ["3", "9", "6"][n % 3], "side": ["left", "right"][n % 2], "floor": "wet"}
        add("onset", at, approximation=key, met=met, conditions=where)
        add("offset", at + 0.9)
        if met:
            add("marker", at + 0.2 + 0.03 * n, marker="event")
            add("reach", at + (0.1 if n % 5 == 0 else 0.6))
            add("reward", at + 1.5 + 0.1 * n, placement="ahead" if n % 3 else "in place", pieces=1)
    add("other_behaviour", 95.0, label="paws")
    add("marker", 95.4, marker="event")
    add("reward", 96.5)
    add("sign", 97.0, label="yawns", severity=2)
    add("no_cue_window", 100.0, end_s=104.0)
    add("reward", 120.0)
    plan = {
        "rule": {"kind": "run", "need": 5, "miss": 3},
        "placement": {"ahead": 0.5, "in place": 0.5},
        "approximations": [
            {"key": "down", "title": "Bucket set down", "mark_at": "onset"},
            {"key": "drop", "title": "Bucket dropped", "mark_at": "onset"},
        ],
    }
    document = {
        "format": "frequens-session",
        "version": 1,
        "session": {"learner": "Thistle", "behaviour": "Stand", "start_s": 0, "end_s": 125},
        "recording": {"duration_s": 125},
        "plan": plan,
        "events": events,
    }
    said = trainer.ask("POST", "/api/sessions/import", json=document)
    assert said.status_code == 201, said.text
    session_id = said.json()["session_id"]
    found = trainer.ask("GET", f"/api/sessions/{session_id}/findings").json()["findings"]
    return session_id, found


@pytest.fixture
def whole(page, house, rich):
    page.goto(f"{house.url}/sessions/{rich[0]}/findings")
    expect(page.get_by_test_id("splits")).to_be_visible()
    return page


def per_rep(found, key, digits=3):
    return [
        [str(n), f"{r[key]:.{digits}f}"]
        for n, r in enumerate(found["reps"], 1)
        if r[key] is not None
    ]


def test_the_numbers_behind_every_plot_are_the_cores(whole, rich):
    found = rich[1]
    for part, key in (
        ("marker_latency_s", "marker_latency_s"),
        ("reward_latency_s", "reward_latency_s"),
        ("reach_lead_s", "reach_lead_s"),
    ):
        assert [row[:2] for row in numbers(section(whole, part))] == per_rep(found, key)
    assert [[row[0], row[2]] for row in numbers(section(whole, "pause_s"))] == per_rep(
        found, "pause_s"
    )
    assert [[row[0], row[2]] for row in numbers(section(whole, "held_s"))] == per_rep(
        found, "held_s"
    )
    assert numbers(section(whole, "rates")) == [
        [f"{p['t_s']:.1f}", f"{p['per_min']:.2f}"] for p in found["rate_curve"]
    ]
    assert numbers(section(whole, "cumulative")) == [
        [str(s["count"]), f"{s['t_s']:.3f}", f"{s['training_s']:.3f}"] for s in found["cumulative"]
    ]
    paws = found["offered"]["labels"]["paws"]
    halves = [str(paws["first_half"]), str(paws["second_half"])]
    assert [[*row[:2], *row[3:]] for row in numbers(section(whole, "offered"))] == [
        ["paws", "1", *halves, f"{paws['p']:.3f}"]
    ]
    assert [row[:2] for row in numbers(section(whole, "signs"))] == [["yawns", "1"]]
    assert [row[:2] for row in numbers(section(whole, "placement"))] == [
        [place, str(p["count"])] for place, p in found["placement"].items()
    ]
    words = {"gesture": "a gesture", "none": "no help"}
    assert numbers(section(whole, "prompts")) == [
        [words[level], str(n)] for level, n in found["prompts"]["attempts"].items()
    ]
    control = found["stimulus_control"]
    assert [row[1:] for row in numbers(section(whole, "stimulus_control"))] == [
        [str(control["hit"]), str(control["wrong"]), str(control["miss"])],
        [str(control["false_alarm"]), "", str(control["correct_rejection"])],
    ]
    for name, condition in found["conditions"].items():
        assert [row[:3] for row in numbers(section(whole, f"conditions.{name}"))] == [
            [level, str(v["attempts"]), f"{v['success']['count']} of {v['success']['of']}"]
            for level, v in condition["levels"].items()
        ]


def test_conditions_are_drawn_by_their_kind(whole, rich):
    found = rich[1]["conditions"]
    clock = section(whole, "conditions.clock").get_by_role("img")
    said = "; ".join(
        f"{hour} o'clock: {v['success']['count']} of {v['success']['of']}"
        for hour, v in found["clock"]["levels"].items()
    )
    expect(clock).to_have_attribute("aria-label", said)
    sides = section(whole, "conditions.side")
    p = found["side"]["difference"]["p"]
    expect(sides).to_contain_text(f"by chance alone as far apart or further: {round(100 * p)} %")
    # One level of a condition says nothing of a difference.
    expect(section(whole, "conditions.floor")).not_to_contain_text("weaker")


@pytest.mark.parametrize(
    ("part", "link", "holds"),
    few(
        2,
        [
            ("reach_lead_s", "moved before the marker", lambda r: r["hand_first"] is True),
            ("placement", "in place", lambda r: "in place" in r["placements"]),
            ("prompts", "after a gesture", lambda r: r["help"] == "gesture"),
            ("conditions.side", "left", lambda r: r["conditions"]["side"] == "left"),
            ("conditions.clock", "6 o'clock", lambda r: r["conditions"]["clock"] == "6"),
            ("pause_s", " s", lambda r: r["pause_s"] is not None),
            ("marker_latency_s", "on the behaviour", lambda r: r["caught"] == "target"),
            ("success", "not yet", lambda r: r["met"] is False),
        ],
    ),
)
def test_every_number_opens_its_reps(whole, rich, part, link, holds):
    section(whole, part).get_by_role("link", name=link).first.click()
    behind = [str(n) for n, r in enumerate(rich[1]["reps"], 1) if holds(r)]
    expect(whole.locator("#reps tbody th")).to_have_text(behind)


@pytest.mark.parametrize(
    ("part", "link", "kind"),
    few(
        1,
        [
            ("signs", "yawns", "sign"),
            ("marker_latency_s", "on “paws”", "marker"),
            ("reward_latency_s", "rewards without a marker", "reward"),
            ("stimulus_control", "without a cue", "window"),
        ],
    ),
)
def test_what_is_no_rep_opens_its_moments(whole, rich, part, link, kind):
    section(whole, part).get_by_role("link", name=link).first.click()
    moments = [m for m in rich[1]["moments"] if kind in (m.get("kind"), m.get("role"))]
    assert moments
    expect(whole.locator("#reps tbody tr")).to_have_count(len(moments))
    whole.get_by_role("button", name="Show all reps").click()
    expect(whole.locator("#reps tbody tr")).to_have_count(len(rich[1]["reps"]))


def test_stretches_stand_beside_steps(whole, rich, trainer):
    session_id, found = rich
    # Back to the first step for the last rep: three stretches of two steps.
    mark = {"id": "back", "kind": "criterion", "t": found["reps"][-1]["onset_s"] - 1}
    edit = {"op": "put", "event": {**mark, "approximation": "down"}}
    path = f"/api/sessions/{session_id}/edits"
    try:
        trainer.ask("POST", path, json={"edits": [{"client_id": "back", "body": edit}]})
        whole.reload()
        rows = whole.get_by_test_id("splits").locator("tbody tr")
        expect(rows).to_have_count(2)
        whole.get_by_role("button", name="Each stretch by itself").click()
        expect(rows).to_have_count(3)
        now = trainer.ask("GET", f"/api/sessions/{session_id}/findings").json()["findings"]
        for place, split in enumerate(now["splits"]["segments"]):
            fits = f"{split['met']} of {split['judged']}" if split["judged"] else "–"
            expect(rows.nth(place).locator("td").nth(1)).to_have_text(fits)
        rows.nth(1).get_by_role("link").click()
        behind = [str(n) for n, r in enumerate(now["reps"], 1) if r["stretch"] == 1]
        expect(whole.locator("#reps tbody th")).to_have_text(behind)
    finally:
        drop = {"client_id": "gone", "body": {"op": "drop", "id": "back"}}
        trainer.ask("POST", path, json={"edits": [drop]})


def test_only_what_the_session_holds_is_shown(opened):
    for part in ("prompts", "stimulus_control", "placement", "offered"):
        expect(section(opened, part)).to_have_count(0)
    expect(section(opened, "marker_latency_s")).to_be_visible()


def test_a_note_stays_beside_its_part_and_survives_a_lost_server(whole, rich, trainer):
    rate = section(whole, "rates")
    rate.get_by_role("button", name="Write a note on the rate").click()
    whole.route("**/edits", lambda route: route.abort())
    whole.get_by_label("Note on the rate").fill("Windy. She looked up often.")
    whole.get_by_label("Note on the rate").blur()
    expect(whole.get_by_text("the server does not answer").first).to_be_visible()
    expect(whole.get_by_label("Note on the rate")).to_have_value("Windy. She looked up often.")
    whole.unroute("**/edits")
    whole.get_by_label("Note on the rate").focus()
    whole.get_by_label("Note on the rate").blur()
    expect(rate.get_by_role("button", name="Change the note on the rate")).to_be_visible()
    whole.reload()
    expect(section(whole, "rates")).to_contain_text("Windy. She looked up often.")
