"""Hearing clicks: how well by condition, beside a general onset detector, and how fast.

The sound is the other simulator's (`tests/media/other_yard.py`), which shares nothing with the
one that is fitted on; seeds that no test listens to.
"""

from __future__ import annotations

import time
from concurrent.futures import ProcessPoolExecutor
from fractions import Fraction
from pathlib import Path

import av
import librosa
import mir_eval
import numpy as np
from tests.media.other_yard import CONDITIONS, Heard, listen

from frequens.media.decode.frames import FrameIndex
from frequens.media.decode.samples import RATE
from frequens.media.sound import clicks
from frequens.media.sound.track import placed_sound, read_sound

SEEDS = range(200, 204)
CONFIRMED = (0, 1, 3)
#: How often what was heard is laid end to end for an hour of film.
LENGTH_MIN = 60


def _session(job: tuple[str, int]) -> tuple[Heard, clicks.Candidates, np.ndarray, int]:
    name, seed = job
    heard = listen(name, seed)
    strength = librosa.onset.onset_strength(
        y=heard.samples, sr=RATE, hop_length=128, fmin=2500, fmax=12000
    )
    general = librosa.onset.onset_detect(
        onset_envelope=strength, sr=RATE, hop_length=128, units="time"
    )
    nobody = clicks.find_candidates(listen(name, seed, 0).samples)
    false = clicks.rank(clicks.Sound(nobody)).usual
    return heard, clicks.find_candidates(heard.samples), general, false


def _f(pairs: list[tuple[np.ndarray, np.ndarray]]) -> float:
    laid = [
        np.concatenate([np.sort(part) + 100 * n for n, part in enumerate(side)])
        for side in zip(*pairs, strict=True)
    ]
    return float(mir_eval.onset.f_measure(*laid, window=0.02)[0])


def run(folder: Path) -> list[str]:
    """The table, then the sound stage and the ranking of an hour."""
    jobs = [(name, seed) for name in CONDITIONS for seed in SEEDS]
    with ProcessPoolExecutor(2) as pool:
        sessions = dict(zip(jobs, pool.map(_session, jobs), strict=True))
    lines = ["F1 at ±20 ms with 0 / 1 / 3 confirmed, general onset detector, false a minute"]
    everything: dict[int, list[tuple[np.ndarray, np.ndarray]]] = {n: [] for n in CONFIRMED}
    for name in CONDITIONS:
        of = [sessions[name, seed] for seed in SEEDS]
        row = []
        for count in CONFIRMED:
            pairs = []
            for heard, found, _, _ in of:
                ranked = clicks.rank(clicks.Sound(found), heard.presses_s[:count])
                pairs.append((np.array(heard.presses_s), ranked.t_s[ranked.score > 0]))
            everything[count] += pairs
            row.append(f"{_f(pairs):.2f}")
        general = _f([(np.array(heard.presses_s), onsets) for heard, _, onsets, _ in of])
        false = np.mean([false for *_, false in of])
        lines.append(f"  {name:13} {' / '.join(row)}   {general:.2f}   {false:.1f}")
    whole = " / ".join(f"{_f(everything[count]):.3f}" for count in CONFIRMED)
    lines.append(f"  all conditions: {whole}")
    return lines + _speed(folder, [heard for heard, *_ in sessions.values()])


def _speed(folder: Path, heard: list[Heard]) -> list[str]:
    path = folder / "hour.m4a"
    _write(path, np.concatenate([h.samples for h in (heard * 2)[:LENGTH_MIN]]))
    index = FrameIndex((1, 1000), tuple(range(0, LENGTH_MIN * 60_000, 40)))
    began = time.perf_counter()
    for _ in placed_sound(path, Fraction(0)):
        pass
    decoding = time.perf_counter() - began
    began = time.perf_counter()
    read = read_sound(path, index)
    reading = time.perf_counter() - began
    assert read is not None
    sound = clicks.Sound(read.clicks)
    began = time.perf_counter()
    first = clicks.rank(sound)
    once = time.perf_counter() - began
    began = time.perf_counter()
    clicks.rank(sound, first.t_s[:1].tolist())
    again = time.perf_counter() - began
    return [
        f"sound of {LENGTH_MIN} min: {LENGTH_MIN * 60 / reading:.0f} × real time (aim 100), "
        f"{reading / decoding:.1f} × decoding alone",
        f"ranking {len(read.clicks)} candidates: {once * 1000:.0f} ms, "
        f"{again * 1000:.0f} ms at a confirmation (aim 100)",
    ]


def _write(path: Path, samples: np.ndarray) -> None:
    with av.open(str(path), "w", format="mp4") as film:
        stream = film.add_stream("aac", rate=RATE, layout="mono")
        for start in range(0, len(samples) - 1024, 1024):
            block = samples[None, start : start + 1024]
            frame = av.AudioFrame.from_ndarray(block, format="fltp", layout="mono")
            frame.rate, frame.pts, frame.time_base = RATE, start, Fraction(1, RATE)
            for packet in stream.encode(frame):
                film.mux(packet)
        for packet in stream.encode(None):
            film.mux(packet)
