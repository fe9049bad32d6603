"""Long lists come in pages; asking what is under way stays small however long they are."""

from __future__ import annotations

import datetime as dt
import json

import pytest
from django.utils import timezone

from frequens.server.ingest.intake import plan_stages
from frequens.server.library.models import Film
from frequens.server.library.sessions import TrainingSession

from .conftest import sent


@pytest.fixture
def many(trainer):
    """Five films, the third and fourth made at the same instant; the first under way."""
    place = trainer.workspaces.get()
    now = timezone.now()
    made = []
    for age in (0, 1, 2, 2, 3):
        session = TrainingSession.objects.create(workspace=place, learner="Thistle")
        state = Film.State.READY if made else Film.State.WORKING
        film = Film.objects.create(workspace=place, session=session, name="bell", state=state)
        at = now - dt.timedelta(minutes=age)
        Film.objects.filter(pk=film.pk).update(created_at=at)
        TrainingSession.objects.filter(pk=session.pk).update(created_at=at)
        plan_stages(film)
        made.append(film)
    return made


def walked(client, path, most):
    """All pages, one after another."""
    found, older = [], ""
    while page := sent(client, "GET", f"{path}?most={most}{older}")[1]:
        assert len(page) <= most
        found += [row["id"] for row in page]
        older = f"&older_than={page[-1]['id']}"
    return found


@pytest.mark.parametrize("path", ["/api/films", "/api/sessions"])
@pytest.mark.parametrize("most", [1, 2, 3, 50])
def test_pages_together_are_the_whole_list(wren, many, path, most):
    whole = [row["id"] for row in sent(wren, "GET", path)[1]]
    assert len(set(whole)) == 5
    assert walked(wren, path, most) == whole


def test_what_comes_in_meanwhile_moves_no_page(wren, many, trainer):
    first = sent(wren, "GET", "/api/films?most=2")[1]
    Film.objects.create(workspace=trainer.workspaces.get(), name="new", state=Film.State.READY)
    rest = sent(wren, "GET", f"/api/films?most=50&older_than={first[-1]['id']}")[1]
    assert {f["id"] for f in first + rest} == {str(film.pk) for film in many}


def test_what_is_under_way_is_all_that_is_asked_again(wren, many):
    (busy,) = sent(wren, "GET", "/api/films?under_way=true")[1]
    assert busy["id"] == str(many[0].pk)
    Film.objects.update(state=Film.State.CANCELLED)
    assert sent(wren, "GET", "/api/films?under_way=true")[1] == []


def test_sessions_of_one_page_of_films_and_those_without(wren, many):
    wanted = [str(film.session_id) for film in many[:2]]
    rows = sent(wren, "GET", "/api/sessions?of=" + "&of=".join(wanted))[1]
    assert {row["id"] for row in rows} == set(wanted)
    assert sent(wren, "GET", "/api/sessions?loose=true")[1] == []
    document = {"format": "frequens-session", "version": 1, "recording": {"duration_s": 9.0}}
    text = json.dumps({**document, "events": []})
    made = wren.post("/api/sessions/import", text, content_type="application/octet-stream").json()
    (row,) = sent(wren, "GET", "/api/sessions?loose=true")[1]
    assert row["id"] == made["session_id"]


def test_questions_do_not_grow_with_the_list(wren, many, django_assert_max_num_queries):
    for path in ("/api/films", "/api/sessions", "/api/films?under_way=true"):
        # One of them asks what whoever asks may do.
        with django_assert_max_num_queries(7):
            assert sent(wren, "GET", path)[0] == 200


@pytest.mark.parametrize("path", ["/api/films", "/api/sessions"])
def test_a_page_after_somebody_elses_is_not_there(wren, stranger, many, path):
    mine = sent(wren, "GET", path)[1][0]["id"]
    assert sent(stranger, "GET", f"{path}?older_than={mine}")[0] == 404


@pytest.mark.parametrize(
    "query", ["/api/films?most=0", "/api/films?most=201", "/api/sessions?most=501"]
)
def test_pages_have_a_size(wren, query):
    assert sent(wren, "GET", query)[0] == 422


def test_the_largest_page_is_given(wren, many):
    assert len(sent(wren, "GET", "/api/films?most=200")[1]) == 5
    assert len(sent(wren, "GET", "/api/sessions?most=500")[1]) == 5
