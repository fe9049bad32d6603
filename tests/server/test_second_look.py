"""A second look: blind until both are done, compared by the core, settled mark by mark."""

from __future__ import annotations

import json
import uuid

import pytest
from django.test import Client

from frequens.core import read_session
from frequens.core.findings.document import as_plain_values
from frequens.core.measures.agreement import agree
from frequens.server.accounts.models import Membership
from frequens.server.coding.edit_store import fold
from frequens.server.coding.models import Edit
from frequens.server.library.sessions import TrainingSession
from frequens.server.second_look.looks import is_proposed
from frequens.server.second_look.models import SecondLook, Settled

from .conftest import put, sent


@pytest.fixture
def plover(make_trainer) -> Client:
    """The browser of another trainer of the same workspace."""
    client = Client()
    client.force_login(make_trainer("plover"))
    return client


def place_of(client, name):
    return next(
        m["id"] for m in sent(client, "GET", "/api/members")[1]["members"] if m["username"] == name
    )


@pytest.fixture
def look(wren, plover, coded):
    """Wren asks plover for a second look at the coded session."""
    body = {"member_id": place_of(wren, "plover")}
    status, made = sent(wren, "POST", f"/api/sessions/{coded.pk}/second-looks", body)
    assert status == 201
    return made


#: The first coding has criterion 0, onsets 30 and 120, marker 40, reward 70 (`coded`).
def second_marks(film):
    return [
        put("c2", "criterion", 0, film, approximation="look"),
        put("x1", "onset", 32, film, met=True),
        put("y1", "marker", 40, film, marker="event", link="x1"),
        put("z1", "reward", 71, film),
        put("x2", "onset", 120, film, met=True),
        put("s", "sign", 90, film, label="turned away", severity=2),
    ]


def code_again(client, look, film):
    path = f"/api/sessions/{look['coding_id']}/edits"
    assert sent(client, "POST", path, {"edits": second_marks(film)})[1]["refused"] == {}


def done(client, look, coding, is_done=True):
    body = {"coding": coding, "is_done": is_done}
    return sent(client, "POST", f"/api/second-looks/{look['id']}/done", body)


@pytest.fixture
def opened(wren, plover, look, film):
    code_again(plover, look, film)
    assert done(plover, look, "second")[0] == 200
    assert done(wren, look, "first")[0] == 200
    return look


def comparison(client, look):
    status, found = sent(client, "GET", f"/api/second-looks/{look['id']}/comparison")
    assert status == 200, found
    return found


def settle(client, look, first, second, chosen, frame=None):
    body = {"first_id": first, "second_id": second, "chosen": chosen, "frame": frame}
    return sent(client, "POST", f"/api/second-looks/{look['id']}/settled", body)


