"""Owner, trainer, reviewer, reader: every operation of the API, and who may ask for it."""

from __future__ import annotations

import datetime as dt
import json
import re
import uuid

import pytest
from django.core.cache import cache
from django.test import Client
from django.urls import get_resolver
from django.utils import timezone

from frequens.server.accounts.models import Invitation, Membership, Role, Workspace
from frequens.server.library.models import Film
from frequens.server.library.sessions import TrainingSession
from frequens.server.who_may import MAY

from .api_description import DESCRIBED
from .conftest import PASSWORD, put, sent

SCHEMA = DESCRIBED["paths"]
#: Without a login: there is no role to ask for yet.
OPEN = {
    *("first_account", "make_first_account", "enter_by_phone_code"),
    *("read_invitation", "accept_invitation"),
}
#: The protocol of films in pieces stands in no schema.
PIECES = [
    ("OPTIONS", "/api/films/arriving", "abilities"),
    ("POST", "/api/films/arriving", "begin_film"),
    ("HEAD", "/api/films/arriving/{film_id}", "how_far"),
    ("PATCH", "/api/films/arriving/{film_id}", "next_piece"),
    ("DELETE", "/api/films/arriving/{film_id}", "give_up_film"),
]
OPERATIONS = [
    *(
        (method.upper(), path, operation["operationId"])
        for path, methods in SCHEMA.items()
        for method, operation in methods.items()
        if operation["operationId"] not in OPEN
    ),
    *PIECES,
]
#: What each role may do beyond the one before it, said here once more by hand: a change of
#: `who_may` that nobody meant is found by it.
READER = {
    *("me", "set_preferences", "remove_account", "phone", "make_phone_code", "sessions"),
    *("report_pictures", "report_pdf", "report_page"),
}
CODES = {"append_edits", "say_second_look_done", "settle_second_look", "give_up_second_look"}
#: One's own practice.
CODES |= {"begin_drill", "finish_drill", "leave_out_drill", "hear_drill"}
ONLY_OWNER = {
    *("bring_back", "remove_workspace", "invite_member", "take_back_invitation"),
    *("change_member", "remove_member", "set_second_look_share"),
}
#: Questions that change nothing, though they are not asked with GET.
ONLY_ASK = {"read_plan", "calculate", "rehearse"}


def may(role, method, name):
    if role == Role.OWNER or name in READER:
        return True
    if role == Role.READER or name in ONLY_OWNER:
        return False
    if role == Role.TRAINER:
        return True
    if name in {"archive", "abilities", "how_far"}:
        return False
    return method == "GET" or name in CODES | ONLY_ASK


@pytest.fixture
def of_role(make_trainer):
    """Browsers of members by their role."""
    make_trainer("owner")

    def client(role):
        user = make_trainer(f"a-{role}") if role != Role.OWNER else None
        if user is None:
            found = Membership.objects.get(user__username="owner").user
        else:
            Membership.objects.filter(user=user).update(role=role)
            found = user
        browser = Client()
        browser.force_login(found)
        return browser

    return client


def test_every_operation_stands_in_the_table_and_no_other_does():
    assert set(MAY) == {name for _, _, name in OPERATIONS}
    routes = [str(p.pattern) for p in get_resolver("frequens.server.urls").url_patterns]
    # Whatever else answers asks for no workspace, or by a secret.
    assert routes == [
        *("api/", "health", "lan/certificate.crt", "calendar/<str:secret>.ics", "_allauth/"),
        "^(?!api/|_allauth/|assets/).*$",
    ]


def asked(client, method, path):
    """The answer where nothing that the path names is there, to a body that says nothing."""
    key = re.sub(r"\{(?:member_id|number|frame|first)\}", "7", path)
    key = key.replace("{form}", "json").replace("{name}", "reps")
    key = re.sub(r"\{[^}]*\}", str(uuid.UUID(int=5)), key)
    headers = {"Tus-Resumable": "1.0.0"}
    return client.generic(method, key, "{}", content_type="application/json", headers=headers)


