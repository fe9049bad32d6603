"""The account's page: everything to take along, and the way out."""

from __future__ import annotations

import zipfile

import pytest
from playwright.sync_api import expect

from .conftest import PASSWORD, log_in


@pytest.fixture(scope="module")
def house(own_house):
    return own_house


@pytest.mark.long
def test_an_animal_is_removed_with_its_sessions_only_where_asked(browser, house, trainer):
    learner = trainer.ask("POST", "/api/learners", json={"name": "Pepper"}).json()
    body = {"learner_id": learner["id"], "starter": "bell"}
    plan = trainer.ask("POST", "/api/behaviours", json=body).json()["id"]
    counts = {"date": "2026-05-03", "counts": {"minutes": 4}}
    trainer.ask("POST", f"/api/logbook/{plan}/by-hand", json=counts)
    context = browser.new_context()
    page = context.new_page()
    log_in(page, house.url)
    expect(page).to_have_url(f"{house.url}/")
    page.goto(f"{house.url}/plans")
    page.get_by_role("button", name="About Pepper").click()
    page.get_by_role("button", name="Remove Pepper").click()
    page.get_by_label("and 1 session with their films").check()
    page.get_by_role("button", name="Remove Pepper").click()
    expect(page.get_by_role("button", name="About Pepper")).to_have_count(0)
    assert trainer.ask("GET", "/api/learners").json() == []
    assert trainer.ask("GET", "/api/sessions").json() == []
    context.close()


@pytest.fixture
def another_house(make_house):
    """One that nobody needs any more afterwards."""
    house = make_house().start()
    yield house
    house.kill()


@pytest.mark.long
def test_everything_can_be_taken_along_and_then_be_removed(browser, another_house):
    house = another_house
    house.trainer().ask("POST", "/api/learners", json={"name": "Bramble"})
    context = browser.new_context()
    page = context.new_page()
    log_in(page, house.url)
    expect(page).to_have_url(f"{house.url}/")
    page.goto(f"{house.url}/account")
    with page.expect_download() as started:
        page.get_by_role("link", name="Without the films").click()
    download = started.value
    assert download.suggested_filename == "Saltmarsh-Steading.zip"
    with zipfile.ZipFile(download.path()) as archive:
        assert b"Bramble" in archive.read("learners.json")
    expect(page.get_by_text("You are the only trainer of Saltmarsh Steading")).to_be_visible()
    page.get_by_role("button", name="Remove my account").click()
    form = page.get_by_role("form", name="Remove my account")
    form.get_by_label("Your password").fill("not this one")
    sure = form.get_by_role("button", name="Remove my account and all of Saltmarsh Steading")
    sure.click()
    expect(form.get_by_role("alert")).to_contain_text("Nothing was removed")
    form.get_by_label("Your password").fill(PASSWORD)
    sure.click()
    expect(page).to_have_url(f"{house.url}/login")
    page.get_by_label("Name").fill("wren")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Log in").click()
    expect(page.get_by_role("alert")).to_be_visible()
    context.close()
