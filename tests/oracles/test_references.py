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
from netnaught.core.matching.field import Field
from netnaught.core.matching.traits import of_entry, of_line
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


@given(lines(8), entries(8))
def test_what_amount_and_date_pairs_is_an_optimal_assignment(
    bank: tuple[StatementLine, ...], books: tuple[BookEntry, ...]
) -> None:
    """`scipy.optimize.linear_sum_assignment` over the days between, for each amount that the pass decides.

    The pass may leave open what the assignment pairs; what it pairs costs no more days than the best pairing does.
    """
    made = AmountAndDate().run(Field(OpenItems(bank, books))).matches
    days = {x.id: (x.date, x.amount) for x in bank} | {e.id: (e.date, e.amount) for e in books}
    for amount in {days[m.lines[0]][1] for m in made}:
        own, theirs = [x for x in bank if x.amount == amount], [e for e in books if e.amount == amount]
        cost = [[abs((x.date - e.date).days) for e in theirs] for x in own]
        rows, columns = scipy.optimize.linear_sum_assignment(cost)
        best = sum(cost[r][c] for r, c in zip(rows, columns, strict=True))
        ours = [m for m in made if days[m.lines[0]][1] == amount]
        assert len(ours) == len(own) == len(theirs)
        assert sum(abs((days[m.lines[0]][0] - days[m.entries[0]][0]).days) for m in ours) == best


def test_the_window_is_days_before_and_after() -> None:
    window = AmountAndDate().window
    line = StatementLine(1, date(2026, 10, 20), 5)
    held = [
        n
        for n in range(-40, 41)
        if window.holds(of_line(line), of_entry(BookEntry(1, line.date - timedelta(days=n), 5)))
    ]
    assert (held[0], held[-1]) == (-window.after, window.before)
