"""The way in and out."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.house import PASSWORD

from .conftest import log_in


@pytest.fixture
def visitor(browser, browser_context_args):
    context = browser.new_context(**browser_context_args)
    yield context.new_page()
    context.close()


def test_a_page_asks_for_the_login_and_is_shown_after_it(visitor, house):
    # Each time the page itself goes to the login: one waits for that before going elsewhere.
    for page in ("account", "films"):
        visitor.goto(f"{house.url}/{page}")
        expect(visitor).to_have_url(re.compile(rf"/login\?next=%2F{page}"))
    visitor.get_by_label("Name").fill("wren")
    visitor.get_by_label("Password").fill("not this one")
    visitor.get_by_role("button", name="Log in").click()
    expect(visitor.get_by_role("alert")).to_contain_text("not correct")
    visitor.get_by_label("Password").fill(PASSWORD)
    visitor.get_by_role("button", name="Log in").click()
    expect(visitor).to_have_url(f"{house.url}/films")


@pytest.mark.long
def test_no_other_site_can_be_the_next_page(visitor, house):
    for trap in ("//127.0.0.1:9/", "https://127.0.0.1:9/", "/\\127.0.0.1:9", "/%09/127.0.0.1:9"):
        visitor.goto(f"{house.url}/login?next={trap}")
        visitor.get_by_label("Name").fill("wren")
        visitor.get_by_label("Password").fill(PASSWORD)
        visitor.get_by_role("button", name="Log in").click()
        expect(visitor).to_have_url(f"{house.url}/")


def test_logging_out_and_changing_the_password(visitor, house):
    log_in(visitor, house.url)
    visitor.goto(f"{house.url}/account")
    visitor.get_by_label("Present password").fill(PASSWORD)
    visitor.get_by_label("New password", exact=True).fill("short")
    visitor.get_by_label("New password, once more").fill("short")
    visitor.get_by_role("button", name="Change it").click()
    expect(visitor.get_by_role("alert")).to_contain_text("eight characters")
    visitor.get_by_label("New password", exact=True).fill("12345678")
    visitor.get_by_label("New password, once more").fill("12345679")
    visitor.get_by_role("button", name="Change it").click()
    expect(visitor.get_by_role("alert")).to_contain_text("differ")
    # What only the server knows.
    visitor.get_by_label("New password, once more").fill("12345678")
    visitor.get_by_role("button", name="Change it").click()
    expect(visitor.get_by_role("alert")).to_contain_text("too common")
    visitor.get_by_role("button", name="wren").click()
    visitor.get_by_role("menuitem", name="Log out").click()
    expect(visitor).to_have_url(f"{house.url}/login")
    visitor.goto(f"{house.url}/films")
    expect(visitor).to_have_url(re.compile("/login"))


def test_an_address_that_leads_nowhere_says_so(page, house):
    page.goto(f"{house.url}/nowhere")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    page.get_by_role("link", name="Films").first.click()
    expect(page).to_have_url(f"{house.url}/films")
