"""Amounts and dates as a company's people write them (library `babel`)."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

from babel.dates import format_date
from babel.numbers import format_decimal

from netnaught.core.money import Currency, currency, plain
from netnaught.core.wording import Wording


def written_amount(amount: int, of: Currency, locale: str) -> str:
    """Grouped, with the currency's own decimals and a true minus sign."""
    pattern = "#,##0" + ("." + "0" * of.digits if of.digits else "")
    return format_decimal(Decimal(plain(amount, of)), format=pattern, locale=locale).replace("-", "−")


def written_date(day: date, locale: str) -> str:
    """With the month in letters, so that it can be read in one way only."""
    return format_date(day, format="medium", locale=locale)


def wording(code: str, locale: str) -> Wording:
    """The writers of a company for one currency."""
    of = currency(code)
    return Wording(lambda amount: written_amount(amount, of, locale), lambda day: written_date(day, locale))
