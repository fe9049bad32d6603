"""The judgement over a behaviour's sessions: what older ones change, counted and coded."""

from __future__ import annotations

import copy
import json

import pytest

from frequens.core.decisions.judging import Digest
from frequens.server.findings.judgements import judged, judged_sessions, plan_in_force
from frequens.server.findings.models import KeptFindings
from frequens.server.library.sessions import TrainingSession
from tests.core.training_days import Counted, Day
from tests.core.training_days import judged as judged_in_the_core

from .conftest import sent


@pytest.fixture
def counted(wren, bell):
    def enter(n, **counts):
        body = {"date": f"2026-05-{n:02d}", "counts": {"minutes": 2, **counts}}
        made = sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", body)
        assert made[0] == 201, made
        return made[1]["session_id"]

    return enter


def judgement(client, session_id):
    status, found = sent(client, "GET", f"/api/sessions/{session_id}/judgement")
    assert status == 200, found
    return found["judgement"]


def test_sessions_by_hand_and_on_film_are_judged_together_as_in_the_core(
    wren, plan, filmed, counted
):
    counted(1, reps=3, met=3, reinforcements=6, approximation="nose")
    today = Day(plan, 2).at("nose").fits(2)
    said = judgement(wren, filmed(today))
    by_hand = Counted(plan, 1, "nose", 3, 3, minutes=2, rewards=6)
    alone = judged_in_the_core(by_hand, today)
    assert (said["decision"], said["headline"]) == (alone.decision, alone.headline)
    assert said["record"]["by_hand"] == 1


def test_changing_and_removing_an_older_session_changes_later_judgements(wren, plan, filmed):
    first = filmed(Day(plan, 1).at("nose").fits(3))
    last = filmed(Day(plan, 2).at("nose").fits(2))
    assert judgement(wren, last)["decision"] == "raise"
    edits = sent(wren, "GET", f"/api/sessions/{first}/export.json")[1]["events"]
    onset = next(e for e in edits if e["kind"] == "onset")
    body = {"op": "put", "event": {**onset, "met": False}}
    for n, event in enumerate(e for e in edits if e["kind"] == "onset"):
        body = {"op": "put", "event": {**event, "met": False}}
        edit = {"client_id": f"unmet-{n}", "body": body}
        sent(wren, "POST", f"/api/sessions/{first}/edits", {"edits": [edit]})
    assert judgement(wren, last)["decision"] == "hold"
    assert judgement(wren, last)["record"]["judged"] == 5
    sent(wren, "DELETE", f"/api/sessions/{first}")
    assert judgement(wren, last)["record"]["judged"] == 2


def test_a_later_session_changes_nothing_of_an_earlier_judgement(wren, plan, filmed):
    first = filmed(Day(plan, 1).at("nose").fits(3))
    before = judgement(wren, first)
    filmed(Day(plan, 2).at("nose").misses(5))
    assert judgement(wren, first) == before


def test_times_of_day_order_the_sessions_of_one_day(wren, plan, filmed):
    evening, morning = (Day(plan, 3).at("nose") for _ in range(2))
    evening.facts, morning.facts = {"time": "18:00"}, {"time": "08:00"}
    later = filmed(evening.fits(2))
    filmed(morning.fits(3))
    assert judgement(wren, later)["decision"] == "raise"


def test_by_hand_signs_leaving_help_and_conditions_steer(wren, counted):
    calm = counted(1, reps=5, met=5, reinforcements=9, approximation="nose")
    assert judgement(wren, calm)["decision"] == "raise"
    upset = counted(
        2, reps=5, met=5, reinforcements=9, approximation="nose", opt_outs=2,
        signs=[{"severity": 1}],
    )  # fmt: skip
    assert judgement(wren, upset)["why"]["code"] == "unease"
    led = counted(4, reps=9, met=9, reinforcements=20, approximation="mouth", help="food_lure")
    assert judgement(wren, led)["why"]["code"] == "help_left"
    uneven = counted(5, reps=5, met=1, approximation="mouth", conditions={"side": "left"})
    codes = {said["code"] for said in judgement(wren, uneven)["beside"]}
    assert "uneven" in codes


@pytest.mark.parametrize(
    "counts",
    [
        {"signs": [{"severity": 4}]},
        {"signs": [{"label": "x"}]},
        {"opt_outs": -1},
        {"help": "shouting"},
        {"conditions": ["left"]},
    ],
)
def test_counts_that_cannot_be_are_refused(wren, bell, counts):
    body = {"date": "2026-05-01", "counts": {"minutes": 2, **counts}}
    status, said = sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", body)
    assert status == 422
    assert any(next(iter(counts)) in fault for fault in said["faults"])


def test_all_sessions_at_once_are_judged_as_each_by_itself(wren, plan, filmed, counted):
    for n, pattern in enumerate(["+++", "-+-", "++++", "+++++"]):
        filmed(Day(plan, 2 * n + 1).at("nose" if n else "look").mixed(pattern))
    counted(4, reps=4, met=2, reinforcements=5, approximation="nose")
    found = list(TrainingSession.objects.select_related("plan_version"))
    digests = {
        s.pk: d.digest for s in found if (d := KeptFindings.objects.filter(session=s).first())
    }
    together = judged_sessions(found, digests)
    for session in found:
        assert together[session.pk].judgement == judged(session).judgement


