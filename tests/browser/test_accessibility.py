"""axe finds nothing on any screen, in either theme (WCAG 2.2 A and AA, and best practice)."""

from __future__ import annotations

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

SCREENS = {
    "login": "/login",
    "films": "/films",
    "bench": "/sessions/{session}/bench?t=6",
    "findings": "/sessions/{session}/findings",
    "account": "/account",
    "nowhere": "/nowhere",
}


def faults(page):
    results = Axe().run(page)
    return [
        f"{v['id']}: {node['html'][:160]}"
        for v in results.response["violations"]
        for node in v["nodes"]
    ]


@pytest.mark.parametrize("theme", ["light", "dark"])
@pytest.mark.parametrize("screen", SCREENS)
def test_axe_finds_nothing(page, house, coded, screen, theme):
    page.emulate_media(color_scheme=theme)
    page.goto(house.url + SCREENS[screen].format(session=coded["session_id"]))
    expect(page.get_by_role("heading", level=1).first).to_be_attached()
    if screen == "bench":
        expect(page.locator("[data-rep]").first).to_be_visible()
    if screen == "findings":
        expect(page.locator("#reps tbody tr").first).to_be_visible()
    assert page.locator("html").get_attribute("data-theme") == theme
    assert faults(page) == []


def test_axe_finds_nothing_in_what_opens(page, house, coded):
    page.goto(f"{house.url}/films")
    page.get_by_role("button", name="Use the simulated camera").click()
    expect(page.get_by_role("dialog")).to_be_visible()
    assert faults(page) == []
    page.goto(f"{house.url}/sessions/{coded['session_id']}/bench")
    expect(page.locator("[data-rep]").first).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_be_visible()
    assert faults(page) == []


def test_the_bench_can_be_worked_without_a_mouse(page, house, coded):
    """Every control is reached by Tab, and shows that it is."""
    page.goto(f"{house.url}/sessions/{coded['session_id']}/bench")
    expect(page.locator("[data-rep]").first).to_be_visible()
    reached = set()
    for _ in range(60):
        page.keyboard.press("Tab")
        name, outlined = page.evaluate(
            """() => { const e = document.activeElement;
                 // Past the last control the page itself has the focus.
                 if (e === document.body) return ['', true];
                 return [e.getAttribute('aria-label') || e.textContent,
                         getComputedStyle(e).outlineStyle !== 'none']; }"""
        )
        reached.add(name.strip()[:20])
        assert outlined, name
    for wanted in ("Play", "Speed", "b behaviour begins", "m marker", "r reward"):
        assert any(name.startswith(wanted[:12]) for name in reached), (wanted, reached)
