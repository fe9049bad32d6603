"""Cue to onset with censoring, and stimulus control, against outside references."""

import warnings

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import norm

from frequens.core import measure

from .coded import Coding

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    from lifelines import KaplanMeierFitter
    from lifelines.datasets import load_leukemia

FAR = {"settings": {"response_limit_s": 3600}}


def cued(durations, answered):
    """A cue for each duration; the onset comes after it, or the next cue does instead."""
    coding, now = Coding(), 10.0
    # Two names in turn: one name said again soon would be the same presentation.
    for place, (length, came) in enumerate(zip(durations, answered, strict=True)):
        coding.event("cue", now, label=("bell", "rope")[place % 2])
        if came:
            coding.onset(now + length)
            now += 1000.0
        else:
            now += length
    coding.event("cue", now, label="the last one")
    return coding, now


def response(durations, answered):
    """Findings over the cues given; the closing cue is censored at once."""
    coding, now = cued(durations, answered)
    return measure(coding.record(session={"start_s": 0, "end_s": now}, **FAR))["response_latency_s"]


def fitted(durations, answered):
    """lifelines, with the closing cue that lasted nothing."""
    fitter = KaplanMeierFitter()
    fitter.fit([*durations, 0.0], [*answered, False])
    return fitter


def median_interval(fitter):
    """Where lifelines' own bounds first reach one half.

    Where nobody is left its bounds are filled in by convention, ours are undefined: such
    rows do not count.
    """
    bounds = fitter.confidence_interval_[fitter.survival_function_.iloc[:, 0] > 0]
    return first_half(bounds.iloc[:, 0]), first_half(bounds.iloc[:, 1])


def first_half(series):
    """Where a falling series first reaches one half, rounding apart; None if never."""
    reached = series.index[series <= 0.5 + 1e-9]
    return float(reached[0]) if len(reached) else None


def test_kaplan_and_meiers_own_example():
    """Kaplan & Meier (1958), section 2: eight items, four losses (values from memory)."""
    durations = [0.8, 1.0, 2.7, 3.1, 5.4, 7.0, 9.2, 12.1]
    answered = [True, False, False, True, True, False, True, False]
    found = response(durations, answered)
    shares = [(point["after_s"], point["share"]) for point in found["curve"]]
    assert shares == [
        (0.8, pytest.approx(0.875)),
        (3.1, pytest.approx(0.700)),
        (5.4, pytest.approx(0.525)),
        (9.2, pytest.approx(0.2625)),
    ]
    assert found["median"] == 9.2


def test_the_leukaemia_remissions_of_1963():
    """Freireich et al. (1963), 6-MP group, a data set that lifelines carries.

    The textbook values of its Kaplan-Meier curve (from memory): 0.857 at 6, 0.807 at 7,
    0.753 at 10, 0.690 at 13, 0.627 at 16, 0.538 at 22 and 0.448 at 23 weeks; median 23.
    """
    data = load_leukemia()
    treated = data[data["Rx"] == 0]
    durations = [float(t) for t in treated["t"]]
    answered = [bool(s) for s in treated["status"]]
    found = response(durations, answered)
    curve = {point["after_s"]: point["share"] for point in found["curve"]}
    textbook = {6: 0.857, 7: 0.807, 10: 0.753, 13: 0.690, 16: 0.627, 22: 0.538, 23: 0.448}
    assert set(curve) == set(textbook)
    for week, share in textbook.items():
        assert curve[week] == pytest.approx(share, abs=0.0006)
    assert found["median"] == 23
    assert (found["n"], found["responded"], found["censored"]) == (22, 9, 13)


@given(
    st.lists(
        st.tuples(st.integers(1, 400).map(lambda n: n / 10), st.booleans()), min_size=1, max_size=30
    )
)
def test_curve_median_and_interval_agree_with_lifelines(cues):
    durations, answered = [d for d, _ in cues], [a for _, a in cues]
    found, fitter = response(durations, answered), fitted(durations, answered)
    for point in found["curve"]:
        assert point["share"] == pytest.approx(
            float(fitter.survival_function_at_times(point["after_s"]).iloc[0]), abs=1e-9
        )
    median = first_half(fitter.survival_function_.iloc[:, 0])
    assert found["median"] == (None if median is None else pytest.approx(median))
    low, high = median_interval(fitter)
    assert found["median_low"] == (None if low is None else pytest.approx(low))
    assert found["median_high"] == (None if high is None else pytest.approx(high))


def test_what_ends_the_wait_for_an_onset():
    coding = Coding().event("bout_start", 0.0)
    coding.event("cue", 5.0).onset(6.5)  # answered after 1.5 s
    coding.event("cue", 20.0).event("cue", 24.0, label="bell")  # the next cue after 4 s
    coding.onset(24.5)  # answers the second one
    coding.event("cue", 40.0)  # nothing within the limit of 10 s
    coding.onset(55.0)
    coding.event("cue", 58.0).event("bout_end", 60.0)  # the end of the bout after 2 s
    found = measure(coding.record())["response_latency_s"]
    assert (found["n"], found["responded"], found["censored"]) == (5, 2, 3)
    assert [point["after_s"] for point in found["curve"]] == [0.5, 1.5]


def test_no_cues_no_latency():
    found = measure(Coding().onset(1.0).record())["response_latency_s"]
    assert found == {
        "n": 0,
        "responded": 0,
        "censored": 0,
        "median": None,
        "median_low": None,
        "median_high": None,
        "curve": [],
    }


def controlled(hits, misses, alarms, rejections):
    coding, now = Coding(), 10.0
    for n in range(hits + misses):
        coding.event("cue", now)
        if n < hits:
            coding.onset(now + 1)
        now += 20
    for n in range(alarms + rejections):
        coding.event("no_cue_window", now, end_s=now + 5)
        if n < alarms:
            coding.onset(now + 2)
        now += 20
    return measure(coding.record(session={"start_s": 0, "end_s": now}))["stimulus_control"]


@given(*[st.integers(0, 12)] * 4)
def test_d_prime_and_c_with_the_log_linear_correction(hits, misses, alarms, rejections):
    """Hautus (1995): add 0.5 to the counts and 1 to the totals; z by scipy's normal."""
    found = controlled(hits, misses, alarms, rejections)
    assert [found[k] for k in ("hit", "miss", "false_alarm", "correct_rejection")] == [
        hits,
        misses,
        alarms,
        rejections,
    ]
    if not (hits + misses and alarms + rejections):
        assert found["d_prime"] is None
        assert found["c"] is None
        return
    z_hit = norm.ppf((hits + 0.5) / (hits + misses + 1))
    z_false = norm.ppf((alarms + 0.5) / (alarms + rejections + 1))
    assert found["d_prime"] == pytest.approx(z_hit - z_false)
    assert found["c"] == pytest.approx(-(z_hit + z_false) / 2)


def test_perfect_control_stays_finite():
    # 10 of 10 and 0 of 10 become 10.5/11 and 0.5/11: z = ±1.6906, by a table of the normal.
    found = controlled(10, 0, 0, 10)
    assert found["d_prime"] == pytest.approx(2 * 1.6906, abs=1e-3)
    assert found["c"] == pytest.approx(0)