@pytest.mark.parametrize("role", Role.values)
def test_every_route_with_every_role(of_role, role):
    """Who may ask hears that it is not there, or what is wrong; others that they may not."""
    browser = of_role(role)
    wrong = []
    for method, path, name in OPERATIONS:
        answer = asked(browser, method, path)
        refused = answer.status_code == 403 and (
            method == "HEAD" or "does not allow" in answer.json().get("fault", "")
        )
        if refused is may(role, method, name) or answer.status_code == 401:
            wrong.append((method, path, answer.status_code))
    assert wrong == []


def test_nothing_without_a_login(db):
    answers = {(m, p): asked(Client(), m, p).status_code for m, p, _ in OPERATIONS}
    assert {key: status for key, status in answers.items() if status != 401} == {}


class TestInside:
    """The same with things that are there."""

    def test_a_reviewer_codes_and_removes_nothing(self, of_role, coded, film):
        reviewer = of_role(Role.REVIEWER)
        path = f"/api/sessions/{coded.pk}"
        edits = {"edits": [put("m", "reset", 3, film)]}
        assert sent(reviewer, "GET", f"{path}/findings")[0] == 200
        assert sent(reviewer, "POST", f"{path}/edits", edits)[1]["refused"] == {}
        for gone in (path, f"/api/films/{film.pk}"):
            assert sent(reviewer, "DELETE", gone)[0] == 403
        assert Film.objects.exists()
        assert TrainingSession.objects.exists()

    def test_a_reader_reads_the_report_and_nothing_else(self, of_role, coded, film):
        reader = of_role(Role.READER)
        assert reader.get(f"/api/sessions/{coded.pk}/report.html").status_code == 200
        assert [row["id"] for row in sent(reader, "GET", "/api/sessions")[1]] == [str(coded.pk)]
        for path in (*("", "/edits", "/findings", "/judgement", "/export.json", "/tables.xlsx"),):
            assert sent(reader, "GET", f"/api/sessions/{coded.pk}{path}")[0] == 403, path
        assert sent(reader, "GET", f"/api/films/{film.pk}/frames/3.jpg")[0] == 403

    def test_who_lost_their_place_has_nothing(self, wren, trainer, coded):
        Membership.objects.filter(user=trainer).delete()
        assert sent(wren, "GET", "/api/me")[0] == 403
        assert sent(wren, "GET", f"/api/sessions/{coded.pk}")[0] == 403

    def test_in_two_workspaces_each_role_counts_in_its_own(self, wren, trainer, coded, of_role):
        """A reader here who trains elsewhere does not train here by that."""
        elsewhere = Workspace.objects.create(name="Upper Meadow")
        Membership.objects.create(workspace=elsewhere, user=trainer, role=Role.TRAINER)
        Membership.objects.filter(workspace=coded.workspace, user=trainer).update(role=Role.READER)
        assert sent(wren, "GET", "/api/behaviours")[0] == 200
        assert sent(wren, "GET", f"/api/sessions/{coded.pk}/findings")[0] == 404
        assert wren.get(f"/api/sessions/{coded.pk}/report.html").status_code == 200


