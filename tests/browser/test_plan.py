"""Writing a plan: the stairs, remarks at their place, calculators, and nothing lost."""

from __future__ import annotations

import json
import re

import pytest
from playwright.sync_api import expect


@pytest.fixture
def learner(trainer):
    return trainer.ask(
        "POST", "/api/learners", json={"name": "Bramble", "species": "pony", "health": ["old"]}
    ).json()


@pytest.fixture
def made(trainer, learner):
    """A plan from the pony's starter."""
    return trainer.ask(
        "POST", "/api/behaviours", json={"learner_id": learner["id"], "starter": "stand"}
    ).json()


@pytest.fixture
def plan(page, house, made):
    page.goto(f"{house.url}/plans/{made['id']}")
    expect(page.locator("[data-step]")).to_have_count(6)
    return page


def wait_kept(page):
    expect(page.locator("[data-keeping]")).to_have_attribute("data-keeping", "saved")


def kept(trainer, made):
    return trainer.ask("GET", f"/api/behaviours/{made['id']}").json()["plan"]["document"]


def titles(trainer, made):
    return [s.get("title") for s in kept(trainer, made)["approximations"]]


def test_a_newcomer_makes_a_learner_a_behaviour_and_a_first_step(page, house, trainer):
    page.goto(f"{house.url}/plans")
    page.get_by_role("button", name="A new learner").click()
    page.get_by_label("Name").fill("Pepper")
    page.get_by_label("Species").fill("hen")
    page.get_by_role("button", name="timid").click()
    page.get_by_role("button", name="Keep").click()
    page.get_by_role("button", name="A new behaviour for Pepper").click()
    page.get_by_label("Behaviour", exact=True).fill("Stand on the crate")
    page.get_by_role("button", name="Make the plan").click()
    page.get_by_role("button", name="Write the first step").click()
    page.get_by_label("Name of the step").fill("One foot on the crate")
    page.get_by_label("A rep fits when").fill("One foot touches the crate.")
    wait_kept(page)
    behaviours = trainer.ask("GET", "/api/behaviours").json()
    (found,) = [b for b in behaviours if b["name"] == "Stand on the crate"]
    assert found["steps"] == 1


def test_a_step_is_inserted_split_moved_and_taken_out(plan, trainer, made):
    plan.get_by_role("button", name="A step before Lifts the hoof").click()
    plan.get_by_label("Name of the step").fill("Shifts its weight")
    wait_kept(plan)
    assert titles(trainer, made)[:3] == [
        *("Steps up to the stand", "Shifts its weight", "Lifts the hoof")
    ]
    # The step above now falls back to the new one.
    steps = kept(trainer, made)["approximations"]
    assert steps[2]["fallback"] == steps[1]["key"]
    plan.get_by_role("button", name="later").click()
    wait_kept(plan)
    assert titles(trainer, made)[1:3] == ["Lifts the hoof", "Shifts its weight"]
    plan.get_by_role("button", name="Take it out").click()
    expect(plan.locator("[data-step]")).to_have_count(6)
    plan.get_by_role("button", name="Step 4: Hoof rests 1 s").click()
    plan.get_by_role("button", name="Split in two").click()
    expect(plan.locator("[data-step]")).to_have_count(7)
    plan.locator("body").press("Control+z")
    expect(plan.locator("[data-step]")).to_have_count(6)
    wait_kept(plan)
    assert titles(trainer, made)[3] == "Hoof rests 1 s"


def test_remarks_come_while_one_writes_and_mend_at_a_press(plan, trainer, made):
    status = plan.get_by_role("complementary", name="What is opened").get_by_role("status")
    expect(status).to_contain_text("Nothing to mend")
    plan.get_by_role("button", name="Step 3: Hoof touches the stand").click()
    plan.get_by_role("button", name="duration").click()
    note = plan.locator("[data-remark=two_dimensions]")
    expect(note).to_contain_text("precision and duration")
    note.get_by_role("button", name="Split this step in two").click()
    expect(status).not_to_contain_text("Two things at once")
    wait_kept(plan)
    steps = kept(trainer, made)["approximations"]
    assert [s["raises"] for s in steps[2:4]] == [["precision"], ["duration"]]
    plan.get_by_label("A rep fits when").fill("It is calm on the stand.")
    expect(plan.locator("[data-remark=not_on_film]")).to_contain_text("calm")


def test_the_cautions_stand_where_the_risk_arises(plan):
    plan_panel = plan.get_by_role("region", name="The whole plan")
    caution = plan_panel.locator("[data-remark=old]")
    expect(caution).to_contain_text("Bramble is old")
    expect(plan_panel.locator("[data-remark=ropes]")).to_have_count(0)
    plan_panel.get_by_role("button", name="ropes").click()
    expect(plan_panel.locator("[data-remark=ropes]")).to_be_visible()


