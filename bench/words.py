"""Marker words: how well by voice and noise, and how fast.

The voices are `espeak-ng`'s and `flite`'s (`tests/media/other_voices.py`), which share nothing
with those that are fitted on; seeds that no test listens to.
"""

from __future__ import annotations

import time
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import mir_eval
import numpy as np
from tests.media.other_voices import spoken

from frequens.media.sound.words import Voices, find_words, heard_voices

SEEDS = range(400, 408)
MARKED = (1, 3, 5)
WINDOW_S, MINUTES = 0.05, 1.25
Counts = dict[int, tuple[int, int, int]]


def _session(job: tuple[str, int, int]) -> Counts:
    """True, found and both, by how many were marked: half of the sessions hardly talk."""
    engine, over_db, seed = job
    heard = spoken(engine, over_db, seed, talks=0.75 if seed % 2 else 0.15)
    voices = heard_voices(heard.samples)
    said = np.array(heard.presses_s)
    counts = {}
    for marked in MARKED:
        chance = np.random.default_rng([seed, marked])
        examples = chance.choice(said, marked, replace=False)
        found = find_words(voices, (examples + chance.uniform(-1 / 60, 1 / 60, marked)).tolist())
        rest = np.sort(said[~np.isin(said, examples)])
        shown = np.sort(found.t_s[found.score > 0])
        both = len(mir_eval.util.match_events(rest, shown, WINDOW_S))
        counts[marked] = (len(rest), len(shown), both)
    return counts


def run(folder: Path) -> list[str]:
    """The table, then an hour."""
    lines = ["F1 at ±50 ms with 1 / 3 / 5 marked; false a minute with 3"]
    kinds = [(engine, over_db) for engine in ("espeak", "flite") for over_db in (20, 10, 5)]
    jobs = [(*kind, seed) for kind in kinds for seed in SEEDS]
    with ProcessPoolExecutor(2) as pool:
        counted = dict(zip(jobs, pool.map(_session, jobs), strict=True))
    for engine, over_db in kinds:
        of = [counted[engine, over_db, seed] for seed in SEEDS]
        row = []
        for marked in MARKED:
            true, found, both = (sum(one[marked][n] for one in of) for n in range(3))
            row.append(f"{2 * both / (true + found):.2f}")
            if marked == 3:
                false = (found - both) / (len(SEEDS) * MINUTES)
        lines.append(f"  {engine:7} {over_db:3} dB  {' / '.join(row)}   {false:.1f}")
    return lines + _speed()


def _speed() -> list[str]:
    one = spoken("flite", 20, 500)
    began = time.perf_counter()
    voices = heard_voices(one.samples)
    hearing = 75 / (time.perf_counter() - began)
    hour = Voices(np.tile(voices.rows, (48, 1)))
    began = time.perf_counter()
    find_words(hour, one.presses_s[:3])
    return [
        f"heard {hearing:.0f} × real time; an hour looked through in "
        f"{time.perf_counter() - began:.1f} s"
    ]
