"""Accounts and walls: nobody sees another workspace's films, marks or numbers."""

from __future__ import annotations

import json

import pytest
from django.test import Client

from frequens.server.library.models import Film
from frequens.server.library.sessions import TrainingSession

from .conftest import PASSWORD, put, sent

LOGIN = "/_allauth/browser/v1/auth/login"


@pytest.fixture
def visitor(trainer) -> Client:
    return Client(enforce_csrf_checks=True)


def token(client):
    client.get("/login")
    return {"X-CSRFToken": client.cookies["csrftoken"].value}


def enter(client, password=PASSWORD, **headers):
    return client.post(
        LOGIN,
        {"username": "wren", "password": password},
        content_type="application/json",
        headers=headers or token(client),
    )


PATHS = [
    ("GET", ""),
    ("DELETE", ""),
    ("POST", "/cancel"),
    ("POST", "/resume"),
    ("GET", "/frames"),
    ("GET", "/frames/3.jpg"),
    ("GET", "/review.mp4"),
    ("GET", "/sound.bin"),
    ("GET", "/original"),
]
SESSION_PATHS = [
    ("GET", ""),
    ("DELETE", ""),
    ("GET", "/edits"),
    ("POST", "/edits"),
    ("GET", "/findings"),
    ("GET", "/export.json"),
    ("GET", "/export.csv"),
    ("GET", "/export.vtt"),
    ("POST", "/import"),
]


@pytest.mark.parametrize(("method", "path"), PATHS)
def test_another_workspaces_film_is_not_there(film, stranger, method, path):
    assert sent(stranger, method, f"/api/films/{film.pk}{path}")[0] == 404
    assert Film.objects.filter(pk=film.pk).exists()
    assert film.original.exists()


@pytest.mark.parametrize(("method", "path"), SESSION_PATHS)
def test_another_workspaces_session_is_not_there(film, stranger, method, path):
    body = {"edits": [put("m", "reward", 3, film)]} if path == "/edits" else None
    answer = stranger.generic(
        method,
        f"/api/sessions/{film.session_id}{path}",
        json.dumps(body or {}),
        content_type="application/json",
    )
    assert answer.status_code == 404
    assert TrainingSession.objects.get(pk=film.session_id).edits.count() == 0


def test_lists_hold_only_ones_own(film, stranger):
    assert sent(stranger, "GET", "/api/films") == (200, [])
    assert sent(stranger, "GET", "/api/sessions") == (200, [])


@pytest.mark.parametrize("path", ["/api/me", "/api/films", "/api/sessions"])
def test_without_a_login_there_is_nothing(visitor, path):
    assert visitor.get(path).status_code == 401


def test_login_me_and_logout(visitor):
    assert enter(visitor).status_code == 200
    me = visitor.get("/api/me").json()
    assert (me["username"], me["workspace"]) == ("wren", "Saltmarsh Steading")
    visitor.delete("/_allauth/browser/v1/auth/session", headers=token(visitor))
    assert visitor.get("/api/me").status_code == 401


def test_a_request_without_the_token_changes_nothing(visitor):
    assert enter(visitor, **{"X-Nothing": "1"}).status_code == 403
    enter(visitor)
    answer = visitor.post("/api/films/simulate", {"length_s": 5}, content_type="application/json")
    assert answer.status_code == 403
    assert not Film.objects.exists()


def test_guessing_a_password_is_slowed_down(visitor):
    def code(password):
        answer = enter(visitor, password)
        assert answer.status_code in (400, 429)
        return answer.json()["errors"][0]["code"] if answer.status_code == 400 else "429"

    assert [code("not it at all") for _ in range(5)] == ["username_password_mismatch"] * 5
    # The right one does not get through either, until the wait is over.
    assert code(PASSWORD) == "too_many_login_attempts"
    assert visitor.get("/api/me").status_code == 401


def test_the_password_can_be_changed_and_must_be_a_good_one(visitor):
    enter(visitor)

    def change(new, current=PASSWORD):
        return visitor.post(
            "/_allauth/browser/v1/account/password/change",
            {"current_password": current, "new_password": new},
            content_type="application/json",
            headers=token(visitor),
        ).status_code

    assert change("12345678") == 400
    assert change("salt-and-samphire", current="wrong") == 400
    assert change("salt-and-samphire") == 200
    again = Client()
    assert enter(again, PASSWORD).status_code == 400
    assert enter(again, "salt-and-samphire").status_code == 200


def test_nobody_signs_up_from_outside(visitor):
    answer = visitor.post(
        "/_allauth/browser/v1/auth/signup",
        {"username": "heron", "password": "salt-and-samphire"},
        content_type="application/json",
        headers=token(visitor),
    )
    assert answer.status_code == 403


def test_cookies_and_headers_are_strict(visitor):
    page = visitor.get("/login")
    policy = page["Content-Security-Policy"]
    assert "script-src 'self'" in policy
    assert "unsafe-inline" not in policy
    assert "default-src 'none'" in policy
    assert "frame-ancestors 'none'" in policy
    assert page["X-Frame-Options"] == "DENY"
    assert visitor.cookies["csrftoken"]["secure"]
    enter(visitor)
    assert visitor.cookies["sessionid"]["secure"]
    assert visitor.cookies["sessionid"]["httponly"]


def test_no_page_of_errors_shows_settings(visitor, settings):
    assert settings.DEBUG is False
    answer = visitor.get("/api/nothing-here")
    assert answer.status_code == 404
    assert b"Traceback" not in answer.content
