"""Another simulator of clicks and yards, to judge on: it shares nothing with the one that is
fitted on (`frequens.simulator.camera`) but numpy and scipy.

There a clicker is a handful of partials that ring and die, and a room is a decaying noise. Here
a clicker is a small plate struck by a short contact: its modes follow the plate's own series
(frequencies as m² + n²·r², Leissa's table for a simply supported plate, from memory), each as
damped as the metal makes it, and heard through a box. Rooms are mirror images of the source in
six walls (Allen & Berkley 1979, from memory: the image method for a shoebox). Voices, bleats
and honks are pulse trains through moving resonances; keys and tubs are plates of their own.
All of it is invented sound.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import signal

RATE = 48_000
Wave = NDArray[np.float64]
Chance = np.random.Generator


@dataclass(frozen=True)
class Heard:
    """Mono samples at 48 kHz and when presses began, seconds."""

    samples: NDArray[np.float32]
    presses_s: tuple[float, ...]


# -- things that are struck -------------------------------------------------------------------


def plate(chance: Chance, lowest_hz: float, quality: float, highest_hz: float = 13_000.0) -> Wave:
    """Frequencies and damping of a plate's modes: rows of (hz, decay a second)."""
    ratio = chance.uniform(0.5, 1.9)
    modes = [
        lowest_hz * (m * m + n * n * ratio * ratio) / (1 + ratio * ratio)
        for m in range(1, 5)
        for n in range(1, 5)
    ]
    hz = np.sort([f * chance.uniform(0.97, 1.03) for f in modes if f < highest_hz])
    return np.stack([hz, np.pi * hz / (quality * chance.uniform(0.7, 1.4, len(hz)))], axis=1)


def struck(modes: Wave, levels: Wave, contact_s: float, length_s: float) -> Wave:
    """The sound of modes set going by a half sine of force; its first sample is the contact."""
    t = np.arange(round(length_s * RATE)) / RATE
    ringing = np.zeros(len(t))
    for (hz, decay), level in zip(modes, levels, strict=True):
        ringing += level * np.sin(2 * np.pi * hz * t) * np.exp(-decay * t)
    contact = np.sin(np.pi * np.arange(1, max(3, round(contact_s * RATE))) / (contact_s * RATE))
    sound = signal.fftconvolve(ringing, np.abs(contact))[: len(t)]
    return np.asarray(sound / np.max(np.abs(sound)))


@dataclass(frozen=True)
class Box:
    """A clicker: a plate in a box, pressed and let go."""

    modes: Wave
    press_levels: Wave
    free_levels: Wave
    press_contact_s: float
    free_contact_s: float
    gap_s: float
    free: float
    twice_s: float
    body_hz: float

    @classmethod
    def any(cls, chance: Chance) -> Box:
        modes = plate(chance, chance.uniform(1_400, 4_200), chance.uniform(14, 60))
        size = len(modes)
        return cls(
            modes,
            chance.uniform(0.1, 1.0, size),
            chance.uniform(0.1, 1.0, size),
            chance.uniform(0.00006, 0.0004),
            chance.uniform(0.00008, 0.0006),
            chance.uniform(0.06, 0.27),
            chance.uniform(0.2, 0.9) if chance.random() < 0.85 else 0.03,
            chance.uniform(0.0005, 0.002) if chance.random() < 0.4 else 0.0,
            chance.uniform(700, 2_200),
        )

    def _hit(self, chance: Chance, levels: Wave, contact_s: float) -> Wave:
        levels = levels * np.exp(0.15 * chance.standard_normal(len(levels)))
        sound = struck(self.modes, levels, contact_s * chance.uniform(0.9, 1.1), 0.05)
        b, a = signal.iirpeak(self.body_hz, 2.0, fs=RATE)
        return np.asarray(sound + 0.5 * signal.lfilter(b, a, sound))

    def press(self, chance: Chance) -> Wave:
        sound = self._hit(chance, self.press_levels, self.press_contact_s)
        if self.twice_s:
            late = round(self.twice_s * RATE)
            sound[late:] += 0.7 * self._hit(chance, self.press_levels, self.press_contact_s)[:-late]
        return sound

    def let_go(self, chance: Chance) -> Wave:
        return self.free * self._hit(chance, self.free_levels, self.free_contact_s)


