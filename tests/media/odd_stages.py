"""Stages that end in other ways than well, for `run_stage`."""

from __future__ import annotations

import os
import sys
import time
from pathlib import Path


def is_killed(task, limits, report):
    os.kill(os.getpid(), task["signal"])


def fails(task, limits, report):
    raise ZeroDivisionError


def takes_long(task, limits, report):
    Path(task["pid"]).write_text(str(os.getpid()))
    report(0.5)
    time.sleep(60)


def takes_all_memory(task, limits, report):
    return {"bytes": len(bytearray(limits.memory_bytes))}


def says_much(task, limits, report):
    for n in range(1000):
        report(n / 1000)
    print("a decoder's complaint", file=sys.stderr)
    return {"words": "x" * 3_000_000}
