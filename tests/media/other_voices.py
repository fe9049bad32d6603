"""Sessions marked with a word, spoken by speech synthesisers that are no part of Frequens.

Debian's `espeak-ng` (formants by rule, many voices) and `flite` (pieces and models of recorded
speech) say the words; yard, rooms and noise are those of `other_yard`, which shares nothing with
what the detector was fitted on. Everything said is invented.
"""

from __future__ import annotations

import subprocess
from dataclasses import dataclass
from functools import cache

import numpy as np
from scipy import signal

from tests.media import other_yard
from tests.media.other_yard import RATE, ROOMS, Chance, Heard, Wave, coloured, lay

#: Each with words that rhyme, and things said that do not hold the word.
WORDS: dict[str, tuple[str, ...]] = {
    "yes": ("mess", "press", "less"),
    "good": ("wood", "hood", "could"),
    "yip": ("ship", "tip", "lip"),
    "nice": ("rice", "twice", "slice"),
    "click": ("thick", "stick", "sick"),
    "bravo": ("tomato", "potato", "volcano"),
    "tak": ("back", "sack", "black"),
    "right": ("light", "kite", "white"),
}
BESIDES = (
    "come on then", "over here", "the rope", "wait a moment", "what a day", "stand still",
    "hello", "look at that", "not yet", "where is the bucket", "carrot", "again", "mind the gate",
    "well now", "up you go", "she is tired", "bell", "steady", "move along", "one more",
)  # fmt: skip
ESPEAK = tuple(
    f"{lang}+{variant}"
    for lang in ("en-gb", "en-us", "en-gb-scotland")
    for variant in ("m1", "m3", "m7", "f1", "f2", "f4")
)
FLITE = ("kal", "awb", "rms", "slt")
APART_S, LENGTH_S = 1.05, 75.0


@dataclass(frozen=True)
class Voice:
    """One voice of one synthesiser."""

    engine: str
    name: str

    def say(self, text: str, chance: Chance, careful: float = 1.0) -> Wave:
        """The text at 48 kHz, peak 1, no two sayings alike; begins where something is heard."""
        pace = float(np.exp(0.1 * careful * chance.standard_normal()))
        pitch = float(chance.normal(0, 6 * careful))
        made = (
            _espeak(self.name, text, round(165 * pace), round(50 + pitch))
            if self.engine == "espeak"
            else _flite(self.name, text, round(1 / pace, 2), round(10 * pitch))
        )
        # A little of every saying is its own: the throat's length and the tape's speed.
        stretch = float(np.exp(0.02 * chance.standard_normal()))
        return np.asarray(signal.resample(made, round(len(made) * stretch)))


@cache
def _espeak(voice: str, text: str, speed: int, pitch: int) -> Wave:
    command = ["espeak-ng", "-v", voice, "-s", f"{speed}", "-p", f"{pitch}", "--stdout", text]
    return _read(subprocess.run(command, capture_output=True, check=True).stdout)


@cache
def _flite(voice: str, text: str, stretch: float, pitch: int) -> Wave:
    command = ["flite", "-voice", voice, "--setf", f"duration_stretch={stretch}"]
    if voice == "kal":
        command += ["--setf", f"int_f0_target_mean={105 + pitch / 5:.0f}"]
    done = subprocess.run([*command, "-t", text, "/dev/stdout"], capture_output=True, check=True)
    return _read(done.stdout)


def _read(wav: bytes) -> Wave:
    # Written to a pipe, the head names no length.
    at = wav.index(b"data") + 8
    rate = int.from_bytes(wav[24:28], "little")
    sound = np.frombuffer(wav[at : len(wav) - (len(wav) - at) % 2], "<i2").astype(float)
    sound = signal.resample_poly(sound, RATE, rate)
    peak = np.max(np.abs(sound))
    loud = np.flatnonzero(np.abs(sound) > 0.03 * peak)
    return np.asarray(sound[loud[0] : loud[-1] + 1] / peak)


def voices(engine: str, chance: Chance) -> tuple[Voice, Voice]:
    """Two of them."""
    names = chance.choice(ESPEAK if engine == "espeak" else FLITE, 2, replace=False)
    return Voice(engine, str(names[0])), Voice(engine, str(names[1]))


def spoken(engine: str, over_db: float, seed: int, said: int = 14, talks: float = 0.75) -> Heard:
    """A session of `said` marker words; `presses_s` are where they begin.

    `talks`: how much of the time between them other things are said, as a share.
    """
    length_s = LENGTH_S
    chance = np.random.default_rng([seed, round(over_db * 10), *engine.encode()])
    length = round(length_s * RATE)
    me, other = voices(engine, chance)
    word = str(chance.choice(list(WORDS)))
    slots = np.arange(0.8, length_s - 2.0, APART_S) + chance.uniform(0, 0.12)
    order = chance.permutation(len(slots))
    track, at = np.zeros(length), []
    for place, slot in enumerate(order):
        begin = round(slots[slot] * RATE)
        level = float(np.exp(0.2 * chance.standard_normal()))
        if place < said:
            lay(track, begin, me.say(word, chance) * level)
            at.append(begin / RATE)
            continue
        if chance.random() > talks:
            continue
        kind = chance.random()
        if kind < 0.33:
            sound = me.say(str(chance.choice(WORDS[word])), chance)
        elif kind < 0.5:
            sound = other.say(word, chance)
        else:
            sound = me.say(str(chance.choice(BESIDES)), chance)
        lay(track, begin, sound[: round(0.95 * RATE)] * level)
    room = ROOMS[str(chance.choice(["field", "yard", "stall"]))](chance)
    track = signal.oaconvolve(track, room)[:length]
    bed = 0.7 * other_yard.gusty(chance, length) + 0.02 * coloured(chance, length, 0.0)
    things = other_yard.clutter(chance, length_s, other_yard.CALM[1:])
    bed = bed + signal.oaconvolve(things, room)[:length] * 0.5
    bed *= other_yard._above_300(track) / other_yard._above_300(bed) * 10 ** (-over_db / 20)
    track = track + bed
    return Heard((track / np.max(np.abs(track))).astype(np.float32), tuple(sorted(at)))