def test_calculators_fill_the_fields_they_stand_beside(plan, trainer, made):
    plan.get_by_text("Work out places around the animal").click()
    expect(plan.get_by_role("img", name="stage 1: 3 and 9 o'clock", exact=False)).to_be_visible()
    plan.get_by_role("button", name="Vary the clock").click()
    wait_kept(plan)
    (clock,) = [c for c in kept(trainer, made)["conditions"] if c["name"] == "clock"]
    assert clock["levels"] == ["3", "9", "4", "8", "5", "7", "6"]
    plan.get_by_label("Days until a level counts as untried").fill("21")
    wait_kept(plan)
    assert kept(trainer, made)["programme"] == {"fades_days": 21}
    plan.get_by_text("Work out blocks and breaks").click()
    plan.get_by_label("Minutes of work").fill("6")
    expect(plan.get_by_text("over common practice")).to_be_visible()
    plan.get_by_role("button", name="Limit a session to one block").click()
    wait_kept(plan)
    assert kept(trainer, made)["session_cap_s"] == 120
    plan.get_by_role("button", name="Step 4: Hoof rests 1 s").click()
    plan.get_by_text("Work out durations").click()
    plan.get_by_label("Last seconds").fill("2")
    plan.get_by_role("button", name="Put these in as steps").click()
    wait_kept(plan)
    holds = [s["hold_s"] for s in kept(trainer, made)["approximations"] if "hold_s" in s]
    assert holds == [1.0, 1, 1.5, 2, 3.0, 5.0]


@pytest.mark.long
def test_a_bad_number_is_answered_at_its_calculator(plan):
    plan.get_by_text("Work out blocks and breaks").click()
    plan.get_by_label("Minutes of work").fill("0")
    expect(plan.get_by_role("alert")).to_contain_text("work_s must be above 0")


@pytest.mark.long
def test_what_was_written_survives_a_closed_tab_without_a_connection(
    plan, context, trainer, made, house
):
    plan.route("**/api/behaviours/**", lambda route: route.abort())
    plan.get_by_label("The end picture").fill("A front hoof on the stand for 5 s.")
    expect(plan.locator("[data-keeping]")).to_have_attribute("data-keeping", "waiting")
    plan.close()
    again = context.new_page()
    again.goto(f"{house.url}/plans/{made['id']}")
    expect(again.get_by_label("The end picture")).to_have_value(
        "A front hoof on the stand for 5 s."
    )
    wait_kept(again)
    assert kept(trainer, made)["goal"] == "A front hoof on the stand for 5 s."


@pytest.mark.long
def test_two_tabs_are_asked_which_plan_should_stand(plan, context, trainer, made, house):
    other = context.new_page()
    other.goto(f"{house.url}/plans/{made['id']}")
    other.get_by_label("The end picture").fill("Theirs.")
    wait_kept(other)
    plan.get_by_label("The end picture").fill("Mine.")
    expect(plan.get_by_role("alert")).to_contain_text("changed in another place")
    plan.get_by_role("button", name="The one on this screen").click()
    wait_kept(plan)
    assert kept(trainer, made)["goal"] == "Mine."


def test_a_plan_goes_out_as_json_and_makes_another(plan, house, tmp_path, learner):
    plan.get_by_role("button", name="Plan", exact=True).click()
    with plan.expect_download() as download:
        plan.get_by_role("menuitem", name="Save the plan as JSON").click()
    path = tmp_path / "plan.json"
    download.value.save_as(path)
    assert json.loads(path.read_text())["format"] == "frequens-plan"
    plan.goto(f"{house.url}/plans")
    plan.get_by_role("button", name=f"A new behaviour for {learner['name']}").last.click()
    plan.get_by_label("Plan as JSON").set_input_files(path)
    plan.get_by_role("button", name="Make the plan").click()
    expect(plan.locator("[data-step]")).to_have_count(6)
    assert made_elsewhere(plan.url)


def made_elsewhere(url):
    return re.search(r"/plans/[0-9a-f-]{36}$", url)


@pytest.mark.long
def test_the_keyboard_alone_reads_opens_and_moves_a_step(plan, trainer, made):
    plan.locator("[data-step]").first.focus()
    plan.keyboard.press("Enter")
    expect(plan.get_by_role("region", name="Step 1")).to_be_visible()
    plan.locator("[data-step]").first.focus()
    plan.keyboard.press("Alt+ArrowRight")
    wait_kept(plan)
    assert titles(trainer, made)[:2] == ["Lifts the hoof", "Steps up to the stand"]


def opened(plan, name):
    plan.get_by_role("button", name=name).click()
    return plan.get_by_role("complementary", name="What is opened")


