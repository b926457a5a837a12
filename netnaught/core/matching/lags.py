"""Windows that follow from an account's own clearing lags: how long its items really take to reach the bank."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import ceil

from netnaught.core.matching.passes import AmountAndDate, AmountAndText, Pass, Window

# Fewer cleared items than this say too little about an account.
LEAST = 20
# The rarest lag in a hundred is left out, and a few days are put on top: holidays move.
_SHARE, _MARGIN, _CHECK_MARGIN = 0.99, 3, 15
_LEAST_DAYS, _MOST_DAYS, _MOST_TEXT_DAYS = 3, 45, 90
_LEAST_CHECK_DAYS, _MOST_CHECK_DAYS = 30, 180


@dataclass(frozen=True, slots=True)
class Lag:
    """How one cleared item came: bank date − book date in days, and whether it was a check."""

    days: int
    check: bool


def _reach(days: Sequence[int]) -> int:
    """As many days as all but the rarest took; 0 where none did."""
    late = sorted(day for day in days if day > 0)
    return late[ceil(len(late) * _SHARE) - 1] if late else 0


def window_from(lags: Sequence[Lag]) -> Window | None:
    """The window of what is no check; None while too few have cleared."""
    days = [lag.days for lag in lags if not lag.check]
    if len(days) < LEAST:
        return None
    before, after = (max(_LEAST_DAYS, _reach(part) + _MARGIN) for part in (days, [-day for day in days]))
    return Window(min(before, _MOST_DAYS), min(after, _MOST_DAYS))


def check_days_from(lags: Sequence[Lag]) -> int | None:
    """How long a check may be on its way; None while too few have cleared."""
    days = [lag.days for lag in lags if lag.check]
    if len(days) < LEAST:
        return None
    return min(max(_LEAST_CHECK_DAYS, _reach(days) + _CHECK_MARGIN), _MOST_CHECK_DAYS)


def fitted(passes: Sequence[Pass], lags: Sequence[Lag]) -> tuple[Pass, ...]:
    """The passes with the windows that the lags give: by date as they are, by text twice as far."""
    window, checks = window_from(lags), check_days_from(lags)
    found: list[Pass] = []
    for step in passes:
        if isinstance(step, AmountAndDate):
            step = replace(step, window=window or step.window, checks=checks or step.checks)
        elif isinstance(step, AmountAndText) and window:
            wide = Window(min(2 * window.before, _MOST_TEXT_DAYS), min(2 * window.after, _MOST_TEXT_DAYS))
            step = replace(step, window=Window(max(wide.before, checks or 0), wide.after))
        found.append(step)
    return tuple(found)
