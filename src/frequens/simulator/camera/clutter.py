"""What else a microphone hears in a yard: voices, feed tubs, snaps, hooves and wind.

All of it is synthesised and the same for the same generator. Levels are relative: a sound
of level 1 peaks near full scale.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import signal

from frequens.media.decode.samples import RATE

Wave = NDArray[np.float64]
#: Of a click's press, these seconds are measured for its level against the background.
PRESS_S = 0.005


@dataclass(frozen=True, slots=True)
class Clicker:
    """One clicker's sound: partials (Hz, level), its ring in seconds, and its release.

    The release follows the press by `gap_s` at `release` times its level, with partials of its
    own where `let_go_partials` has any. `rise_s` is how long the sound takes to its full
    strength. A spring of sheet metal sounds much the same each time: the same partials and the
    same burst (from `seed`), with a little that is new in every press.
    """

    partials: tuple[tuple[float, float], ...]
    ring_s: float
    gap_s: float
    release: float
    seed: int
    rise_s: float = 0.0
    let_go_partials: tuple[tuple[float, float], ...] = ()

    def press(self, chance: np.random.Generator) -> Wave:
        """One press, its first sample the instant; peak near 1."""
        return self._sound(chance, self.partials, self.seed, spread=0.08)

    def let_go(self, chance: np.random.Generator) -> Wave:
        """The release: the same metal, struck from the other side."""
        partials = self.let_go_partials or self.partials
        return self._sound(chance, partials, self.seed + 1, spread=0.35) * self.release

    def _sound(
        self,
        chance: np.random.Generator,
        partials: tuple[tuple[float, float], ...],
        seed: int,
        spread: float,
    ) -> Wave:
        t = np.arange(round(max(0.014, 7 * self.ring_s) * RATE)) / RATE
        tone = np.zeros(len(t))
        for place, (hz, level) in enumerate(partials):
            strength = level * np.exp(spread * chance.standard_normal())
            tone += strength * np.sin(2 * np.pi * hz * t + place)
        burst = np.random.default_rng(seed).standard_normal(len(t))
        sound = 0.8 * tone + 0.15 * burst + 0.05 * chance.standard_normal(len(t))
        sound *= np.exp(-t / self.ring_s)
        if self.rise_s:
            sound *= 1 - np.exp(-t / self.rise_s)
        return np.asarray(sound / max(1.0, float(np.max(np.abs(sound)))))


def any_clicker(chance: np.random.Generator) -> Clicker:
    """A clicker as it might be sold anywhere: bright or dull, crisp or soft, ringing or dry."""
    partials = _any_partials(chance)
    unlike = chance.random() < 0.6
    # One in seven has a release that is hardly heard.
    release = chance.uniform(0.2, 0.9) if chance.random() > 1 / 7 else 0.04
    return Clicker(
        partials,
        float(np.exp(chance.uniform(np.log(0.001), np.log(0.008)))),
        float(chance.uniform(0.06, 0.28)),
        float(release),
        int(chance.integers(2**31)),
        float(chance.uniform(0.0002, 0.002)) if chance.random() < 0.5 else 0.0,
        _let_go(chance, partials) if unlike else (),
    )


def _any_partials(chance: np.random.Generator) -> tuple[tuple[float, float], ...]:
    count = int(chance.integers(2, 8))
    levels = chance.uniform(0.2, 1.0, count)
    levels /= levels.sum()
    hz = np.sort(np.exp(chance.uniform(np.log(1_400), np.log(11_000), count)))
    return tuple(zip(hz.tolist(), levels.tolist(), strict=True))


def _let_go(
    chance: np.random.Generator, partials: tuple[tuple[float, float], ...]
) -> tuple[tuple[float, float], ...]:
    """Partly the press's own partials at other strengths, partly new ones."""
    kept = [(hz, level * chance.uniform(0.2, 1.5)) for hz, level in partials]
    new = [(hz, level * chance.uniform(0.0, 0.8)) for hz, level in _any_partials(chance)]
    return tuple((hz * chance.uniform(0.98, 1.02), level) for hz, level in kept + new)


