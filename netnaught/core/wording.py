"""How sentences made by the core write amounts and dates: decided by the company, not by the core."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

from netnaught.core.money import Currency, plain


@dataclass(frozen=True, slots=True)
class Wording:
    """Two writers: minor units to text, date to text."""

    amount: Callable[[int], str]
    day: Callable[[date], str]


def plain_wording(of: Currency) -> Wording:
    """Plain decimals and ISO dates: for the command line and for files."""
    return Wording(amount=lambda minor: plain(minor, of), day=date.isoformat)


def count(number: int, noun: str, plural: str | None = None) -> str:
    """`1 line`, `3 lines`, `2 entries`."""
    return f"{number} {noun if number == 1 else plural or noun + 's'}"
