"""Numbers as one reads them: shares, lengths, instants and lags, the same in every language."""

from __future__ import annotations

from collections.abc import Callable, Mapping

MINUS = "−"
#: Where there is no number.
NOTHING = "–"


def shortest(value: float) -> str:
    """A whole number as it is, another in six digits at most: ``1000000``, ``2.5``."""
    return f"{value:.0f}" if float(value).is_integer() else f"{value:g}"


def seconds(value: float) -> str:
    """A length in seconds, with a decimal below ten: ``4.2 s``."""
    return f"{value:.0f} s" if value >= 10 else f"{value:.1f} s"


def latency(value: float | None, digits: int = 2) -> str:
    """A signed difference in seconds: ``+0.30 s``."""
    if value is None:
        return NOTHING
    sign = MINUS if round(value, digits) < 0 else "+"
    return f"{sign}{lag(value, digits)}"


def lag(value: float, digits: int = 2) -> str:
    """A difference in seconds where words say which came first: ``0.30 s``."""
    return f"{abs(value):.{digits}f} s"


def signed(value: float) -> str:
    """As short as it can be, with its sign: ``+0.5``, ``−1``."""
    return f"{'+' if value > 0 else MINUS}{shortest(abs(value))}"


def percent(share: float | None) -> str:
    """A share from 0 to 1: ``38 %``."""
    return NOTHING if share is None else f"{round(100 * share)} %"


def clock(value: float) -> str:
    """A length in seconds as ``1:23``."""
    whole = round(value)
    return f"{whole // 60}:{whole % 60:02d}"


def clock_tenths(value: float) -> str:
    """A length in seconds as ``1:23.4``."""
    minutes, rest = divmod(value, 60)
    return f"{int(minutes)}:{rest:04.1f}"


def instant(value: float) -> str:
    """An instant of the recording in seconds as ``1:23.467``."""
    thousandths = round(1000 * value)
    return f"{thousandths // 60_000}:{thousandths % 60_000 / 1000:06.3f}"


#: By the name a template asks for them.
FORMS: Mapping[str, Callable[[float], str]] = {
    one.__name__: one
    for one in (seconds, latency, lag, signed, percent, clock, clock_tenths, instant)
}
