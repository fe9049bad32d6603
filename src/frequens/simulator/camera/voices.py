"""Simulated voices: words of a few sounds, never said twice quite alike.

Pulses and noise through moving resonances, in steps of 5 ms (a cascade of second-order
resonators as in Klatt 1980, Software for a cascade/parallel formant synthesizer, from memory).
Resonances of the vowels are round figures near those of Peterson & Barney 1952, from memory.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy import signal

from frequens.media.decode.samples import RATE

Wave = NDArray[np.float64]
Word = tuple[str, ...]

#: Voices are made at a third of the sound's rate: nothing of them lies above 8 kHz.
_RATE = RATE // 3
_STEP = _RATE // 200


@dataclass(frozen=True, slots=True)
class Phone:
    """One sound of a word: where it resonates (Hz), how long it lasts (seconds), how loud its
    voice and its breath are, and where the breath hisses (Hz)."""

    hz: tuple[float, float, float]
    lasts_s: float
    voice: float = 0.0
    breath: float = 0.0
    hiss_hz: tuple[float, float] = (800.0, 5_000.0)


def _vowel(a: float, b: float, c: float) -> Phone:
    return Phone((a, b, c), 0.12, voice=1.0, breath=0.02)


VOWELS: dict[str, Phone] = {
    "ee": _vowel(280, 2_280, 3_000),
    "i": _vowel(400, 2_000, 2_550),
    "e": _vowel(540, 1_840, 2_480),
    "a": _vowel(680, 1_720, 2_420),
    "ah": _vowel(730, 1_100, 2_440),
    "aw": _vowel(570, 840, 2_410),
    "u": _vowel(450, 1_030, 2_240),
    "oo": _vowel(310, 870, 2_250),
    "er": _vowel(490, 1_350, 1_700),
}
_STOP = 0.055
CONSONANTS: dict[str, Phone] = {
    "s": Phone((320, 1_500, 2_500), 0.11, breath=0.35, hiss_hz=(4_200, 7_600)),
    "sh": Phone((320, 1_700, 2_500), 0.11, breath=0.4, hiss_hz=(2_000, 5_500)),
    "f": Phone((340, 1_100, 2_100), 0.09, breath=0.1, hiss_hz=(1_500, 7_500)),
    "h": Phone((500, 1_500, 2_500), 0.06, breath=0.12, hiss_hz=(600, 4_500)),
    "z": Phone((300, 1_500, 2_500), 0.08, voice=0.2, breath=0.2, hiss_hz=(4_000, 7_500)),
    "m": Phone((250, 1_100, 2_200), 0.08, voice=0.35),
    "n": Phone((250, 1_600, 2_500), 0.07, voice=0.35),
    "l": Phone((350, 1_050, 2_700), 0.06, voice=0.6),
    "r": Phone((350, 1_100, 1_500), 0.06, voice=0.6),
    "y": Phone((270, 2_200, 2_900), 0.05, voice=0.6),
    "w": Phone((300, 700, 2_200), 0.05, voice=0.6),
    # Stops: silent, then a burst as the mouth opens.
    "p": Phone((400, 1_000, 2_200), _STOP, breath=0.25, hiss_hz=(500, 1_800)),
    "t": Phone((350, 1_700, 2_600), _STOP, breath=0.35, hiss_hz=(3_000, 6_500)),
    "k": Phone((350, 1_900, 2_300), _STOP, breath=0.3, hiss_hz=(1_500, 3_200)),
    "b": Phone((300, 900, 2_200), _STOP, voice=0.08, breath=0.12, hiss_hz=(500, 1_500)),
    "d": Phone((300, 1_700, 2_600), _STOP, voice=0.08, breath=0.15, hiss_hz=(2_500, 5_500)),
    "g": Phone((300, 1_900, 2_300), _STOP, voice=0.08, breath=0.15, hiss_hz=(1_300, 3_000)),
}
STOPS = frozenset("ptkbdg")
PHONES = VOWELS | CONSONANTS


@dataclass(frozen=True, slots=True)
class Speaker:
    """Whose voice: pitch (Hz), the length of the throat against the mean, how dull, how breathy,
    and how much one saying differs from the next (0: not at all)."""

    pitch_hz: float = 190.0
    throat: float = 1.0
    dull: float = 0.9
    breathy: float = 0.02
    varies: float = 1.0

    def say(self, word: Word, chance: np.random.Generator) -> Wave:
        """A word at 48 kHz, peak 1; its first sample is where it begins."""
        plan = self._plan(word, chance)
        steps = len(plan.voice)
        source = self._voice(plan, chance)
        noise = chance.standard_normal(steps * _STEP)
        sound = _resonate(source + self.breathy * noise * np.repeat(plan.voice, _STEP), plan.hz)
        sound += _hissing(noise, plan, word)
        made = signal.resample_poly(sound, 3, 1)
        return np.asarray(made / (np.max(np.abs(made)) or 1.0))

    def _plan(self, word: Word, chance: np.random.Generator) -> _Course:
        hz, voice, breath, place = [], [], [], []
        pace = np.exp(0.1 * self.varies * chance.standard_normal())
        for n, name in enumerate(word):
            phone = PHONES[name]
            last = 1.35 if n == len(word) - 1 else 1.0
            lasts = phone.lasts_s * last * pace
            lasts *= np.exp(0.12 * self.varies * chance.standard_normal())
            steps = max(3, round(lasts * 200))
            drift = np.exp(0.03 * self.varies * chance.standard_normal(3))
            hz.append(np.tile(np.array(phone.hz) * drift / self.throat, (steps, 1)))
            voice.append(np.full(steps, phone.voice))
            loud = np.full(steps, phone.breath)
            if name in STOPS:
                loud[:-3] = 0
            breath.append(loud)
            place.append(np.full(steps, n))
        soft = np.hanning(11) / np.hanning(11).sum()
        tracks = np.concatenate(hz)
        padded = np.pad(tracks, ((5, 5), (0, 0)), mode="edge")
        smooth = np.stack([np.convolve(t, soft, "valid") for t in padded.T], axis=1)
        level = np.convolve(np.pad(np.concatenate(voice), 1, mode="edge"), np.ones(3) / 3, "valid")
        fade = np.minimum(1, np.arange(len(level), 0, -1) / 8)
        return _Course(smooth, level * fade, np.concatenate(breath) * fade, np.concatenate(place))

    def _voice(self, plan: _Course, chance: np.random.Generator) -> Wave:
        """Pulses whose pitch moves, duller the higher."""
        steps = len(plan.voice)
        start = self.pitch_hz * np.exp(0.08 * self.varies * chance.standard_normal())
        bend = np.interp(
            np.arange(steps),
            [0, steps / 3, steps],
            [1.0, 1.0 + 0.1 * chance.standard_normal(), 0.85 + 0.08 * chance.standard_normal()],
        )
        pitch = np.repeat(start * bend, _STEP)
        pitch *= 1 + 0.01 * np.repeat(chance.standard_normal(steps), _STEP)
        pulses = np.diff(np.floor(np.cumsum(pitch) / _RATE), prepend=0)
        made = signal.lfilter([1 - self.dull], [1, -self.dull], pulses) * 8
        return np.asarray(made * np.repeat(plan.voice, _STEP))


@dataclass(frozen=True, slots=True)
class _Course:
    """How a saying goes, in steps of 5 ms."""

    hz: Wave
    voice: Wave
    breath: Wave
    place: NDArray[np.int64]


def _resonate(source: Wave, hz: Wave) -> Wave:
    """Through three moving resonances and two that stand, one after the other."""
    sound = np.empty_like(source)
    widths = (80.0, 100.0, 150.0, 250.0, 300.0)
    states = [np.zeros(2) for _ in widths]
    for n, row in enumerate(hz):
        block = source[n * _STEP : (n + 1) * _STEP]
        for place, (centre, width) in enumerate(zip((*row, 3_500.0, 4_600.0), widths, strict=True)):
            radius = np.exp(-np.pi * width / _RATE)
            turn = 2 * radius * np.cos(2 * np.pi * centre / _RATE)
            gain = 1 - turn + radius**2
            block, states[place] = signal.lfilter(
                [gain], [1, -turn, radius**2], block, zi=states[place]
            )
        sound[n * _STEP : (n + 1) * _STEP] = block
    return sound


def _hissing(noise: Wave, plan: _Course, word: Word) -> Wave:
    sound = np.zeros_like(noise)
    for n, name in enumerate(word):
        phone = PHONES[name]
        if not phone.breath:
            continue
        bands = signal.butter(2, phone.hiss_hz, "bandpass", fs=_RATE, output="sos")
        level = np.repeat(np.where(plan.place == n, plan.breath, 0.0), _STEP)
        sound += signal.sosfilt(bands, noise) * np.convolve(level, np.ones(40) / 40, "same")
    return sound


def any_speaker(chance: np.random.Generator) -> Speaker:
    """Man, woman or child, clear or hoarse."""
    pitch = float(np.exp(chance.uniform(np.log(85), np.log(300))))
    return Speaker(
        pitch,
        float(1.12 - 0.1 * np.log2(pitch / 100) + 0.04 * chance.standard_normal()),
        float(chance.uniform(0.8, 0.97)),
        float(chance.uniform(0.0, 0.12)),
        float(chance.uniform(0.4, 1.3)),
    )


def any_word(chance: np.random.Generator, syllables: int = 1) -> Word:
    """A word that may mean anything."""
    sounds: list[str] = []
    for _ in range(syllables):
        if chance.random() < 0.85:
            sounds.append(str(chance.choice(list(CONSONANTS))))
            if chance.random() < 0.15:
                sounds.append(str(chance.choice(["r", "l", "w"])))
        sounds.append(str(chance.choice(list(VOWELS))))
    if chance.random() < 0.7:
        sounds.append(str(chance.choice(list(CONSONANTS))))
    return tuple(sounds)


def rhyme(word: Word, chance: np.random.Generator) -> Word:
    """Another word that ends as this one."""
    vowel = next(n for n, name in enumerate(word) if name in VOWELS)
    other = [name for name in CONSONANTS if name not in word[:vowel]]
    return (str(chance.choice(other)), *word[vowel:])


def hurried(speaker: Speaker) -> Speaker:
    """The same voice in a sentence: less careful."""
    return replace(speaker, varies=speaker.varies * 1.3)
