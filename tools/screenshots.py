"""Pictures of the main views from the demo data: ``screenshots.py FOLDER [NAME …]``."""

from __future__ import annotations

import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from playwright.sync_api import Page, ViewportSize, sync_playwright
from tests.house import CHROMIUM, CHROMIUM_ARGUMENTS, PASSWORD, TRAINER, House


def films(page: Page, house: House) -> None:
    page.goto(f"{house.url}/films")
    page.get_by_role("link", name="Go on coding").first.wait_for()


def session_of(house: House) -> str:
    """The demo's filmed and coded session."""
    sessions = house.trainer().ask("GET", "/api/sessions").json()
    return str(max((s for s in sessions if s["films"]), key=lambda s: s["marks"])["id"])


def behaviour_of(house: House, name: str) -> str:
    found = house.trainer().ask("GET", "/api/behaviours").json()
    return str(next(b["id"] for b in found if b["name"].startswith(name)))


def bench(page: Page, house: House) -> None:
    session_id = session_of(house)
    found = house.trainer().ask("GET", f"/api/sessions/{session_id}/findings").json()["findings"]
    rep = next(r for r in found["reps"] if r["timing"] == "late")
    page.goto(f"{house.url}/sessions/{session_id}/bench?t={rep['marker_s']:.6f}")
    page.locator("[data-rep][aria-current=true]").wait_for()
    page.wait_for_timeout(2500)


def today(page: Page, house: House) -> None:
    page.goto(house.url)
    page.get_by_role("heading", name="What is being taught").wait_for()


def next_session(page: Page, house: House) -> None:
    page.goto(f"{house.url}/sessions/{session_of(house)}/next")
    page.get_by_label("Minutes").wait_for()


def script(page: Page, house: House) -> None:
    """Asked and not asked in an order nobody can foresee, a break after each block."""
    page.goto(f"{house.url}/logbook/{behaviour_of(house, 'Peg')}")
    page.get_by_role("link", name="Next session").click()
    page.get_by_role("link", name="The script, rep by rep").click()
    page.get_by_role("button", name="Another order").wait_for()


def calendar(page: Page, house: House) -> None:
    """The month in which most was done."""
    page.goto(f"{house.url}/calendar")
    page.locator("td[aria-current=date]").wait_for()


def drill(page: Page, house: House) -> None:
    """The last drill of the demo's trainer, and how they came to it."""
    runs = house.trainer().ask("GET", "/api/drills").json()["runs"]
    run = next(run for run in runs if run["instant"] == "begins")
    page.goto(f"{house.url}/drill?run={run['id']}")
    page.get_by_test_id("drill-result").wait_for()


def rehearsal(page: Page, house: House) -> None:
    """The plan whose logbook says something of the learner."""
    page.goto(f"{house.url}/plans/{behaviour_of(house, 'Ring')}/rehearsal")
    page.locator("[data-school=comfort] svg").wait_for()


def second_look(page: Page, house: House) -> None:
    """The demo's two coders, at a mark that they put on two frames."""
    looks = house.trainer().ask("GET", "/api/second-looks").json()["looks"]
    page.goto(f"{house.url}/second-looks/{looks[0]['id']}")
    panel = page.get_by_role("region", name="What differs, one by one")
    panel.wait_for()
    while "Only" in panel.get_by_role("status").inner_text():
        page.keyboard.press("ArrowRight")
    page.wait_for_timeout(1500)


def plan(page: Page, house: House) -> None:
    page.goto(f"{house.url}/plans/{behaviour_of(house, 'Ring')}?step=mouth")
    page.locator("[data-step]").first.wait_for()
    page.wait_for_timeout(800)


def passes(page: Page, house: House) -> None:
    """The film nobody has coded yet: its clicks taken, two marks tapped, the fix pass begun."""
    sessions = house.trainer().ask("GET", "/api/sessions").json()
    session_id = next(s["id"] for s in sessions if s["films"] and not s["marks"])
    page.goto(f"{house.url}/sessions/{session_id}/bench")
    page.get_by_role("button", name="take all").click()
    page.wait_for_timeout(2500)
    page.keyboard.press("Space")
    for key, wait_ms in (("b", 2300), ("r", 1900)):
        page.wait_for_timeout(wait_ms)
        page.keyboard.press(key)
    page.keyboard.press("Space")
    page.wait_for_timeout(800)
    page.keyboard.press("x")
    page.get_by_role("group", name="Fix pass").wait_for()
    page.wait_for_timeout(1500)


