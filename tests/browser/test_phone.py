"""A phone on the same network comes in: by a picture or by hand, once, and over HTTPS."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from .axe import faults
from .conftest import log_in


@pytest.fixture(scope="module")
def lan(make_house):
    """A house on the network: here the network is this computer alone."""
    with make_house() as house:
        yield house.start("--lan", "127.0.0.1", "--lan-port", "0")


@pytest.fixture
def desk(browser, lan):
    """The large screen, logged in."""
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    log_in(page, lan.url)
    page.goto(f"{lan.url}/films")
    page.get_by_role("button", name="Bring your phone").click()
    yield page
    page.context.close()


@pytest.fixture
def handset(browser):
    """A phone that goes on past the warning."""
    context = browser.new_context(
        viewport={"width": 390, "height": 844},
        has_touch=True,
        is_mobile=True,
        ignore_https_errors=True,
    )
    yield context.new_page()
    context.close()


def shown(desk):
    code = desk.locator("[data-code]").get_attribute("data-code")
    address = desk.get_by_text("/phone", exact=False).last.inner_text()
    return code, address


@pytest.mark.long
def test_a_phone_comes_in_by_the_picture_and_the_code_is_spent(desk, handset, lan):
    expect(desk.get_by_role("img", name="The address with the code")).to_be_visible()
    expect(desk.get_by_text("holds once, for")).to_be_visible()
    code, address = shown(desk)
    assert address.startswith("https://127.0.0.1:")
    # What the camera reads out of the picture.
    handset.goto(f"{address}#{code}")
    expect(handset.get_by_role("heading", name="In the yard")).to_be_visible()
    assert handset.evaluate("location.hash") == ""
    assert handset.evaluate("document.documentElement.scrollWidth") <= 390
    assert all(cookie["secure"] for cookie in handset.context.cookies())
    other = handset.context.browser.new_context(ignore_https_errors=True).new_page()
    other.goto(f"{address}#{code}")
    expect(other.get_by_role("alert")).to_contain_text("does not hold (any more)")
    other.goto(address.replace("/phone", "/films"))
    expect(other.get_by_role("button", name="Log in")).to_be_visible()
    other.context.close()


@pytest.mark.long
def test_what_the_phone_leads_meets_the_film_the_large_screen_brings(
    desk, handset, lan, shot_bell, tmp_path
):
    trainer = lan.trainer()
    learner = trainer.ask("POST", "/api/learners", json={"name": "Thistle"}).json()
    body = {"learner_id": learner["id"], "starter": "bell"}
    assert trainer.ask("POST", "/api/behaviours", json=body).status_code == 201
    code, address = shown(desk)
    handset.goto(f"{address}#{code}")
    # Its browser keeps no pages behind a certificate nobody installed, and is told so.
    expect(handset.locator("[data-offline=refused]")).to_be_visible()
    handset.get_by_role("link", name="Ring").first.tap()
    handset.get_by_role("button", name="Begin").tap()
    for name in ("Fits", "Not yet", "Fits"):
        handset.get_by_role("button", name=name, exact=True).tap()
        handset.wait_for_timeout(1200)
    handset.get_by_role("button", name="End").tap()
    expect(handset.get_by_test_id("kept")).to_have_text("all taps are saved")
    findings = handset.get_by_role("link", name="To the findings").get_attribute("href")
    # Filming ended with the session: the file was written then.
    film = tmp_path / "from the phone.mp4"
    film.write_bytes(shot_bell.read_bytes())
    desk.goto(f"{lan.url}/films")
    desk.locator("input[type=file]").first.set_input_files(film)
    row = desk.locator("li", has_text=film.name)
    expect(row).to_contain_text("what you tapped lies on it")
    row.get_by_role("link", name="Go on coding").click()
    expect(desk).to_have_url(re.compile(findings.removesuffix("findings")))
    # Three reps and two rewards.
    expect(desk.locator("[data-tap]")).to_have_count(5)
    expect(desk.get_by_test_id("taps")).to_contain_text("by the two clocks")
    assert faults(desk) == []


def test_a_phone_comes_in_by_hand(desk, handset, lan):
    code, address = shown(desk)
    handset.goto(address)
    handset.get_by_role("button", name="Come in").tap()
    expect(handset.get_by_role("alert")).to_have_text("The code stands on the large screen.")
    handset.get_by_label("Code").fill("22222222")
    handset.get_by_role("button", name="Come in").tap()
    expect(handset.get_by_role("alert")).to_contain_text("does not hold")
    handset.get_by_label("Code").fill(f"{code[:4]} {code[4:].lower()}")
    handset.get_by_role("button", name="Come in").tap()
    expect(handset.get_by_role("heading", name="In the yard")).to_be_visible()


@pytest.mark.long
def test_a_browser_that_was_told_nothing_warns(browser, desk):
    _, address = shown(desk)
    context = browser.new_context()
    with pytest.raises(Exception, match="ERR_CERT_AUTHORITY_INVALID"):
        context.new_page().goto(address)
    context.close()


def test_where_the_network_is_not_served_it_says_how(page, house):
    page.goto(f"{house.url}/films")
    page.get_by_role("button", name="Bring your phone").click()
    expect(page.get_by_role("dialog")).to_contain_text("make lan")
