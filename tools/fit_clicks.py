"""Fit the weights of heard clicks on simulated sound and print them: ``fit_clicks.py``.

Seeds begin at 10 000; the tests listen to others. A candidate within 10 ms of a press is a
click; releases and everything else are not.
"""

from __future__ import annotations

import numpy as np
from sklearn.linear_model import LogisticRegression

from frequens.media import clicks
from frequens.media.camera.noisy_yard import heard_session

FIRST_SEED, SESSIONS = 10_000, 90
LEVELS_DB = (20.0, 16.0, 13.0, 10.0, 6.0, 2.0)


def main() -> None:
    plain, likeness, is_click = [], [], []
    for n in range(SESSIONS):
        clicking = 0 if n % 10 == 9 else 22
        heard = heard_session(FIRST_SEED + n, clicking, 60.0, LEVELS_DB[n % len(LEVELS_DB)])
        found = clicks.find_candidates(heard.samples)
        presses = np.array(heard.presses_s)
        example = clicks.example_of(found, heard.presses_s[:1])
        for candidate in found:
            plain.append(clicks._features(candidate))
            near = len(presses) > 0 and np.min(np.abs(presses - candidate.t_s)) <= 0.010
            is_click.append(near)
            likeness.append(None if example is None else clicks._likeness(candidate, example))
    truth = np.array(is_click)
    _print("PLAIN", np.array(plain), truth)
    with_example = [n for n, like in enumerate(likeness) if like is not None]
    both = np.array([(*plain[n], *likeness[n]) for n in with_example])
    _print("EXAMPLE", both, truth[with_example])


def _print(name: str, features: np.ndarray, truth: np.ndarray) -> None:
    fitted = LogisticRegression(C=3.0, max_iter=5000).fit(features, truth)
    weights = ", ".join(f"{w:.3f}" for w in fitted.coef_[0])
    print(f"# {len(truth)} candidates, {truth.sum()} presses")
    print(f"{name}_WEIGHTS: tuple[float, ...] = ({weights})")
    print(f"{name}_BIAS = {fitted.intercept_[0]:.3f}")


if __name__ == "__main__":
    main()
