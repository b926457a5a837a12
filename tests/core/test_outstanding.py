"""What lingers: by which rule an entry is stale, and the ageing that holds every item once."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.ledger import BookEntry
from netnaught.core.outstanding import Age, OutstandingKind, StaleRules, age, ageing, months_after
from netnaught.core.statement import Side
from tests.strategies import START, amounts, days

BY_DEFAULT = StaleRules()


def test_a_check_is_stale_after_six_months_and_not_before() -> None:
    """UCC § 4-404 (US): a bank need not pay a check presented more than six months after its date."""
    check = BookEntry(1, date(2026, 3, 27), -18000, "2204")
    assert age(check, date(2026, 9, 27), BY_DEFAULT).stale == ""
    judged = age(check, date(2026, 9, 28), BY_DEFAULT)
    assert (judged.kind, judged.stale) == (OutstandingKind.CHECK, "6 months")


@pytest.mark.parametrize(
    ("day", "months", "later"),
    [("2026-08-31", 6, "2027-02-28"), ("2027-08-31", 6, "2028-02-29"), ("2026-12-31", 1, "2027-01-31")],
)
def test_a_month_that_has_no_such_day_ends_on_its_last(day: str, months: int, later: str) -> None:
    assert months_after(date.fromisoformat(day), months) == date.fromisoformat(later)


@pytest.mark.parametrize(
    ("amount", "reference", "kind", "rules", "limit"),
    [
        (500, "2204", OutstandingKind.DEPOSIT_IN_TRANSIT, StaleRules(deposit_days=3), 3),
        (-500, "ACH", OutstandingKind.PAYMENT, StaleRules(payment_days=14), 14),
        (500, "", OutstandingKind.DEPOSIT_IN_TRANSIT, StaleRules(deposit_days=None), None),
        (-500, "", OutstandingKind.PAYMENT, StaleRules(payment_days=None), None),
    ],
)
def test_others_are_stale_by_the_company_s_own_rule(
    amount: int, reference: str, kind: OutstandingKind, rules: StaleRules, limit: int | None
) -> None:
    entry = BookEntry(1, START, amount, reference)
    last = age(entry, START + timedelta(days=limit or 900), rules)
    after = age(entry, START + timedelta(days=(limit or 900) + 1), rules)
    assert (last.kind, last.stale) == (kind, "")
    assert after.stale == (f"{limit} days" if limit else "")


@given(st.lists(st.tuples(days, amounts)), st.integers(0, 400))
def test_an_ageing_holds_every_item_once(items: list[tuple[date, int]], later: int) -> None:
    at = START + timedelta(days=60 + later)
    judged = [(age(BookEntry(n, day, amount), at, BY_DEFAULT), amount) for n, (day, amount) in enumerate(items)]
    steps = ageing(judged)
    assert sum(s.came_in.total + s.went_out.total for s in steps) == sum(amount for _, amount in items)
    assert sum(s.came_in.lines + s.went_out.lines for s in steps) == len(items)


def test_money_in_and_money_out_stand_apart_in_each_step_of_the_ageing() -> None:
    amounts = {0: 5, 30: -7, 31: -1, 60: 2, 61: 4, 90: 8, 180: -9, 181: -3}
    items = [(Age(OutstandingKind.PAYMENT, days, ""), amount) for days, amount in amounts.items()]
    assert [(s.since, s.until, s.came_in, s.went_out) for s in ageing(items)] == [
        (0, 30, Side(5, 1), Side(-7, 1)),
        (31, 60, Side(2, 1), Side(-1, 1)),
        (61, 90, Side(12, 2), Side(0, 0)),
        (91, 180, Side(0, 0), Side(-9, 1)),
        (181, None, Side(0, 0), Side(-3, 1)),
    ]
