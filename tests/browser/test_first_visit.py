"""A new installation in the browser: the first account, then everything brought back into it."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.house import PASSWORD, House


@pytest.fixture
def new_house(tmp_path_factory):
    with House(tmp_path_factory.mktemp("new")).start() as house:
        yield house


@pytest.fixture
def address(new_house):
    """Where the server says that the first account is made."""
    found = re.search(r"Make yours at (\S+)", new_house.wait_said("Ctrl-C"))
    assert found
    return found[1]


@pytest.fixture
def visitor(browser, browser_context_args):
    context = browser.new_context(**browser_context_args)
    yield context.new_page()
    context.close()


def fill_in(visitor, password):
    visitor.get_by_label("Your place").fill("Saltmarsh Steading")
    visitor.get_by_label("Your name").fill("wren")
    visitor.get_by_label("Password").fill(password)


@pytest.mark.long
def test_what_is_wrong_is_said_where_it_stands(visitor, new_house):
    visitor.goto(f"{new_house.url}/login")
    visitor.get_by_role("link", name="Make the first one").click()
    begin = visitor.get_by_role("button", name="Make it and begin")
    begin.click()
    expect(visitor.get_by_role("alert")).to_have_count(4)
    fill_in(visitor, "12345678")
    visitor.get_by_label("Code").fill("guessed")
    begin.click()
    code = visitor.get_by_label("Code")
    expect(code).to_have_attribute("aria-invalid", "true")
    expect(visitor.get_by_role("alert")).to_contain_text("not the code")


@pytest.mark.long
def test_the_first_account_is_made_and_logged_in(visitor, address, new_house):
    visitor.goto(address)
    fill_in(visitor, "12345678")
    visitor.get_by_role("button", name="Make it and begin").click()
    # What only the server knows stands at its field as well.
    expect(visitor.get_by_label("Password")).to_have_attribute("aria-invalid", "true")
    visitor.get_by_label("Password").fill(PASSWORD)
    visitor.get_by_role("button", name="Make it and begin").click()
    expect(visitor).to_have_url(f"{new_house.url}/")
    visitor.goto(address)
    expect(visitor.get_by_role("heading", name="Somebody was here first")).to_be_visible()


@pytest.mark.long
def test_everything_taken_along_elsewhere_comes_back(
    visitor, new_house, trainer, coded, tmp_path, address
):
    archive = tmp_path / "along.zip"
    archive.write_bytes(trainer.ask("GET", "/api/me/workspace.zip?films=true").content)
    marks = {s["id"]: s["marks"] for s in trainer.ask("GET", "/api/sessions").json()}
    visitor.goto(address)
    fill_in(visitor, PASSWORD)
    visitor.get_by_role("button", name="Make it and begin").click()
    expect(visitor).to_have_url(f"{new_house.url}/")
    visitor.goto(f"{new_house.url}/account")
    section = visitor.get_by_role("region", name="Bring everything back")
    section.get_by_label("The file to bring back").set_input_files(
        {"name": "no.zip", "mimeType": "application/zip", "buffer": b"none at all"}
    )
    expect(section.get_by_role("alert")).to_contain_text("no whole archive")
    section.get_by_label("The file to bring back").set_input_files(archive)
    expect(visitor.get_by_role("heading", name="Everything is back")).to_be_visible()
    visitor.get_by_role("link", name="Go on with today").click()
    expect(visitor).to_have_url(f"{new_house.url}/")
    there = new_house.trainer()
    assert {s["id"]: s["marks"] for s in there.ask("GET", "/api/sessions").json()} == marks
    for film in there.ask("GET", "/api/films").json():
        if film["state"] != "cancelled":
            assert there.settled(film["id"])["usable"]
