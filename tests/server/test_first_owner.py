"""The first account: once, by whoever knows the code, and with a password that can be."""

from __future__ import annotations

import re
import stat

import pytest
from django.contrib.auth import get_user_model
from django.core.cache import cache
from django.test import Client

from frequens.server.accounts.first_owner import open_door
from frequens.server.accounts.models import Workspace
from tests.house import House

from .conftest import PASSWORD, sent

GOOD = {"workspace": "Saltmarsh Steading", "username": "wren", "password": PASSWORD}


@pytest.fixture
def code(settings, tmp_path, db):
    cache.clear()
    settings.HOME = tmp_path
    return open_door()


@pytest.fixture
def visitor():
    return Client()


def make(client, **said):
    return sent(client, "POST", "/api/first", GOOD | said)


def test_the_code_makes_the_first_account_and_logs_in(visitor, code):
    assert sent(visitor, "GET", "/api/first") == (200, {"is_open": True})
    status, said = make(visitor, code=code)
    assert (status, said["username"], said["workspace"]) == (201, "wren", "Saltmarsh Steading")
    assert sent(visitor, "GET", "/api/me")[1]["username"] == "wren"
    assert sent(visitor, "GET", "/api/first") == (200, {"is_open": False})
    assert get_user_model().objects.get().check_password(PASSWORD)


def test_the_code_works_once(visitor, code):
    assert make(visitor, code=code)[0] == 201
    assert make(Client(), code=code, username="sorrel")[0] == 403
    # Also where the account was removed again: the next start says another.
    get_user_model().objects.all().delete()
    assert make(Client(), code=code)[0] == 403
    assert open_door() != code


@pytest.mark.parametrize("wrong", ["", "x", "0" * 16])
def test_another_code_makes_nothing(visitor, code, wrong):
    status, said = make(visitor, code=wrong)
    assert (status, list(said["fields"])) == (403, ["code"])
    assert not get_user_model().objects.exists()
    assert make(visitor, code=f" {code} ")[0] == 201


def test_without_a_code_nobody_comes_in(visitor, settings, tmp_path, db):
    cache.clear()
    settings.HOME = tmp_path
    assert make(visitor, code="")[0] == 403


@pytest.mark.parametrize(
    ("said", "field"),
    [
        ({"password": "1234567890"}, "password"),
        ({"password": "bell-ro"}, "password"),
        ({"password": "wren-wren", "username": "wren-wren"}, "password"),
        ({"username": "wren and sorrel"}, "username"),
    ],
    ids=["numbers only", "short", "like the name", "no name"],
)
def test_what_cannot_be_is_said_at_its_field_and_the_code_stays(visitor, code, said, field):
    status, answer = make(visitor, code=code, **said)
    assert (status, list(answer["fields"])) == (422, [field])
    assert not Workspace.objects.exists()
    assert make(visitor, code=code)[0] == 201


def test_where_there_is_an_account_there_is_no_code(trainer, settings, tmp_path):
    settings.HOME = tmp_path
    assert open_door() is None
    assert list(tmp_path.iterdir()) == []


def test_the_code_is_its_owners_and_stays_until_used(code, tmp_path):
    (path,) = tmp_path.iterdir()
    assert stat.S_IMODE(path.stat().st_mode) == 0o600
    assert open_door() == code


@pytest.mark.long
def test_the_server_says_where_to_begin(tmp_path):
    with House(tmp_path).start() as house:
        found = re.search(
            rf"Make yours at {house.url}/first\?code=(\S+)", house.wait_said("Ctrl-C")
        )
        assert found
        assert found[1] == (tmp_path / "first_account_code").read_text()
