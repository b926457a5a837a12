"""Money: integers of minor units in a currency whose number of decimals ISO 4217 fixes.

Nothing here, or anywhere else in the product, turns an amount into a float.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache

import iso4217

# Beyond this an amount is a misread field. It also keeps sums of a thousand such
# amounts inside the integers that a browser represents exactly (2^53).
LARGEST = 10**13

_PLAIN = re.compile(r"([+-]?)(\d+)(?:\.(\d*))?", re.ASCII)


class MoneyError(ValueError):
    """A text that is no amount, or a code that is no currency."""


@dataclass(frozen=True, slots=True)
class Currency:
    """An ISO 4217 currency: its code and the number of decimals of its minor unit."""

    code: str
    digits: int

    @property
    def unit(self) -> int:
        """Minor units in one major unit: 100 for USD, 1 for JPY, 1000 for KWD."""
        return int(10**self.digits)


@cache
def currency(code: str) -> Currency:
    """The currency of an ISO 4217 code; MoneyError for anything else.

    Digits come from ISO's own list (library `iso4217`), not from locale data, which
    differs from it for a dozen currencies.
    """
    try:
        found = iso4217.Currency(code)
    except ValueError:
        raise MoneyError(f"{code!r} is no ISO 4217 currency") from None
    if found.exponent is None:
        raise MoneyError(f"{code} has no minor unit and cannot be kept in accounts")
    return Currency(code, found.exponent)


def parse_plain(text: str, of: Currency) -> int:
    """A signed plain decimal ("-1480.00", "12", "+3.5") as minor units.

    Refused with MoneyError: thousands signs, exponents, NaN, more decimals than the
    currency has (unless the surplus digits are zeros), amounts beyond LARGEST.
    """
    found = _PLAIN.fullmatch(text.strip())
    if not found:
        raise MoneyError(f"{text!r} is no amount")
    sign, whole, part = found[1], found[2], found[3] or ""
    if part[of.digits :].strip("0"):
        raise MoneyError(f"{text!r} has more than the {of.digits} decimals of {of.code}")
    if len(whole.lstrip("0")) > len(str(LARGEST)):
        raise MoneyError(f"{text!r} is larger than any amount this program keeps")
    minor = int(whole) * of.unit + int(part[: of.digits].ljust(of.digits, "0") or "0")
    if minor > LARGEST:
        raise MoneyError(f"{text!r} is larger than any amount this program keeps")
    return -minor if sign == "-" else minor


def plain(amount: int, of: Currency) -> str:
    """Minor units as a signed plain decimal, the inverse of `parse_plain`."""
    whole, part = divmod(abs(amount), of.unit)
    text = f"{whole}.{part:0{of.digits}d}" if of.digits else str(whole)
    return f"-{text}" if amount < 0 else text
