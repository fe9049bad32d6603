"""Fit what ranks heard clicks on simulated sound, and write it: ``fit_clicks.py``.

Listens to sessions of `frequens.simulator.camera.noisy_yard` from seed 10 000 on (other rooms,
phones, clickers each) and writes `weights.py` beside them. The tests listen to other
seeds, and to a simulator that shares nothing with this one. A candidate within 10 ms of a press
is a click; releases and everything else are not. Takes some six minutes on two cores.
"""

from __future__ import annotations

from collections.abc import Iterable
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np
from sklearn.linear_model import LogisticRegression

from frequens.media.sound.clicks import Candidates, find_candidates, weights
from frequens.media.sound.clicks.ranking import Sound, plain_features
from frequens.simulator.camera.noisy_yard import heard_session

FIRST_SEED, SESSIONS, LENGTH_S = 10_000, 256, 45.0
LEVELS_DB = (24.0, 20.0, 16.0, 13.0, 10.0, 6.0, 3.0, 0.0)
#: Presses of one session after another: from many, over a single one, to none.
CLICKS = (22, 1, 16, 4, 25, 2, 10, 0)
#: Where nobody clicks a suggestion annoys more than one that is missed elsewhere.
WITHOUT_WEIGHT = 4.0
MOST_CONFIRMED = 3
TARGET = Path(weights.__file__)


def listened(n: int) -> tuple[Candidates, tuple[float, ...]]:
    """The candidates of one session, and when its presses began."""
    level = LEVELS_DB[n // len(CLICKS) % len(LEVELS_DB)]
    heard = heard_session(FIRST_SEED + n, CLICKS[n % len(CLICKS)], LENGTH_S, level)
    return find_candidates(heard.samples), heard.presses_s


def main() -> None:
    with ProcessPoolExecutor() as pool:
        heard = [(c, p) for c, p in pool.map(listened, range(SESSIONS), chunksize=4) if len(c)]
    chance = np.random.default_rng(FIRST_SEED)
    sounds = [Sound(candidates) for candidates, _ in heard]
    are_clicks = [_are_clicks(candidates, presses) for candidates, presses in heard]

    weights.PLAIN, weights.PLAIN_BIAS = _fit((plain_features(c) for c, _ in heard), are_clicks)
    weights.OWN, weights.OWN_BIAS = _fit(
        (sound.beside_film(sound.plain_score()) for sound in sounds),
        are_clicks,
        [WITHOUT_WEIGHT if not presses else 1.0 for _, presses in heard],
    )
    taught_rows, taught_are = [], []
    for sound, (_, presses), are in zip(sounds, heard, are_clicks, strict=True):
        for count in range(1, min(MOST_CONFIRMED, len(presses) - 1) + 1):
            taught = sound.at(chance.choice(presses, count, replace=False).tolist())
            if taught:
                # An example is like itself: from it nothing is to be learned.
                others = ~np.isin(np.arange(len(are)), taught)
                taught_rows.append(sound.beside_examples(taught, [])[others])
                taught_are.append(are[others])
    weights.CONFIRMED, weights.CONFIRMED_BIAS = _fit(taught_rows, taught_are)
    TARGET.write_text(_written(), encoding="utf-8")


def _are_clicks(candidates: Candidates, presses: tuple[float, ...]) -> np.ndarray:
    if not presses:
        return np.zeros(len(candidates), bool)
    away = np.abs(candidates.t_s[:, None] - np.array(presses))
    return np.min(away, axis=1) <= 0.010


def _fit(
    rows: Iterable[np.ndarray], are: list[np.ndarray], worth: list[float] | None = None
) -> tuple[np.ndarray, float]:
    fitted = LogisticRegression(C=3.0, max_iter=5000)
    each = None if worth is None else np.repeat(worth, [len(a) for a in are])
    fitted.fit(np.concatenate(list(rows)), np.concatenate(are), sample_weight=each)
    return fitted.coef_[0], float(fitted.intercept_[0])


def _written() -> str:
    lines = [
        '"""What `ranking` weighs with. Made by `tools/fit_clicks.py`; never by hand."""',
        "",
        "import numpy as np",
    ]
    for name in ("PLAIN", "OWN", "CONFIRMED"):
        values = getattr(weights, name)
        lines += ["", f"{name} = np.array(", "    ["]
        lines += [f"        {value:.3f}," for value in values]
        lines += ["    ]", ")", f"{name}_BIAS = {getattr(weights, name + '_BIAS'):.3f}"]
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    main()