def phone(page: Page, house: House) -> None:
    """The bench as wide as a phone."""
    page.set_viewport_size({"width": 390, "height": 844})
    bench(page, house)


def yard(page: Page, house: House) -> None:
    """The phone's own page: films on their way out, and what can be led."""
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{house.url}/yard")
    page.locator("[data-offline=ready]").wait_for()


def led(page: Page, house: House) -> None:
    """A session led by thumb, when the school says something."""
    yard(page, house)
    page.get_by_role("link", name="Ring").first.click()
    page.get_by_role("button", name="Begin").click()
    for name in ("Fits", "Fits", "Fits", "Fits", "Fits"):
        page.wait_for_timeout(700)
        page.get_by_role("button", name=name, exact=True).click()
    page.locator("[data-word=raise]").wait_for()


def findings(page: Page, house: House) -> None:
    page.goto(f"{house.url}/sessions/{session_of(house)}/findings")
    page.locator("#reps tbody tr").first.wait_for()


def last_findings(page: Page, house: House, name: str, part: str) -> None:
    """One part of the findings of the behaviour's last session."""
    behaviour = behaviour_of(house, name)
    logged = house.trainer().ask("GET", f"/api/logbook/{behaviour}").json()["sessions"]
    filmed = next(s for s in logged if not s["by_hand"])
    page.goto(f"{house.url}/sessions/{filmed['session_id']}/findings#{part}")
    page.locator(f"#{part}").wait_for()
    page.evaluate(f"document.getElementById('{part}').scrollIntoView()")


def cues(page: Page, house: House) -> None:
    last_findings(page, house, "Disc", "stimulus_control")


def logbook(page: Page, house: House) -> None:
    page.goto(f"{house.url}/logbook/{behaviour_of(house, 'Hoof')}")
    page.get_by_role("heading", name="The stairs, day by day").wait_for()


def variation(page: Page, house: House) -> None:
    """Further down the logbook: the clock face by its levels, and what is next."""
    page.goto(f"{house.url}/logbook/{behaviour_of(house, 'Stand')}")
    page.locator("#variation").wait_for()
    page.evaluate("document.getElementById('variation').scrollIntoView()")


def report(page: Page, house: House) -> None:
    page.goto(f"{house.url}/sessions/{session_of(house)}/report")
    page.frame_locator("iframe").locator("h1").wait_for()
    page.wait_for_timeout(2500)


VIEWS: dict[str, Callable[[Page, House], None]] = {
    "films": films,
    "bench": bench,
    "findings": findings,
    "cues": cues,
    "logbook": logbook,
    "variation": variation,
    "report": report,
    "today": today,
    "calendar": calendar,
    "next": next_session,
    "script": script,
    "rehearsal": rehearsal,
    "drill": drill,
    "second-look": second_look,
    "plan": plan,
    "passes": passes,
    # After it: what one listens for goes with the person.
    "phone": phone,
    "yard": yard,
    "led": led,
}


#: Of every picture that does not say otherwise, pixels.
SIZE: ViewportSize = {"width": 1280, "height": 800}


def main(folder: Path, names: list[str], dark: bool = False) -> None:
    """Start the demo in a folder of its own and take each view at 1280 by 800."""
    folder.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as home,
        sync_playwright() as playwright,
        House(Path(home)) as house,
    ):
        house.start(command="serve_demo", timeout_s=300)
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_ARGUMENTS)
        page = browser.new_page(viewport=SIZE, color_scheme="dark" if dark else "light")
        page.goto(f"{house.url}/login")
        page.get_by_label("Name").fill(TRAINER)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Log in").click()
        page.get_by_role("navigation", name="Main").wait_for()
        for name in names or VIEWS:
            page.set_viewport_size(SIZE)
            VIEWS[name](page, house)
            page.wait_for_timeout(800)
            page.screenshot(path=folder / f"{name}.png")
        browser.close()


if __name__ == "__main__":
    arguments = [a for a in sys.argv[1:] if a != "--dark"]
    main(Path(arguments[0]), arguments[1:], dark="--dark" in sys.argv)