class TestBlind:
    """Nobody sees the other's marks before both have said that they are done."""

    PATHS = ("", "/edits", "/findings", "/judgement", "/export.json", "/export.csv", "/export.vtt")

    def test_the_reviewer_sees_none_of_the_first_marks(self, plover, look, coded):
        for path in (*self.PATHS, "/report.html", "/report.pdf", "/tables.xlsx"):
            status, said = sent(plover, "GET", f"/api/sessions/{coded.pk}{path}")
            assert status == 403, path
            assert "both" in said["fault"]
        assert sent(plover, "GET", f"/api/plans/next/{coded.pk}")[0] == 403
        body = {"edits": [put("m", "reset", 3, coded.clips[0])]}
        assert sent(plover, "POST", f"/api/sessions/{coded.pk}/edits", body)[0] == 403

    def test_nobody_but_the_reviewer_sees_the_second_marks(self, wren, look, plover, film):
        code_again(plover, look, film)
        for path in self.PATHS:
            if path != "/judgement":
                assert sent(wren, "GET", f"/api/sessions/{look['coding_id']}{path}")[0] == 403, path
        assert sent(plover, "GET", f"/api/sessions/{look['coding_id']}/edits")[0] == 200

    def test_one_of_the_two_alone_opens_nothing(self, wren, plover, look, coded, film):
        code_again(plover, look, film)
        assert done(plover, look, "second")[1]["opened_at"] is None
        assert sent(plover, "GET", f"/api/sessions/{coded.pk}/edits")[0] == 403
        assert sent(wren, "GET", f"/api/second-looks/{look['id']}/comparison")[0] == 409
        assert done(wren, look, "first")[1]["opened_at"] is not None
        assert sent(plover, "GET", f"/api/sessions/{coded.pk}/edits")[0] == 200
        assert sent(wren, "GET", f"/api/sessions/{look['coding_id']}/edits")[0] == 200

    def test_who_coded_first_goes_on_as_ever(self, wren, look, coded):
        assert sent(wren, "GET", f"/api/sessions/{coded.pk}/findings")[0] == 200

    def test_a_stranger_finds_no_look(self, stranger, look, coded):
        assert sent(stranger, "GET", f"/api/second-looks/{look['id']}")[0] == 404
        assert sent(stranger, "GET", f"/api/sessions/{look['coding_id']}")[0] == 404
        assert done(stranger, look, "first")[0] == 404

    def test_each_says_done_for_themselves(self, wren, plover, look, film):
        code_again(plover, look, film)
        assert done(wren, look, "second")[0] == 403
        assert done(plover, look, "first")[0] == 403

    def test_not_done_after_all_until_both_were(self, wren, plover, look, film):
        code_again(plover, look, film)
        done(plover, look, "second")
        more = {"edits": [put("more", "reset", 9, film)]}
        path = f"/api/sessions/{look['coding_id']}/edits"
        assert sent(plover, "POST", path, more)[0] == 409
        assert done(plover, look, "second", is_done=False)[1]["second_done"] is False
        assert sent(plover, "POST", path, more)[1]["refused"] == {}
        done(plover, look, "second")
        done(wren, look, "first")
        assert done(plover, look, "second", is_done=False)[0] == 409

    def test_without_a_mark_nobody_is_done(self, plover, look):
        status, said = done(plover, look, "second")
        assert (status, said["fault"]) == (409, "Nothing is marked in it yet.")

    def test_oneself_weeks_later_is_blind_as_well(self, wren, coded, film):
        body = {"member_id": place_of(wren, "wren")}
        path = f"/api/sessions/{coded.pk}/second-looks"
        look = sent(wren, "POST", path, body)[1]
        assert look["first_done"] is True
        assert sent(wren, "GET", f"/api/sessions/{coded.pk}/edits")[0] == 403
        code_again(wren, look, film)
        assert done(wren, look, "second")[1]["opened_at"] is not None
        assert sent(wren, "GET", f"/api/sessions/{coded.pk}/edits")[0] == 200

    def test_nobody_else_is_done_for_whoever_looks_again_at_their_own(self, wren, plover, coded):
        body = {"member_id": place_of(wren, "wren")}
        look = sent(wren, "POST", f"/api/sessions/{coded.pk}/second-looks", body)[1]
        assert done(plover, look, "second")[0] == 403

    def test_a_page_of_sessions_goes_on_after_one_that_is_kept_from_the_reviewer(
        self, plover, look, coded
    ):
        assert sent(plover, "GET", f"/api/sessions?older_than={coded.pk}")[0] == 200

    def test_it_begins_with_what_was_filmed_and_no_mark(self, wren, plover, look, coded):
        made = sent(plover, "GET", f"/api/sessions/{look['coding_id']}")[1]
        first = sent(wren, "GET", f"/api/sessions/{coded.pk}")[1]
        assert (made["marks"], made["notes"], made["tags"]) == (0, {}, [])
        for same in ("plan", "settings", "date", "learner", "behaviour", "films"):
            assert made[same] == first[same]
        assert first["films"] != []
        assert made["second_look"] == {"id": look["id"], "is_done": False}


