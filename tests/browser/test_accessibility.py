"""axe finds nothing on any screen, in either theme (WCAG 2.2 A and AA, and best practice)."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from tests.long import few

from .axe import faults

SCREENS = {
    "login": "/login",
    "today": "/",
    "films": "/films",
    "next": "/sessions/{session}/next",
    "script": "/sessions/{session}/script",
    "bench": "/sessions/{session}/bench?t=6",
    "findings": "/sessions/{session}/findings",
    "plans": "/plans",
    "plan": "/plans/{behaviour}",
    "calendar": "/calendar",
    "logbook": "/logbook/{behaviour}",
    "report": "/sessions/{session}/report",
    "account": "/account",
    "people": "/people",
    "second-looks": "/second-looks",
    "reports": "/reports",
    "yard": "/yard",
    "nowhere": "/nowhere",
}
#: Where one is the longest; all the others are long.
FEW = ("bench", "findings", "plan", "next")


@pytest.fixture(scope="module")
def behaviour(trainer):
    """A plan with something to mend and something to mind."""
    learner = trainer.ask("POST", "/api/learners", json={"name": "Bramble", "health": ["old"]})
    body = {"learner_id": learner.json()["id"], "starter": "stand"}
    made = trainer.ask("POST", "/api/behaviours", json=body).json()
    more = {
        "session_cap_s": 900,
        "stages": [{"name": "The stand near by", "kind": "getting_used", "until": "step"}],
    }
    draft = made["plan"] | {"document": made["plan"]["document"] | more}
    trainer.ask("PUT", f"/api/behaviours/{made['id']}/plan", json=draft)
    return made["id"]


@pytest.mark.parametrize("screen", [*FEW, *few(0, sorted(set(SCREENS) - set(FEW)))])
def test_axe_finds_nothing(page, house, coded, behaviour, screen):
    page.emulate_media(color_scheme="dark")
    path = SCREENS[screen].format(session=coded["session_id"], behaviour=behaviour)
    page.goto(house.url + path)
    expect(page.get_by_role("heading", level=1).first).to_be_attached()
    if screen == "bench":
        expect(page.locator("[data-rep]").first).to_be_visible()
    if screen == "plan":
        page.locator("[data-step]").nth(2).click()
        expect(page.get_by_role("region", name="Step 3")).to_be_visible()
    if screen == "findings":
        expect(page.locator("#reps tbody tr").first).to_be_visible()
    for theme in ("dark", "light"):
        # Whoever's machine goes over to the other theme sees the open page in it at once.
        page.emulate_media(color_scheme=theme)
        expect(page.locator("html")).to_have_attribute("data-theme", theme)
        assert faults(page) == []


@pytest.mark.long
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
    page.keyboard.press("Escape")
    for opener, opened in (
        ("usual lag", "dialog"),
        ("What holds until it is changed", "dialog"),
        ("More marks", "menu"),
    ):
        page.get_by_role("button", name=opener).click()
        expect(page.get_by_role(opened)).to_be_visible()
        assert faults(page) == [], opener
        page.keyboard.press("Escape")
        expect(page.get_by_role(opened)).to_have_count(0)
    page.keyboard.press("v")
    expect(page.get_by_role("dialog")).to_be_visible()
    assert faults(page) == []


@pytest.mark.long
def test_axe_finds_nothing_in_a_whole_plan(page, house, behaviour):
    page.goto(f"{house.url}/plans/{behaviour}")
    for title in ("places around the animal", "blocks and breaks", "sides", "where the rewards go"):
        page.get_by_text(f"Work out {title}").click()
    expect(page.get_by_role("img", name="stage 1", exact=False)).to_be_visible()
    expect(page.locator("[data-remark=long_session]")).to_be_visible()
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
