"""Which tests reach which line: a plugin for pytest, beside coverage with its contexts.

``coverage run … -m pytest -p tools.mutant_tests``: coverage notes for every line under which name
it was run, a test's or a fixture's; this gives it the names, and notes which tests ask for which
fixture and how long each test takes, into the file named in ``FREQUENS_MUTANT_TESTS``.
"""

from __future__ import annotations

import json
import os
from collections import defaultdict
from collections.abc import Generator
from pathlib import Path
from typing import Any

import coverage
import pytest

#: Tests that ask a house of its own are not asked: what is changed here is not in its processes.
ELSEWHERE = frozenset({"make_house", "house"})

_tests: defaultdict[str, set[str]] = defaultdict(set)
_seconds: defaultdict[str, float] = defaultdict(float)
#: What fails as it stands says nothing of a change: tests of migrations, where none are run.
_failed: set[str] = set()


def pytest_collection_modifyitems(config: Any, items: list[Any]) -> None:
    left_out = [item for item in items if ELSEWHERE & set(getattr(item, "fixturenames", ()))]
    config.hook.pytest_deselected(items=left_out)
    items[:] = [item for item in items if item not in left_out]
    for item in items:
        _tests[item.nodeid].add(item.nodeid)
        for definitions in item._fixtureinfo.name2fixturedefs.values():
            _tests[_named(definitions[-1])].add(item.nodeid)


def _named(fixture: Any) -> str:
    return f"fixture {fixture.baseid}::{fixture.argname}"


@pytest.hookimpl(wrapper=True)
def pytest_runtest_call(item: pytest.Item) -> Generator[None]:
    _note(item.nodeid)
    yield
    _note("")


@pytest.hookimpl(wrapper=True)
def pytest_fixture_setup(fixturedef: Any, request: Any) -> Generator[None, Any, Any]:
    """What a fixture runs is reached by every test that asks for it, not by the first alone."""
    _note(_named(fixturedef))
    made = yield
    # One fixture's setup may be asked for in the middle of a test.
    _note(request.node.nodeid if request.node.nodeid in _tests else "")
    return made


def _note(name: str) -> None:
    noting = coverage.Coverage.current()
    assert noting is not None
    noting.switch_context(name)


def pytest_runtest_logreport(report: pytest.TestReport) -> None:
    _seconds[report.nodeid] += report.duration
    if report.failed:
        _failed.add(report.nodeid)


def pytest_sessionfinish() -> None:
    tests = {name: sorted(ids - _failed) for name, ids in _tests.items()}
    seconds = {test: taken for test, taken in _seconds.items() if test not in _failed}
    found = {"tests": tests, "seconds": seconds, "failed": sorted(_failed)}
    Path(os.environ["FREQUENS_MUTANT_TESTS"]).write_text(json.dumps(found), encoding="utf-8")