class TestNowhereElse:
    """A second coding counts nowhere but in its second look."""

    def test_no_list_has_it(self, wren, look, coded, bell):
        rows = sent(wren, "GET", "/api/sessions")[1]
        assert [row["id"] for row in rows] == [str(coded.pk)]
        logbook = sent(wren, "GET", f"/api/logbook/{bell['id']}")[1]
        assert look["coding_id"] not in json.dumps(logbook)
        assert look["coding_id"] not in json.dumps(sent(wren, "GET", "/api/today")[1])

    def test_it_is_not_judged_reported_or_removed_by_itself(self, plover, look):
        for method, path in (
            ("GET", f"/api/sessions/{look['coding_id']}/judgement"),
            ("GET", f"/api/sessions/{look['coding_id']}/report.html"),
            ("GET", f"/api/plans/next/{look['coding_id']}"),
            ("DELETE", f"/api/sessions/{look['coding_id']}"),
        ):
            assert sent(plover, method, path)[0] == 404, path

    def test_it_goes_with_its_session(self, wren, look, coded, film):
        assert sent(wren, "DELETE", f"/api/sessions/{coded.pk}")[0] == 204
        assert not TrainingSession.codings.exists()
        assert not SecondLook.objects.exists()

    def test_given_up_it_leaves_nothing(self, plover, look, coded, film):
        code_again(plover, look, film)
        assert sent(plover, "DELETE", f"/api/second-looks/{look['id']}")[0] == 204
        assert TrainingSession.codings.get() == coded
        assert not Edit.objects.exclude(session=coded).exists()
        assert sent(plover, "GET", f"/api/sessions/{coded.pk}/edits")[0] == 200

    def test_its_film_stays_while_it_is_under_way(self, wren, look, film):
        assert sent(wren, "DELETE", f"/api/films/{film.pk}")[0] == 409
        assert film.original.exists()

    def test_without_its_film_it_is_not_compared_but_still_counts(self, wren, opened, coded, film):
        assert sent(wren, "DELETE", f"/api/films/{film.pk}")[0] == 204
        status, said = sent(wren, "GET", f"/api/second-looks/{opened['id']}/comparison")
        assert (status, "removed" in said["fault"]) == (409, True)
        assert sent(wren, "GET", f"/api/sessions/{coded.pk}/findings")[1]["findings"] is not None

    def test_opened_it_stays(self, wren, opened):
        assert sent(wren, "DELETE", f"/api/second-looks/{opened['id']}")[0] == 409


class TestCompared:
    def test_it_is_the_cores_agreement_of_both_exports(self, wren, opened, coded):
        """Through the open format and `agree`, as `frequens agree` does it."""
        documents = [
            read_session(json.loads(wren.get(f"/api/sessions/{pk}/export.json").content))
            for pk in (coded.pk, opened["coding_id"])
        ]
        expected = json.loads(json.dumps(as_plain_values(agree(*documents))))
        assert comparison(wren, opened)["agreement"] == expected
        kinds = expected["kinds"]
        assert (kinds["onset"]["matched"], kinds["sign"]["only_b"]) == (2, ["s"])

    def test_every_pair_with_its_frames(self, wren, opened, film):
        found = comparison(wren, opened)
        told = {
            (p["kind"], p["frames"], tuple(p["differs"]), p["first"] is None)
            for p in found["pairs"]
        }
        assert told == {
            ("criterion", 0, (), False),
            ("onset", 2, (), False),
            ("marker", 0, (), False),
            ("reward", 1, (), False),
            ("onset", 0, ("met",), False),
            ("sign", None, (), True),
        }
        assert found["look"]["open_differences"] == 4
        onset = next(p for p in found["pairs"] if p["frames"] == 2)
        assert (onset["first"]["frame"], onset["second"]["frame"]) == (30, 32)
        assert onset["difference_s"] == pytest.approx(2 / 30, abs=1e-3)

    def test_what_comes_later_does_not_change_it(self, wren, opened, coded, film):
        before = comparison(wren, opened)
        body = {"edits": [put("late", "reset", 50, film)]}
        assert sent(wren, "POST", f"/api/sessions/{coded.pk}/edits", body)[0] == 200
        assert comparison(wren, opened) == before

    def test_the_sources_then_count_the_person(self, wren, plover, coded, film, look):
        """Six onsets, each two frames apart: Dahlberg's 2/30/sqrt 2 s for one of them."""
        frames = [30, 120, 150, 180, 210, 225]
        more = [put(f"o{n}", "onset", f, film, met=True) for n, f in enumerate(frames[2:])]
        sent(wren, "POST", f"/api/sessions/{coded.pk}/edits", {"edits": more})
        again = [put(f"x{n}", "onset", f + 2, film, met=True) for n, f in enumerate(frames)]
        again.append(put("m", "marker", 40, film, marker="event"))
        path = f"/api/sessions/{look['coding_id']}/edits"
        assert sent(plover, "POST", path, {"edits": again})[1]["refused"] == {}
        before = sent(wren, "GET", f"/api/sessions/{coded.pk}/findings")[1]["findings"]["sources"]
        done(plover, look, "second")
        done(wren, look, "first")
        after = sent(wren, "GET", f"/api/sessions/{coded.pk}/findings")[1]["findings"]["sources"]
        frame = 1 / 30 / 12**0.5
        person = 2 / 30 / 2**0.5
        assert before["marker_latency_s"] == pytest.approx((2 * frame**2) ** 0.5, rel=0.02)
        expected = (frame**2 + person**2) ** 0.5
        assert after["marker_latency_s"] == pytest.approx(expected, rel=0.02)
        listed = sent(wren, "GET", "/api/second-looks")[1]["reviewers"]
        assert [(r["reviewer"], r["looks"]) for r in listed] == [("plover", 1)]
        onset = next(k for k in listed[0]["kinds"] if k["kind"] == "onset")
        assert onset["bias_s"]["mean"] == pytest.approx(2 / 30, rel=0.02)
        assert onset["u_s"] == pytest.approx(person, rel=0.02)