def lay(track: Wave, at: int, sound: Wave) -> None:
    end = min(len(track), at + len(sound))
    if 0 <= at < end:
        track[at:end] += sound[: end - at]


# -- rooms ------------------------------------------------------------------------------------


def shoebox(chance: Chance, size_m: tuple[float, float, float], wall: float, away_m: float) -> Wave:
    """Impulse response by mirror images; `wall` is the share a wall gives back. Direct first."""
    size = np.array(size_m) * chance.uniform(0.85, 1.15, 3)
    ear = size * chance.uniform(0.3, 0.7, 3)
    way = chance.standard_normal(3)
    source = np.clip(ear + away_m * way / np.linalg.norm(way), 0.1, size - 0.1)
    reach, span = 0.25, 6
    response = np.zeros(round(reach * RATE))
    direct = float(np.linalg.norm(source - ear))
    counts = np.arange(-span, span + 1)
    for x in counts:
        for y in counts:
            for z in counts:
                which = np.array([x, y, z])
                image = np.where(which % 2 == 0, source, size - source) + which * size
                distance = float(np.linalg.norm(image - ear))
                at = round((distance - direct) / 343 * RATE)
                if at < len(response):
                    bounces = abs(x) + abs(y) + abs(z)
                    response[at] += direct / distance * wall**bounces * chance.choice([0.9, 1.0])
    return response


ROOMS: dict[str, Callable[[Chance], Wave]] = {
    "field": lambda c: shoebox(c, (400.0, 400.0, 60.0), 0.3, c.uniform(1, 3)),
    "yard": lambda c: shoebox(c, (14.0, 10.0, 9.0), 0.55, c.uniform(1.5, 4)),
    "barn": lambda c: shoebox(c, (9.0, 6.0, 4.0), 0.8, c.uniform(2, 4)),
    "stall": lambda c: shoebox(c, (3.5, 3.0, 2.6), 0.85, c.uniform(0.8, 1.6)),
    "far": lambda c: shoebox(c, (18.0, 12.0, 6.0), 0.82, c.uniform(5, 6)),
}


# -- what else is heard -----------------------------------------------------------------------


def coloured(chance: Chance, length: int, slope: float) -> Wave:
    """Noise whose power falls with frequency as f^-slope, root mean square 1."""
    sound = chance.standard_normal(length)
    if slope:
        hz = np.maximum(np.fft.rfftfreq(length, 1 / RATE), 20)
        sound = np.fft.irfft(np.fft.rfft(sound) * hz ** (-slope / 2), length)
    return np.asarray(sound / np.std(sound))