@pytest.mark.long
def test_a_step_can_be_a_chain_that_is_named_reordered_and_cut(plan, trainer, made):
    panel = opened(plan, "Step 2: Lifts the hoof")
    panel.get_by_role("button", name="It is a chain of parts").click()
    panel.get_by_label("Part 1", exact=True).fill("lifts it")
    panel.get_by_label("Part 2", exact=True).fill("sets it down")
    panel.get_by_role("button", name="One more part").click()
    panel.get_by_label("Part 3", exact=True).fill("steps back")
    panel.get_by_role("button", name="Part 3 earlier").click()
    wait_kept(plan)

    def parts():
        return [p["title"] for p in kept(trainer, made)["approximations"][1]["parts"]]

    assert parts() == ["lifts it", "steps back", "sets it down"]
    keys = [p["key"] for p in kept(trainer, made)["approximations"][1]["parts"]]
    assert len(set(keys)) == 3
    panel.get_by_role("button", name="Take part 2 out").click()
    panel.get_by_role("button", name="Take part 2 out").click()
    wait_kept(plan)
    assert parts() == ["lifts it"]
    # One part is no chain.
    expect(plan.locator("[data-remark=part_of_one]")).to_be_visible()


@pytest.mark.long
def test_what_else_a_step_asks_is_kept_as_the_core_reads_it(plan, trainer, made):
    panel = opened(plan, "Step 2: Lifts the hoof")
    panel.get_by_role("button", name="when I let it go").click()
    panel.get_by_role("button", name="A number of each rep").click()
    panel.get_by_label("What is measured").fill("height")
    panel.get_by_label("Unit").fill("cm")
    panel.get_by_label("The aim").fill("25")
    panel.get_by_label("Most help with which it still counts").select_option("gesture")
    panel.get_by_label("answered when asked, left alone when not").check()
    panel.get_by_label("Rewards a minute at this step, at least").fill("2.5")
    wait_kept(plan)
    step = kept(trainer, made)["approximations"][1]
    assert step["until_release"] is True
    assert step["quantity"] == {"name": "height", "unit": "cm", "better": "more", "target": 25}
    assert (step["help"], step["answers"], step["rate_floor_per_min"]) == ("gesture", True, 2.5)
    # The plan says that the marker ends the rep: that does not go together.
    panel.get_by_role("button", name="Measure nothing").click()
    panel.get_by_role("button", name="when it leaves off").click()
    wait_kept(plan)
    step = kept(trainer, made)["approximations"][1]
    assert "quantity" not in step
    assert "until_release" not in step


@pytest.mark.long
def test_cues_name_what_they_ask_for_and_half_a_row_is_not_kept(plan, trainer, made):
    plan.get_by_role("button", name="Say what each cue asks for").click()
    plan.get_by_label("Cue 1", exact=True).fill("hoof")
    wait_kept(plan)
    assert "cues" not in kept(trainer, made)
    plan.get_by_label("Behaviour that cue 1 asks for").fill("lift")
    plan.get_by_role("button", name="One more cue").click()
    plan.get_by_label("Cue 2", exact=True).fill("hoof")
    plan.get_by_label("Behaviour that cue 2 asks for").fill("ring")
    expect(plan.get_by_text("“hoof” stands twice")).to_be_visible()
    wait_kept(plan)
    assert kept(trainer, made)["cues"] == [{"label": "hoof", "behaviour": "lift"}]
    plan.get_by_label("Cue 2", exact=True).fill("bell")
    wait_kept(plan)
    assert [cue["label"] for cue in kept(trainer, made)["cues"]] == ["hoof", "bell"]


@pytest.mark.long
def test_limits_show_the_usual_and_its_reason_and_can_be_the_plans_own(plan, trainer, made):
    plan.get_by_text("The usual ones: how soon is soon").click()
    field = plan.get_by_label("Limit: a marker is on time up to, seconds")
    expect(field).to_have_value("0.5")
    expect(plan.get_by_text("Later than half a second")).to_be_visible()
    field.fill("0.3")
    expect(plan.get_by_text("1 of your own")).to_be_visible()
    wait_kept(plan)
    assert kept(trainer, made)["settings"] == {"on_time_s": 0.3}
    plan.get_by_role("button", name="as usual").click()
    wait_kept(plan)
    assert "settings" not in kept(trainer, made)


@pytest.mark.long
def test_a_chain_of_the_whole_plan_becomes_steps_with_parts_that_share_their_keys(
    plan, trainer, made
):
    plan.get_by_label("Parts of the chain").fill("takes it, carries it, drops it in")
    plan.get_by_label("Parts of the chain").blur()
    plan.get_by_text("Work out the order of joining").click()
    plan.get_by_role("button", name="Put these in as steps").click()
    expect(plan.locator("[data-step]")).to_have_count(11)
    wait_kept(plan)
    made_steps = kept(trainer, made)["approximations"][6:]
    parts = [[p["key"] for p in step.get("parts", [])] for step in made_steps]
    assert [len(p) for p in parts] == [0, 0, 0, 2, 3]
    assert parts[3] == parts[4][1:]
