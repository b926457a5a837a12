"""Splitting an amount over accounts, to the exact cent, and working out the tax in it.

Shares are hundredths of a percent (10,000 = all of it), tax rates millionths (8.875 % is
88,750). Rounding is half up, away from zero, in integers; what rounding leaves goes to the
largest part, the first of equals.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

ALL = 10_000
MILLION = 1_000_000


class SplitRefused(ValueError):
    """Parts that do not make the amount; the message says what is missing. `short`: what is not placed, minor units."""

    def __init__(self, message: str, short: int = 0) -> None:
        super().__init__(message)
        self.short = short


@dataclass(frozen=True, slots=True)
class TaxCode:
    """A tax: its rate in millionths, and the account it is posted to."""

    id: int
    code: str
    rate: int
    gl_account_id: int


@dataclass(frozen=True, slots=True)
class Part:
    """One part of a split: a fixed amount, a share of the whole, or (neither) what is left.

    `amount`: minor units with the sign of the whole; with `on_top` it is before tax, else tax is in it.
    """

    gl_account_id: int
    amount: int | None = None
    share: int | None = None
    tax: TaxCode | None = None
    on_top: bool = False
    department_id: int | None = None
    tags: tuple[str, ...] = ()
    memo: str = ""


@dataclass(frozen=True, slots=True)
class Posting:
    """One line of the books' other side. `amount`: minor units, signed as the bank's side; all sum to the whole."""

    gl_account_id: int
    amount: int
    tax_code_id: int | None = None
    department_id: int | None = None
    tags: tuple[str, ...] = ()
    memo: str = ""


def _rounded(numerator: int, denominator: int) -> int:
    """A quotient rounded half up, away from zero; the denominator is positive."""
    whole = (2 * abs(numerator) + denominator) // (2 * denominator)
    return whole if numerator >= 0 else -whole


def tax_in(gross: int, rate: int) -> int:
    """The tax that is in a gross amount."""
    return _rounded(gross * rate, MILLION + rate)


def tax_on(net: int, rate: int) -> int:
    """The tax that comes on top of a net amount."""
    return _rounded(net * rate, MILLION)


def _gross(part: Part, total: int) -> int | None:
    """What a part takes of the whole, tax included; None for the part that takes what is left."""
    if part.amount is not None and part.share is not None:
        raise SplitRefused("a part has an amount or a percentage, not both")
    if part.share is not None:
        if not 0 < part.share <= ALL:
            raise SplitRefused("a percentage lies above 0 and at most at 100")
        return _rounded(total * part.share, ALL)
    if part.amount is None:
        return None
    if part.tax and part.on_top:
        return part.amount + tax_on(part.amount, part.tax.rate)
    return part.amount


def post(total: int, parts: Sequence[Part]) -> tuple[Posting, ...]:
    """The postings that parts make of a whole, tax on lines of its own; SplitRefused unless they make it exactly."""
    if not parts:
        raise SplitRefused("the amount needs an account to go to")
    taken = [_gross(part, total) for part in parts]
    open_ones = [place for place, amount in enumerate(taken) if amount is None]
    if len(open_ones) > 1:
        raise SplitRefused("only one part can take what is left")
    shares = sum(part.share or 0 for part in parts)
    if shares > ALL or (shares and all(part.share is not None for part in parts) and shares != ALL):
        raise SplitRefused(f"the percentages make {shares / 100:g} %, not 100 %")
    left = total - sum(amount or 0 for amount in taken)
    if open_ones:
        if left == 0 or (left < 0) != (total < 0):
            raise SplitRefused("nothing is left for the part without an amount")
        taken[open_ones[0]] = left
    elif left and shares == ALL:
        largest = max(range(len(parts)), key=lambda place: (abs(taken[place] or 0), -place))
        taken[largest] = (taken[largest] or 0) + left
    elif left:
        raise SplitRefused("the parts do not make the amount", short=left)
    found: list[Posting] = []
    for part, gross in zip(parts, taken, strict=True):
        found += _with_tax(part, gross or 0)
    return tuple(found)


def _with_tax(part: Part, gross: int) -> list[Posting]:
    plain = Posting(part.gl_account_id, gross, None, part.department_id, part.tags, part.memo)
    if part.tax is None:
        return [plain]
    on_top = part.on_top and part.amount is not None
    tax = tax_on(part.amount or 0, part.tax.rate) if on_top else tax_in(gross, part.tax.rate)
    net = replace(plain, amount=gross - tax, tax_code_id=part.tax.id)
    if tax == 0:
        return [net]
    return [net, Posting(part.tax.gl_account_id, tax, part.tax.id, part.department_id, part.tags, part.tax.code)]