def gusty(chance: Chance, length: int) -> Wave:
    slow = np.interp(
        np.arange(length),
        np.arange(0, length + RATE, RATE // 2),
        chance.lognormal(0, 0.4, length // (RATE // 2) + 3)[
            : len(np.arange(0, length + RATE, RATE // 2))
        ],
    )
    return (coloured(chance, length, 2.0) + 0.03 * coloured(chance, length, 0.0)) * slow * 0.1


def throat(
    chance: Chance, length_s: float, pitch_hz: float, wobble: float, hz: list[float]
) -> Wave:
    """A pulse train through resonances, its pitch wobbling: a voice, a bleat, a honk."""
    length = round(length_s * RATE)
    t = np.arange(length) / RATE
    pitch = pitch_hz * (1 + wobble * np.sin(2 * np.pi * chance.uniform(5, 13) * t)) * (1 + 0.1 * t)
    phase = np.cumsum(pitch) / RATE
    source = np.diff(np.floor(phase), prepend=0) + 0.03 * chance.standard_normal(length)
    sound = np.zeros(length)
    for centre in hz:
        b, a = signal.iirpeak(centre, chance.uniform(4, 9), fs=RATE)
        sound += signal.lfilter(b, a, source)
    edge = np.minimum(1, np.minimum(t, t[::-1]) / chance.uniform(0.004, 0.03))
    return np.asarray(sound * edge / (np.max(np.abs(sound)) or 1))


def talk(chance: Chance) -> Wave:
    pieces = []
    pitch = chance.uniform(90, 260)
    for _ in range(int(chance.integers(3, 12))):
        formants = [
            chance.uniform(300, 800),
            chance.uniform(900, 2_300),
            chance.uniform(2_400, 3_500),
        ]
        pieces.append(throat(chance, chance.uniform(0.05, 0.22), pitch, 0.03, formants))
        kind = chance.random()
        if kind < 0.35:
            breath = coloured(chance, round(chance.uniform(0.03, 0.12) * RATE), -0.6)
            pieces.append(0.12 * breath * np.hanning(len(breath)))
        elif kind < 0.6:
            stop = coloured(chance, round(0.02 * RATE), 0.3)
            pieces.append(
                0.25 * stop * np.exp(-np.arange(len(stop)) / RATE / chance.uniform(0.002, 0.008))
            )
        pieces.append(np.zeros(round(chance.uniform(0.0, 0.07) * RATE)))
    return np.concatenate(pieces)


def bleat(chance: Chance) -> Wave:
    hz = [chance.uniform(600, 1_200), chance.uniform(1_500, 2_800), chance.uniform(3_000, 5_000)]
    return throat(chance, chance.uniform(0.3, 0.9), chance.uniform(250, 500), 0.12, hz)


def honk(chance: Chance) -> Wave:
    hz = [chance.uniform(900, 1_600), chance.uniform(2_000, 3_500), chance.uniform(4_000, 6_500)]
    return throat(chance, chance.uniform(0.08, 0.3), chance.uniform(300, 650), 0.02, hz)


def keys(chance: Chance) -> Wave:
    track = np.zeros(round(chance.uniform(0.4, 1.2) * RATE))
    ring = [plate(chance, chance.uniform(3_000, 6_000), chance.uniform(60, 200)) for _ in range(4)]
    for at in np.sort(chance.integers(0, len(track), int(chance.integers(8, 30)))):
        modes = ring[int(chance.integers(4))]
        hit = struck(
            modes, chance.uniform(0.1, 1, len(modes)), chance.uniform(0.0001, 0.0005), 0.06
        )
        lay(track, int(at), hit * chance.uniform(0.1, 0.6))
    return track


def tub(chance: Chance) -> Wave:
    modes = plate(chance, chance.uniform(250, 700), chance.uniform(8, 25), 6_000)
    hit = struck(modes, chance.uniform(0.1, 1, len(modes)), chance.uniform(0.0005, 0.003), 0.15)
    return np.asarray(hit)


def gravel(chance: Chance) -> Wave:
    track = np.zeros(round(chance.uniform(0.15, 0.35) * RATE))
    for at in chance.integers(0, len(track), int(chance.integers(20, 60))):
        grain = coloured(chance, 200, 0.5) * np.exp(-np.arange(200) / chance.uniform(20, 80))
        lay(track, int(at), grain * chance.lognormal(-2.5, 0.8))
    return np.asarray(track * np.hanning(len(track)))


def latch(chance: Chance) -> Wave:
    """A gate's latch or a finger's snap: one knock, now and then with a second one."""
    modes = plate(chance, chance.uniform(800, 2_500), chance.uniform(5, 20))
    hit = struck(modes, chance.uniform(0.1, 1, len(modes)), chance.uniform(0.0002, 0.0012), 0.08)
    track = np.zeros(round(0.5 * RATE))
    lay(track, 0, hit)
    if chance.random() < 0.3:
        lay(track, round(chance.uniform(0.08, 0.35) * RATE), hit * chance.uniform(0.3, 0.9))
    return track


CALM = ((talk, 12.0, 0.5), (gravel, 3.0, 0.3), (latch, 15.0, 0.5))
BUSY = (
    (talk, 4.0, 0.6),
    (gravel, 2.5, 0.3),
    (latch, 6.0, 0.7),
    (keys, 20.0, 0.3),
    (tub, 6.0, 0.7),
    (honk, 10.0, 0.5),
)
LOUD = (*BUSY, (bleat, 2.5, 1.0), (honk, 2.5, 1.0))


def clutter(
    chance: Chance, length_s: float, what: tuple[tuple[Callable[[Chance], Wave], float, float], ...]
) -> Wave:
    track = np.zeros(round(length_s * RATE))
    for sound, every_s, level in what:
        at = chance.exponential(every_s)
        while at < length_s:
            lay(track, round(at * RATE), sound(chance) * level * chance.uniform(0.3, 1.0))
            at += chance.exponential(every_s)
    return track


# -- what a phone makes of it -----------------------------------------------------------------


def clipped(track: Wave) -> Wave:
    loud = np.percentile(np.abs(track), 99.6)
    return np.clip(track / loud, -1, 1)


def gated(track: Wave) -> Wave:
    """Shut where it is quiet, as calls do it."""
    power = signal.lfilter([0.002], [1, -0.998], track**2)
    open_ = power > np.percentile(power, 60)
    held = signal.lfilter([0.004], [1, -0.996], open_.astype(float))
    return np.asarray(track * np.clip(held * 3, 0, 1))


def phone_gain(track: Wave) -> Wave:
    """Slow automatic gain: what is loud turns down what comes after."""
    level = np.sqrt(signal.lfilter([0.0005], [1, -0.9995], track**2)) + 0.003
    gain = np.minimum(20, 0.1 / level)
    return np.tanh(track * signal.lfilter([0.0003], [1, -0.9997], gain))


def narrow(track: Wave) -> Wave:
    """8 kHz, there and back."""
    return np.asarray(signal.resample_poly(signal.resample_poly(track, 1, 6), 6, 1)[: len(track)])


def as_is(track: Wave) -> Wave:
    return track


@dataclass(frozen=True)
class Condition:
    """What surrounds the clicks; `level_db` as in `frequens.simulator.camera.noisy_yard`."""

    level_db: float
    room: str = "yard"
    things: tuple[tuple[Callable[[Chance], Wave], float, float], ...] = CALM
    wind: float = 0.2
    hiss: float = 0.003
    channel: Callable[[Wave], Wave] = as_is
    clickers: int = 1


CONDITIONS: dict[str, Condition] = {
    "quiet": Condition(26, "stall"),
    "busy 20": Condition(20, "yard", BUSY),
    "busy 10": Condition(10, "barn", BUSY),
    "wind 10": Condition(10, "field", wind=1.0),
    "wind far 5": Condition(5, "far", wind=1.2),
    "hiss 5": Condition(5, "yard", hiss=0.1, wind=0.05),
    "far 0": Condition(0, "far", wind=0.2, hiss=0.006),
    "clipped": Condition(16, "stall", BUSY, channel=clipped),
    "gated": Condition(14, "barn", channel=gated),
    "phone gain": Condition(14, "barn", BUSY, channel=phone_gain),
    "8 kHz": Condition(16, "yard", channel=narrow),
    "two clickers": Condition(14, "yard", BUSY, clickers=2),
    "bleats": Condition(8, "barn", LOUD),
}


def listen(name: str, seed: int, clicks: int = 22, length_s: float = 60.0) -> Heard:
    """A session of one condition, the same for the same seed."""
    condition = CONDITIONS[name]
    chance = np.random.default_rng([seed, 99, *name.encode()])
    length = round(length_s * RATE)
    room = ROOMS[condition.room](chance)
    things = signal.oaconvolve(clutter(chance, length_s, condition.things), room)[:length]
    bed = condition.wind * gusty(chance, length)
    bed += condition.hiss * coloured(chance, length, 0.0)
    background = things + bed
    boxes = [Box.any(chance) for _ in range(condition.clickers)]
    apart = 1.2
    starts = np.sort(chance.uniform(0, length_s - 1.0 - clicks * apart, clicks))
    places = np.round((starts + 0.5 + np.arange(clicks) * apart) * RATE).astype(int)
    pressed = np.zeros(length)
    loudness = np.median([_above_300(box.press(chance)[: RATE // 200]) for box in boxes])
    for n, at in enumerate(places):
        box = boxes[n % len(boxes)]
        strength = chance.uniform(0.7, 1.2)
        lay(pressed, int(at), box.press(chance) * strength)
        gap = box.gap_s * chance.uniform(0.75, 1.3)
        lay(pressed, int(at + gap * RATE), box.let_go(chance) * strength)
    pressed = signal.oaconvolve(pressed, room)[:length]
    pressed *= _above_300(background) * 10 ** (condition.level_db / 20) / loudness
    track = condition.channel(background + pressed)
    track /= max(1.0, float(np.max(np.abs(track))))
    return Heard(track.astype(np.float32), tuple((places / RATE).tolist()))


def _above_300(sound: Wave) -> float:
    high = signal.sosfilt(signal.butter(2, 300, "highpass", fs=RATE, output="sos"), sound)
    return float(np.sqrt(np.mean(high**2)))
