"""Tries changes one by one, each in a fork of its own: ``mutant_trial.py JOBS RESULTS``.

Nothing of frequens is loaded before the fork, so that the changed file is loaded as changed. A job
names the module, the file of its changed text, the tests and how long they may take.
"""

from __future__ import annotations

import contextlib
import importlib.abc
import importlib.machinery
import importlib.util
import json
import os
import signal
import sys
import time
from pathlib import Path
from typing import Any

import pytest

#: Large libraries, loaded once for all.
SHARED = ("numpy", "scipy.special", "hypothesis", "django.test", "requests", "av", "cv2")
AT_ONCE = os.cpu_count() or 1


class _Changed(importlib.machinery.SourceFileLoader):
    """Loads a module from the text of its change."""

    def __init__(self, module: str, path: str, text: str):
        super().__init__(module, path)
        self._text = text

    def get_code(self, fullname: str) -> Any:
        return compile(self._text, self.path, "exec")


class _Finder(importlib.abc.MetaPathFinder):
    def __init__(self, module: str, path: str, text: str):
        self._loader = _Changed(module, path, text)

    def find_spec(self, fullname: str, path: Any, target: Any = None) -> Any:
        if fullname != self._loader.name:
            return None
        own = Path(self._loader.path)
        inside = [str(own.parent)] if own.name == "__init__.py" else None
        return importlib.util.spec_from_file_location(
            fullname, own, loader=self._loader, submodule_search_locations=inside
        )


def _try(job: dict[str, Any]) -> int:
    """In the fork: pytest's exit code of the job's tests."""
    text = Path(job["changed"]).read_text(encoding="utf-8")
    sys.meta_path.insert(0, _Finder(job["module"], job["path"], text))
    quiet = os.open(os.devnull, os.O_WRONLY)
    os.dup2(quiet, 1)
    os.dup2(quiet, 2)
    return int(pytest.main([*job["tests"], "-x", "-q", *job["options"]]))


def main() -> None:
    jobs = json.loads(Path(sys.argv[1]).read_text(encoding="utf-8"))
    for name in SHARED:
        importlib.import_module(name)
    waiting, running, codes = (
        list(range(len(jobs))),
        dict[int, tuple[int, float]](),
        dict[int, int](),
    )
    while waiting or running:
        while waiting and len(running) < AT_ONCE:
            number = waiting.pop(0)
            pid = os.fork()
            if pid == 0:
                os.setsid()
                os._exit(_try(jobs[number]))
            running[pid] = number, time.monotonic() + jobs[number]["seconds"]
        pid, status = os.waitpid(-1, os.WNOHANG)
        if pid:
            number, _ = running.pop(pid)
            codes[number] = os.waitstatus_to_exitcode(status)
            print(f"\r{len(codes)} of {len(jobs)} tried", end="", flush=True)
            continue
        for pid, (_, until) in running.items():
            if time.monotonic() > until:
                with contextlib.suppress(ProcessLookupError):
                    os.killpg(pid, signal.SIGKILL)
        time.sleep(0.02)
    print()
    Path(sys.argv[2]).write_text(json.dumps([codes[n] for n in range(len(jobs))]))


if __name__ == "__main__":
    main()
