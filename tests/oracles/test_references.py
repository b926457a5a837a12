"""Small things held against the outside: currency digits, canonical JSON, an optimal assignment."""

from __future__ import annotations

import re
from datetime import date, timedelta
from pathlib import Path

import pytest
import scipy.optimize
from hypothesis import given

from netnaught.core.ledger import BookEntry
from netnaught.core.matching import AmountAndDate, OpenItems
from netnaught.core.money import currency
from netnaught.core.seal import canonical
from netnaught.core.statement import StatementLine
from tests.strategies import entries, lines

ROOT = Path(__file__).resolve().parents[2]


@pytest.mark.parametrize(
    ("code", "digits"), [("USD", 2), ("JPY", 0), ("KWD", 3), ("IQD", 3), ("CLF", 4), ("ISK", 0), ("CAD", 2), ("HUF", 2)]
)
def test_currency_digits_are_those_of_iso_4217(code: str, digits: int) -> None:
    """ISO 4217, list one (maintenance agency), minor unit column."""
    assert currency(code).digits == digits


def test_the_browser_has_the_same_digits() -> None:
    shown = dict(re.findall(r"([A-Z]{3}): (\d)", (ROOT / "web/src/format/digits.gen.ts").read_text()))
    assert shown
    assert all(currency(code).digits == int(digits) for code, digits in shown.items())


def test_canonical_json_is_rfc_8785_s() -> None:
    """RFC 8785, section 3.2.3: sorting of members by UTF-16 code units, and 3.2.2: literals and strings."""
    members = {"\u20ac": "Euro Sign", "\r": "Carriage Return", "\ufb33": "Hebrew", "1": "One", "\u0080": "Control",
               "\U0001f600": "Smiley", "\u00f6": "Diaeresis"}  # fmt: skip
    order = ["\r", "1", "\u0080", "\u00f6", "\u20ac", "\U0001f600", "\ufb33"]
    found = canonical(dict(members)).decode()
    assert [found.index(members[key]) for key in order] == sorted(found.index(members[key]) for key in order)
    assert (
        canonical({"a": [True, None, "\u20ac$\u000f\nA'B\"\\/"]})
        == b'{"a":[true,null,"\xe2\x82\xac$\\u000f\\nA\'B\\"\\\\/"]}'
    )


@given(lines(7), entries(7))
def test_every_match_by_amount_and_date_is_in_an_optimal_assignment(
    bank: tuple[StatementLine, ...], books: tuple[BookEntry, ...]
) -> None:
    """`scipy.optimize.linear_sum_assignment` over date gaps of equal amounts, within the same window.

    The pass may leave open what the assignment pairs; what it pairs, the assignment pairs too.
    """
    step = AmountAndDate()
    made = {(m.lines[0], m.entries[0]) for m in step.run(OpenItems(bank, books))}
    if not bank or not books:
        assert not made
        return
    far = 10_000
    cost = [
        [abs((x.date - e.date).days) if x.amount == e.amount and step.window.holds(x, e) else far for e in books]
        for x in bank
    ]
    rows, columns = scipy.optimize.linear_sum_assignment(cost)
    best = {(bank[r].id, books[c].id) for r, c in zip(rows, columns, strict=True) if cost[r][c] < far}
    assert made <= best


def test_the_window_is_days_before_and_after() -> None:
    window = AmountAndDate().window
    line = StatementLine(1, date(2026, 10, 20), 5)
    held = [n for n in range(-40, 41) if window.holds(line, BookEntry(1, line.date - timedelta(days=n), 5))]
    assert (held[0], held[-1]) == (-window.after, window.before)
