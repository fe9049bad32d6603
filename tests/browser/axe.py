"""What axe finds on a page."""

from __future__ import annotations

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page


def faults(page: Page) -> list[str]:
    """Each fault's rule and the element it is in; none is as it should be."""
    results = Axe().run(page)
    return [
        f"{v['id']}: {node['html'][:160]}"
        for v in results.response["violations"]
        for node in v["nodes"]
    ]
