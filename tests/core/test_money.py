"""Money is exact, whatever its size and its currency's decimals."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.money import LARGEST, MoneyError, currency, parse_plain, plain

CODES = ("USD", "JPY", "KWD", "CLF")


@given(st.integers(-LARGEST, LARGEST), st.sampled_from(CODES))
def test_plain_text_is_read_back_as_the_same_amount(minor: int, code: str) -> None:
    assert parse_plain(plain(minor, currency(code)), currency(code)) == minor


@pytest.mark.parametrize(
    ("text", "code", "minor"),
    [("-1480.00", "USD", -148000), ("12", "USD", 1200), ("+3.5", "USD", 350), ("1.000", "USD", 100), ("7", "JPY", 7)],
)
def test_plain_decimals_are_read(text: str, code: str, minor: int) -> None:
    assert parse_plain(text, currency(code)) == minor


@pytest.mark.parametrize(
    "text", ["", "NaN", "inf", "1e3", "1,000.00", "1.234", "--1", "١٢", "0x1", "12.3.4", "1 000", "9" * 30]
)
def test_what_is_no_plain_decimal_of_two_digits_is_refused(text: str) -> None:
    with pytest.raises(MoneyError):
        parse_plain(text, currency("USD"))


@pytest.mark.parametrize("code", ["XXX", "usd", "EURO", "", "XAU"])
def test_only_currencies_with_minor_units_are_accepted(code: str) -> None:
    with pytest.raises(MoneyError):
        currency(code)
