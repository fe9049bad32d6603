"""Sound of made-up sessions with known clicks in a noisy yard, to prove the listener on."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from frequens.media.decode.samples import RATE, Samples

from .clutter import PRESS_S, Clicker, add, any_clicker, level_of, yard
from .microphone import Microphone, any_microphone
from .rooms import Room, any_room, heard_in

#: Clicks of one session lie at least this far apart, seconds.
APART_S = 1.2


@dataclass(frozen=True)
class HeardSession:
    """Mono samples at 48 kHz and the instants of the presses in seconds."""

    samples: Samples
    presses_s: tuple[float, ...]
    clickers: tuple[Clicker, ...]


def heard_session(seed: int, clicks: int, length_s: float, snr_db: float) -> HeardSession:
    """A session of `clicks` presses in any room with any phone, the same for the same seed.

    `snr_db`: mean power of a press's first 5 ms, without its room, against that of the whole
    background, both above 300 Hz. (Within 2.5 to 12 kHz, where voices are weaker, it is some
    10 dB more.) One session in eight has two clickers.
    """
    chance = np.random.default_rng(seed)
    clickers = tuple(any_clicker(chance) for _ in range(2 if chance.random() < 1 / 8 else 1))
    room, microphone = any_room(chance), any_microphone(chance)
    background = yard(chance, length_s, busy=float(np.exp(chance.uniform(-1.2, 0.8))))
    presses = _apart(chance, clicks, length_s)
    pressed = np.zeros(len(background))
    for at in presses:
        clicker = clickers[int(chance.integers(len(clickers)))]
        press = clicker.press(chance)
        level = 10 ** (snr_db / 20) / level_of(press[: round(PRESS_S * RATE)])
        strength = level * level_of(background) * chance.uniform(0.7, 1.2)
        add(pressed, at, press * strength)
        gap = clicker.gap_s * chance.uniform(0.75, 1.3)
        add(pressed, at + gap, clicker.let_go(chance) * strength)
    return HeardSession(_recorded(background, pressed, room, microphone, chance), presses, clickers)


def _recorded(
    background: np.ndarray,
    pressed: np.ndarray,
    room: Room,
    microphone: Microphone,
    chance: np.random.Generator,
) -> Samples:
    response = room.response(chance)
    # What rustles and speaks is nearer than the room's other end, or not: half and half.
    behind = heard_in(background, response) if chance.random() < 0.5 else background
    return microphone.record(behind + heard_in(pressed, response), chance).astype(np.float32)


def _apart(chance: np.random.Generator, count: int, length_s: float) -> tuple[float, ...]:
    """Instants on whole samples, each well after the one before."""
    room = length_s - 1.0 - count * APART_S
    if room < 0:
        raise ValueError(f"{count} clicks do not fit into {length_s:g} s")
    starts = np.sort(chance.uniform(0, room, count)) + 0.5 + np.arange(count) * APART_S
    return tuple(np.round(starts * RATE) / RATE)