def add(track: Wave, at_s: float, sound: Wave) -> None:
    """Mix a sound into a track at an instant; what sticks out at either end is left out."""
    start = round(at_s * RATE)
    if 0 <= start < len(track):
        piece = sound[: len(track) - start]
        track[start : start + len(piece)] += piece


def level_of(sound: Wave) -> float:
    """Root mean square above 300 Hz: what is below is rumble, and no rival to a click."""
    high = signal.sosfilt(signal.butter(2, 300, "highpass", fs=RATE, output="sos"), sound)
    return float(np.sqrt(np.mean(high**2)))


def wind(chance: np.random.Generator, length: int) -> Wave:
    """A breeze with gusts: low noise that swells, and a little hiss with each gust."""
    white = chance.standard_normal(length)
    low = signal.sosfilt(signal.butter(2, 400, fs=RATE, output="sos"), white)
    knots = np.arange(length // RATE + 2)
    gusts = np.interp(np.arange(length), knots * RATE, chance.random(len(knots)))
    return np.asarray((low / np.std(low) + 0.12 * white) * (0.3 + gusts) * 0.2)


def speech(chance: np.random.Generator, length_s: float) -> Wave:
    """A made-up voice: voiced syllables, hisses and plosives; no words."""
    pieces: list[Wave] = []
    total = 0
    pitch = chance.uniform(100, 240)
    while total < length_s * RATE:
        kind = chance.random()
        if kind < 0.62:
            piece = _vowel(chance, pitch * chance.uniform(0.85, 1.2), chance.uniform(0.06, 0.2))
        elif kind < 0.85:
            piece = _hiss(chance, chance.uniform(0.05, 0.16))
        else:
            piece = _plosive(chance)
        pause = np.zeros(round(chance.choice([0, 0.02, 0.06, 0.25]) * RATE))
        pieces += [piece, pause]
        total += len(piece) + len(pause)
    return np.concatenate(pieces)[: round(length_s * RATE)]


def _vowel(chance: np.random.Generator, pitch: float, length_s: float) -> Wave:
    length = round(length_s * RATE)
    pulses = np.zeros(length)
    pulses[:: max(1, round(RATE / pitch))] = 1
    sound = np.zeros(length)
    for low, high, level in ((250, 900, 1.0), (900, 2400, 0.6), (2400, 3600, 0.3)):
        hz = chance.uniform(low, high)
        b, a = signal.iirpeak(hz, hz / 90, fs=RATE)
        sound += level * signal.lfilter(b, a, pulses)
    shape = np.sin(np.pi * np.arange(length) / length) ** 0.5
    return np.asarray(sound / (np.max(np.abs(sound)) or 1) * shape * 0.5)


def _hiss(chance: np.random.Generator, length_s: float) -> Wave:
    length = round(length_s * RATE)
    low = chance.uniform(2_500, 5_000)
    band = signal.butter(2, (low, min(low * 2.4, 15_000)), "bandpass", fs=RATE, output="sos")
    noise = signal.sosfilt(band, chance.standard_normal(length))
    return np.asarray(noise * np.sin(np.pi * np.arange(length) / length) * 0.12)


def _plosive(chance: np.random.Generator) -> Wave:
    t = np.arange(round(0.03 * RATE)) / RATE
    band = signal.butter(1, (chance.uniform(400, 1500), 6_000), "bandpass", fs=RATE, output="sos")
    burst = signal.sosfilt(band, chance.standard_normal(len(t)))
    return np.asarray(burst * np.exp(-t / chance.uniform(0.004, 0.012)) * 0.2)


def rattle(chance: np.random.Generator) -> Wave:
    """A feed tub or pouch: many small knocks close together."""
    length_s = chance.uniform(0.4, 1.4)
    track = np.zeros(round((length_s + 0.1) * RATE))
    at = 0.0
    while at < length_s:
        hz = chance.uniform(900, 7_500)
        t = np.arange(round(0.012 * RATE)) / RATE
        ring = np.sin(2 * np.pi * hz * t) + 0.7 * chance.standard_normal(len(t))
        add(track, at, ring * np.exp(-t / chance.uniform(0.001, 0.004)) * chance.uniform(0.1, 0.6))
        at += chance.exponential(0.045)
    return track


def snap(chance: np.random.Generator) -> Wave:
    """Fingers, a twig, a gate's latch: one knock without a release."""
    t = np.arange(round(0.04 * RATE)) / RATE
    band = signal.butter(
        1, (chance.uniform(700, 2_000), chance.uniform(3_500, 8_000)), "bandpass", fs=RATE,
        output="sos",
    )  # fmt: skip
    burst = signal.sosfilt(band, chance.standard_normal(len(t)))
    return np.asarray(burst * np.exp(-t / chance.uniform(0.003, 0.009)))


def hoof(chance: np.random.Generator) -> Wave:
    """A step on planks or gravel."""
    t = np.arange(round(0.09 * RATE)) / RATE
    thud = np.sin(2 * np.pi * chance.uniform(60, 160) * t) * np.exp(-t / 0.02)
    grit = 0.15 * chance.standard_normal(len(t)) * np.exp(-t / 0.015)
    return np.asarray(thud + grit) * 0.5


def jingle(chance: np.random.Generator) -> Wave:
    """A chain or a bunch of keys: thin metal that rings on, again and again."""
    length_s = chance.uniform(0.2, 1.0)
    track = np.zeros(round((length_s + 0.3) * RATE))
    notes = np.exp(chance.uniform(np.log(2_000), np.log(12_000), int(chance.integers(3, 9))))
    at = 0.0
    while at < length_s:
        t = np.arange(round(0.12 * RATE)) / RATE
        ring = sum(np.sin(2 * np.pi * hz * t) for hz in chance.choice(notes, 2))
        add(track, at, ring * np.exp(-t / chance.uniform(0.004, 0.03)) * chance.uniform(0.05, 0.4))
        at += chance.exponential(0.06)
    return track


def bleat(chance: np.random.Generator) -> Wave:
    """A goat or a sheep that has something to say: a shaking tone with many overtones."""
    t = np.arange(round(chance.uniform(0.25, 0.9) * RATE)) / RATE
    pitch, shake = chance.uniform(220, 520), chance.uniform(6, 12)
    turn = 2 * np.pi * pitch * (t + 0.01 * np.sin(2 * np.pi * shake * t))
    tilt = chance.uniform(0.6, 1.4)
    tone = sum(np.sin(n * turn + n) / n**tilt for n in range(1, 24) if n * pitch < 11_000)
    shape = np.minimum(1, np.minimum(t, t[-1] - t) / chance.uniform(0.005, 0.05))
    trill = 1 - 0.5 * np.sin(np.pi * shake * t) ** 2
    return np.asarray(tone * shape * trill / (float(np.max(np.abs(tone))) or 1))


def yard(chance: np.random.Generator, length_s: float, busy: float = 1.0) -> Wave:
    """A stretch of background: wind, voices a third of the time, a knock or rattle each few s.

    `busy`: how much more often than that something is heard.
    """
    track = wind(chance, round(length_s * RATE))
    at = chance.exponential(2.0)
    while at < length_s:
        add(track, at, speech(chance, chance.uniform(0.5, 3.0)) * chance.uniform(0.4, 1.0))
        at += chance.uniform(2.0, 8.0)
    sounds = (
        (rattle, 7.0, 0.8),
        (snap, 4.0, 0.9),
        (hoof, 1.2, 0.5),
        (jingle, 15.0, 0.5),
        (bleat, 20.0, 0.6),
    )
    for sound, every_s, level in sounds:
        at = chance.exponential(every_s / busy)
        while at < length_s:
            add(track, at, sound(chance) * level * chance.uniform(0.2, 1.0))
            at += chance.exponential(every_s / busy)
    return track