class TestSettled:
    def mark(self, session, key):
        return fold(session).events.get(key)

    def test_each_way_of_settling(self, wren, opened, coded, film):
        status, found = settle(wren, opened, "b1", "x1", "second")
        assert status == 200
        assert found["look"]["open_differences"] == 3
        assert self.mark(coded, "b1")["frame"] == 32
        assert settle(wren, opened, "r1", "z1", "first")[0] == 200
        assert self.mark(coded, "r1")["frame"] == 70
        assert settle(wren, opened, "b2", "x2", "frame", 119)[0] == 200
        stands = self.mark(coded, "b2")
        assert (stands["frame"], stands["pts"], stands["met"]) == (119, film.index.pts[119], False)
        found = settle(wren, opened, None, "s", "none")[1]
        assert found["look"]["open_differences"] == 0
        assert set(fold(coded).events) == {"c", "b1", "m1", "r1", "b2"}

    def test_both_originals_and_who_decided_are_kept(self, wren, plover, opened, coded):
        settle(plover, opened, "b1", "x1", "second")
        settle(wren, opened, "b1", "x1", "frame", 31)
        rows = list(Settled.objects.all())
        assert [(r.first["frame"], r.second["frame"]) for r in rows] == [(30, 32)] * 2
        assert [r.author.get_username() for r in rows] == ["plover", "wren"]
        assert [r.event["frame"] for r in rows] == [32, 31]
        pair = next(p for p in comparison(wren, opened)["pairs"] if p["settled"])
        assert (pair["settled"]["author"], pair["settled"]["mark"]["frame"]) == ("wren", 31)
        # The comparison itself is of what both had seen.
        assert (pair["first"]["frame"], pair["second"]["frame"]) == (30, 32)

    def test_a_mark_only_the_second_has_comes_in_under_its_own_id(self, wren, opened, coded):
        assert settle(wren, opened, None, "s", "second")[0] == 200
        assert self.mark(coded, "second-s")["severity"] == 2
        assert settle(wren, opened, None, "s", "none")[0] == 200
        assert self.mark(coded, "second-s") is None

    def test_links_lead_to_the_sessions_own_marks(self, wren, opened, coded):
        assert settle(wren, opened, "m1", "y1", "second")[0] == 200
        assert self.mark(coded, "m1")["link"] == "b1"

    def test_what_cannot_be_settled(self, wren, opened, coded, film):
        before = fold(coded).events
        assert settle(wren, opened, "b1", "x2", "first")[0] == 409
        assert settle(wren, opened, None, "s", "first")[0] == 409
        assert settle(wren, opened, "b1", "x1", "frame")[0] == 409
        assert settle(wren, opened, "b1", "x1", "frame", len(film.index))[0] == 422
        assert settle(wren, opened, "b1", "x1", "frame", -1)[0] == 422
        assert fold(coded).events == before
        assert not Settled.objects.exists()
        assert settle(wren, opened, "b1", "x1", "frame", len(film.index) - 1)[0] == 200

    def test_before_both_are_done_nothing_is_settled(self, wren, look):
        assert settle(wren, look, "b1", None, "none")[0] == 409