def test_today_logbook_card_report_and_calendar_say_the_same(wren, bell, plan, filmed):
    filmed(Day(plan, 1).at("nose").fits(3))
    last = filmed(Day(plan, 2).at("nose").fits(2))
    headline = judgement(wren, last)["headline"]
    assert sent(wren, "GET", "/api/today")[1]["lines"][0]["sentence"] == headline
    rows = sent(wren, "GET", f"/api/logbook/{bell['id']}")[1]["sessions"]
    assert rows[0]["sentence"] == headline
    assert rows[0]["schools"]["run"] == "raise"
    assert sent(wren, "GET", f"/api/plans/next/{last}")[1]["why"]["text"] == headline
    calendar = wren.get(f"/api/plans/next/{last}.ics").content.decode()
    assert headline.split(":")[0] in calendar.replace("\r\n ", "").replace("\\,", ",")
    page = wren.get(f"/api/sessions/{last}/report.html").content.decode()
    assert headline in page.replace("&#x27;", "'")


def test_a_step_named_at_the_bench_is_in_the_one_plan_of_its_session(wren, bell, plan, filmed):
    last = filmed(Day(plan, 2).at("ring").fits(5))
    own = copy.deepcopy(plan)
    own["approximations"].append({"key": "new", "title": "From the gate"})
    edit = {"client_id": "plan", "body": {"op": "facts", "set": {"plan": own}}}
    sent(wren, "POST", f"/api/sessions/{last}/edits", {"edits": [edit]})
    keys = [s["key"] for s in bell["plan"]["document"]["approximations"]]
    session = TrainingSession.objects.get(pk=last)
    steps = plan_in_force(session, own)["approximations"]
    assert [s["key"] for s in steps] == [*keys, "new"]
    # What the shaping plan says of a step is known of it here as well.
    assert steps[0]["criterion"] == bell["plan"]["document"]["approximations"][0]["criterion"]
    card = sent(wren, "GET", f"/api/plans/next/{last}")[1]
    assert card["criterion"] == judgement(wren, last)["next_step"]
    assert card["titles"]["new"] == "From the gate"


def test_a_missing_step_is_written_into_the_plan_half_way(wren, bell, plan, filmed):
    last = filmed(Day(plan, 1).at("look").misses(5))
    card = sent(wren, "GET", f"/api/plans/next/{last}")[1]
    assert card["between"]["title"].startswith("Half-way to")
    status, made = sent(wren, "POST", f"/api/plans/next/{last}/between")
    assert status == 200
    document = sent(wren, "GET", f"/api/behaviours/{bell['id']}")[1]["plan"]["document"]
    assert [s["key"] for s in document["approximations"]][:2] == [made["step"], "look"]
    assert sent(wren, "POST", f"/api/plans/next/{last}/between")[0] == 409


def test_a_card_that_was_printed_says_when_the_judgement_has_changed(wren, plan, filmed):
    first = filmed(Day(plan, 1).at("nose").fits(3))
    last = filmed(Day(plan, 2).at("nose").fits(2))
    path = f"/api/plans/next/{last}"
    printed = sent(wren, "GET", path)[1]["why"]["text"]
    edit = {"client_id": "print", "body": {"op": "facts", "set": {"printed": printed}}}
    sent(wren, "POST", f"/api/sessions/{last}/edits", {"edits": [edit]})
    assert sent(wren, "GET", path)[1]["before"] is None
    sent(wren, "DELETE", f"/api/sessions/{first}")
    assert sent(wren, "GET", path)[1]["before"] == printed


def test_who_sees_it_differently_finds_what_came_of_it_in_the_logbook(wren, bell, plan, filmed):
    first = filmed(Day(plan, 1).at("nose").fits(3))
    edit = {"client_id": "no", "body": {"op": "facts", "set": {"disagrees": "Hold at “Nose”"}}}
    sent(wren, "POST", f"/api/sessions/{first}/edits", {"edits": [edit]})
    path = f"/api/logbook/{bell['id']}"
    (said,) = sent(wren, "GET", path)[1]["disagreements"]
    assert (said["said"], said["next_step"]) == ("Hold at “Nose”", None)
    filmed(Day(plan, 2).at("mouth").mixed("+-+-"))
    (said,) = sent(wren, "GET", path)[1]["disagreements"]
    assert (said["next_step"], said["next_met"], said["next_judged"]) == ("mouth", 2, 4)


def test_a_stranger_judges_nothing(stranger, plan, filmed):
    last = filmed(Day(plan, 1).at("nose").fits(3))
    assert sent(stranger, "GET", f"/api/sessions/{last}/judgement")[0] == 404
    assert sent(stranger, "POST", f"/api/plans/next/{last}/between")[0] == 404


def test_the_short_form_that_is_kept_is_the_one_that_was_made(plan, filmed):
    last = filmed(Day(plan, 1).at("nose").fits(3).sign(1))
    kept = KeptFindings.objects.get(session=last).digest
    assert Digest.read(json.loads(json.dumps(kept["session"]))).signs == (1, 0, 0)
