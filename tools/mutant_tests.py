"""Which tests reach which line: a plugin for pytest, beside coverage with its contexts.

``coverage run … -m pytest -p tools.mutant_tests``: coverage notes for every line the test functions
that came by; this notes which tests a function stands for and how long each takes, into the file
named in ``FREQUENS_MUTANT_TESTS``.
"""

from __future__ import annotations

import json
import os
from collections import defaultdict
from pathlib import Path
from typing import Any

import pytest

#: Tests that ask a house of its own are not asked: what is changed here is not in its processes.
ELSEWHERE = frozenset({"make_house", "house"})
#: What hypothesis runs of all its tests; coverage cannot tell one from another.
BY_HYPOTHESIS = "hypothesis.internal.conjecture.engine.ConjectureRunner.test_function"

_tests: defaultdict[str, set[str]] = defaultdict(set)
_seconds: defaultdict[str, float] = defaultdict(float)
#: What fails as it stands says nothing of a change: tests of migrations, where none are run.
_failed: set[str] = set()


def pytest_collection_modifyitems(config: Any, items: list[Any]) -> None:
    left_out = [item for item in items if ELSEWHERE & set(getattr(item, "fixturenames", ()))]
    config.hook.pytest_deselected(items=left_out)
    items[:] = [item for item in items if item not in left_out]
    for item in items:
        function = getattr(item, "function", None)
        if function is None:
            continue
        _tests[f"{function.__module__}.{function.__qualname__}"].add(item.nodeid)
        if hasattr(function, "hypothesis"):
            _tests[BY_HYPOTHESIS].add(item.nodeid)


def pytest_runtest_logreport(report: pytest.TestReport) -> None:
    _seconds[report.nodeid] += report.duration
    if report.failed:
        _failed.add(report.nodeid)


def pytest_sessionfinish() -> None:
    tests = {name: sorted(ids - _failed) for name, ids in _tests.items()}
    seconds = {test: taken for test, taken in _seconds.items() if test not in _failed}
    found = {"tests": tests, "seconds": seconds}
    Path(os.environ["FREQUENS_MUTANT_TESTS"]).write_text(json.dumps(found), encoding="utf-8")