class TestAsked:
    def test_what_cannot_be_coded_again(self, wren, plover, film, look, coded):
        member = {"member_id": place_of(wren, "plover")}
        status, said = sent(wren, "POST", f"/api/sessions/{coded.pk}/second-looks", member)
        assert (status, said["fault"]) == (409, "A second look at it is under way already.")
        document = {"format": "frequens-session", "version": 1, "events": []}
        loose = sent(wren, "POST", "/api/sessions/import", document)[1]["session_id"]
        status, said = sent(wren, "POST", f"/api/sessions/{loose}/second-looks", member)
        assert (status, "film" in said["fault"]) == (409, True)

    def test_without_marks_there_is_nothing_to_code_again(self, wren, film):
        body = {"member_id": place_of(wren, "wren")}
        path = f"/api/sessions/{film.session_id}/second-looks"
        assert sent(wren, "POST", path, body)[0] == 409

    def test_it_waits_on_the_reviewers_page_of_today(self, wren, plover, look, film):
        def waits(client):
            return [a["id"] for a in sent(client, "GET", "/api/today")[1]["to_code_again"]]

        assert (waits(wren), waits(plover)) == ([], [look["id"]])
        code_again(plover, look, film)
        done(plover, look, "second")
        assert waits(plover) == []

    def test_nobody_from_outside_and_no_reader_is_asked(self, wren, stranger, coded, plover):
        foreign = place_of(stranger, "sorrel")
        path = f"/api/sessions/{coded.pk}/second-looks"
        assert sent(wren, "POST", path, {"member_id": foreign})[0] == 404
        Membership.objects.filter(user__username="plover").update(role="reader")
        assert sent(wren, "POST", path, {"member_id": place_of(wren, "plover")})[0] == 404

    def test_the_share_that_is_proposed(self, wren, coded):
        def proposals():
            return [p["id"] for p in sent(wren, "GET", "/api/second-looks")[1]["proposed"]]

        assert sent(wren, "PUT", "/api/members/second-look-share", {"share": 1})[0] == 200
        assert proposals() == [str(coded.pk)]
        sent(wren, "PUT", "/api/members/second-look-share", {"share": 0})
        assert proposals() == []
        sent(wren, "PUT", "/api/members/second-look-share", {"share": 1})
        body = {"member_id": place_of(wren, "wren")}
        assert sent(wren, "POST", f"/api/sessions/{coded.pk}/second-looks", body)[0] == 201
        assert proposals() == []

    def test_one_mark_is_enough_to_be_proposed_and_none_is_not(self, wren, film):
        def proposals():
            return [p["id"] for p in sent(wren, "GET", "/api/second-looks")[1]["proposed"]]

        sent(wren, "PUT", "/api/members/second-look-share", {"share": 1})
        assert proposals() == []
        path = f"/api/sessions/{film.session_id}/edits"
        sent(wren, "POST", path, {"edits": [put("b1", "onset", 30, film)]})
        assert proposals() == [str(film.session_id)]

    @pytest.mark.parametrize("share", [-0.01, 1.01])
    def test_a_share_is_a_share(self, wren, share):
        assert sent(wren, "PUT", "/api/members/second-look-share", {"share": share})[0] == 422

    def test_a_fifth_is_about_a_fifth(self):
        """4 000 ids: within five standard errors of a binomial share."""
        ids = [uuid.UUID(int=n * 2**64 + 7) for n in range(4000)]
        drawn = sum(is_proposed(i, 0.2) for i in ids)
        assert abs(drawn - 800) < 5 * (4000 * 0.2 * 0.8) ** 0.5
        # Whatever was drawn stays drawn when the share grows.
        assert all(is_proposed(i, 0.5) for i in ids if is_proposed(i, 0.2))