class TestMembers:
    @pytest.fixture
    def second(self, make_trainer, trainer):
        user = make_trainer("plover")
        return Membership.objects.get(user=user)

    def test_whoever_comes_first_owns_the_workspace(self, trainer, second):
        assert Membership.objects.get(user=trainer).role == Role.OWNER
        assert second.role == Role.TRAINER

    def test_a_member_gets_another_role(self, wren, second):
        status, said = sent(wren, "PUT", f"/api/members/{second.pk}", {"role": "reader"})
        assert (status, said["role"]) == (200, "reader")
        second.refresh_from_db()
        assert second.role == Role.READER
        assert sent(wren, "PUT", f"/api/members/{second.pk}", {"role": "king"})[0] == 422

    def test_the_last_owner_stays(self, wren, trainer, second):
        own = Membership.objects.get(user=trainer)
        assert sent(wren, "PUT", f"/api/members/{own.pk}", {"role": "trainer"})[0] == 409
        assert sent(wren, "DELETE", f"/api/members/{own.pk}")[0] == 409
        sent(wren, "PUT", f"/api/members/{second.pk}", {"role": "owner"})
        assert sent(wren, "PUT", f"/api/members/{own.pk}", {"role": "trainer"})[0] == 200
        assert sent(wren, "PUT", f"/api/members/{own.pk}", {"role": "owner"})[0] == 403

    def test_a_removed_member_keeps_their_name_on_what_they_did(self, wren, second, coded):
        coded.edits.update(author=second.user)
        assert sent(wren, "DELETE", f"/api/members/{second.pk}")[0] == 204
        assert {e.author.get_username() for e in coded.edits.all()} == {"plover"}

    def test_another_workspaces_member_is_not_there(self, stranger, second):
        assert sent(stranger, "PUT", f"/api/members/{second.pk}", {"role": "owner"})[0] == 404
        assert sent(stranger, "DELETE", f"/api/members/{second.pk}")[0] == 404


class TestInvitations:
    NEW = {"username": "avocet", "password": PASSWORD}

    @pytest.fixture(autouse=True)
    def forget_tries(self, db):
        cache.clear()

    def invite(self, client, role="reviewer"):
        status, made = sent(client, "POST", "/api/members/invitations", {"role": role})
        assert status == 201
        return made

    def accept(self, code, **fields):
        body = {"code": code, **self.NEW, **fields}
        browser = Client()
        answer = browser.post(
            "/api/invited/accept", json.dumps(body), content_type="application/json"
        )
        return browser, answer

    def test_it_is_taken_once_in_its_role(self, wren):
        made = self.invite(wren)
        told = sent(Client(), "POST", "/api/invited", {"code": made["code"]})[1]
        assert told == {"workspace": "Saltmarsh Steading", "role": "reviewer"}
        browser, answer = self.accept(made["code"])
        assert answer.status_code == 201
        assert (answer.json()["username"], answer.json()["role"]) == ("avocet", "reviewer")
        assert sent(browser, "GET", "/api/films")[0] == 200
        again = self.accept(made["code"], username="ruff")[1]
        assert (again.status_code, list(again.json()["fields"])) == (403, ["code"])
        assert sent(wren, "GET", "/api/members")[1]["invitations"] == []

    def test_its_code_is_kept_nowhere(self, wren):
        made = self.invite(wren)
        kept = Invitation.objects.get()
        assert made["code"] not in {str(v) for v in vars(kept).values()}
        assert made["code"] not in json.dumps(sent(wren, "GET", "/api/members")[1])
        assert made["path"] == f"/invited#{made['code']}"

    @pytest.mark.parametrize(("left_s", "status"), [(5, 201), (-5, 403)])
    def test_it_holds_for_its_time(self, wren, left_s, status):
        made = self.invite(wren)
        Invitation.objects.update(expires_at=timezone.now() + dt.timedelta(seconds=left_s))
        assert self.accept(made["code"])[1].status_code == status

    def test_taken_back_it_does_not_hold(self, wren):
        made = self.invite(wren)
        assert sent(wren, "DELETE", f"/api/members/invitations/{made['id']}")[0] == 204
        assert self.accept(made["code"])[1].status_code == 403

    def test_what_is_wrong_is_said_at_its_field_and_costs_no_invitation(self, wren):
        made = self.invite(wren)
        taken = self.accept(made["code"], username="wren")[1]
        assert (taken.status_code, list(taken.json()["fields"])) == (422, ["username"])
        short = self.accept(made["code"], password="hay")[1]
        assert (short.status_code, list(short.json()["fields"])) == (422, ["password"])
        assert self.accept(made["code"])[1].status_code == 201

    def test_guessing_is_slowed_down(self, wren, settings):
        settings.ACCOUNT_RATE_LIMITS = {"login": "3/m/ip"}
        tries = [self.accept(f"guess {n}")[1].status_code for n in range(4)]
        assert tries == [403, 403, 403, 429]
