"""Bright films (HDR) in the tones of an ordinary screen.

Phones film with far more brightness than an ordinary screen shows and write it by one of two
curves. Read as an ordinary film such a picture is grey and pale. Here each colour is taken back to
light, brought into the screen's range and its primaries, and written by the screen's own curve.
"""

from __future__ import annotations

from enum import IntEnum
from pathlib import Path

import numpy as np
import numpy.typing as npt

Values = npt.NDArray[np.float64]


class Curve(IntEnum):
    """How a film writes brightness, by its number in ITU-T H.273, table 3."""

    PQ = 16
    HLG = 18


#: Candelas a square metre: the brightest that films are made for, and a white sheet in them
#: (ITU-R BT.2408, 2.1), which is the white of an ordinary screen.
PEAK, WHITE = 1000.0, 203.0
#: The curve of an ordinary screen (ITU-R BT.1886).
_SCREEN = 2.4
#: Parts of red, green and blue light in brightness, and from wide primaries to the ordinary ones
#: (ITU-R BT.2020, table 4; ITU-R BT.2407, annex 2).
_LUMA = np.array([0.2627, 0.6780, 0.0593])
_TO_709 = np.array(
    [[1.6605, -0.5876, -0.0728], [-0.1246, 1.1329, -0.0083], [-0.0182, -0.1006, 1.1187]]
)


def pq_to_light(signal: Values) -> Values:
    """Candelas a square metre of a PQ signal from 0 to 1 (ITU-R BT.2100, table 4)."""
    root = np.power(np.clip(signal, 0.0, 1.0), 32 / 2523)
    ratio = np.maximum(root - 3424 / 4096, 0.0) / (2413 / 128 - 2392 / 128 * root)
    return np.asarray(10_000.0 * np.power(ratio, 16384 / 2610))


def light_to_pq(light: Values) -> Values:
    """The PQ signal from 0 to 1 of candelas a square metre; the inverse of `pq_to_light`."""
    power = np.power(np.clip(light, 0.0, 10_000.0) / 10_000.0, 2610 / 16384)
    ratio = (3424 / 4096 + 2413 / 128 * power) / (1.0 + 2392 / 128 * power)
    return np.asarray(np.power(ratio, 2523 / 32))


def hlg_to_light(signal: Values) -> Values:
    """Candelas a square metre on a screen of `PEAK` of an HLG signal, its last axis red, green
    and blue from 0 to 1 (ITU-R BT.2100, table 5)."""
    a, b, c = 0.17883277, 0.28466892, 0.55991073
    signal = np.clip(signal, 0.0, 1.0)
    scene = np.where(signal <= 0.5, signal**2 / 3, (np.exp((signal - c) / a) + b) / 12)
    brightness = np.maximum(scene @ _LUMA, 1e-9)[..., None]
    return np.asarray(PEAK * brightness**0.2 * scene)


def compressed(light: Values) -> Values:
    """Light up to `PEAK` brought below `WHITE` (ITU-R BT.2390, 5.4.1, without lifting black).

    What is dark stays as it is; the brighter it is, the more it gives way.
    """
    most = light_to_pq(np.array(PEAK))
    signal = np.clip(light_to_pq(light) / most, 0.0, 1.0)
    target = light_to_pq(np.array(WHITE)) / most
    knee = 1.5 * target - 0.5
    t = np.clip((signal - knee) / (1 - knee), 0.0, 1.0)
    bent = (
        (2 * t**3 - 3 * t**2 + 1) * knee
        + (t**3 - 2 * t**2 + t) * (1 - knee)
        + (3 * t**2 - 2 * t**3) * target
    )
    return pq_to_light(np.where(signal < knee, signal, bent) * most)


def on_screen(signal: Values, curve: Curve) -> Values:
    """An ordinary screen's red, green and blue, 0 to 1, of a film's; colours on the last axis."""
    light = pq_to_light(signal) if curve == Curve.PQ else hlg_to_light(signal)
    # By the brightest of the three, so that a colour keeps its hue.
    brightest = np.maximum(light.max(axis=-1, keepdims=True), 1e-9)
    light = light * (compressed(brightest) / brightest) / WHITE
    return np.asarray(np.power(np.clip(light @ _TO_709.T, 0.0, 1.0), 1 / _SCREEN))


#: Points a side of the table; what lies between is read off between its neighbours.
_SIDE = 33


def write_table(path: Path, curve: Curve) -> None:
    """`on_screen` as a table in the common text form of such tables, red running first."""
    steps = np.linspace(0.0, 1.0, _SIDE)
    blue, green, red = np.meshgrid(steps, steps, steps, indexing="ij")
    shown = on_screen(np.stack([red, green, blue], axis=-1), curve).reshape(-1, 3)
    with path.open("w", encoding="ascii") as table:
        table.write(f"LUT_3D_SIZE {_SIDE}\n")
        np.savetxt(table, shown, fmt="%.5f")
