"""A statement that does not open where the last seal closed: the cause is told, and each has another way out."""

from __future__ import annotations

from datetime import date

import pytest

from netnaught.core.money import currency
from netnaught.core.seal import BankGapCause, bank_gap
from netnaught.core.statement import ControlTotals, Join, StatementHead, continuity
from netnaught.core.wording import plain_wording

SAY = plain_wording(currency("USD"))
BEFORE = Join(date(2026, 9, 30), 100_000)
OCTOBER = StatementHead(date(2026, 10, 1), date(2026, 10, 31), 100_300, 100_300, ControlTotals())
NOVEMBER = StatementHead(date(2026, 11, 1), date(2026, 11, 30), 100_300, 100_300, ControlTotals())


@pytest.mark.parametrize(
    ("head", "first", "stated", "cause", "says"),
    [
        (NOVEMBER, False, 100_000, BankGapCause.STATEMENT_MISSING, "No statement covers 2026-10-01 to 2026-10-31"),
        (NOVEMBER, True, None, BankGapCause.STATEMENT_MISSING, "No statement covers"),
        (OCTOBER, True, None, BankGapCause.NO_START, "starts from 1000.00 on 2026-09-30"),
        (OCTOBER, False, 100_300, BankGapCause.CLOSING_MISTYPED, "the file of that statement says 1003.00"),
        (OCTOBER, False, 100_000, BankGapCause.BANK_RESTATED, "opens 3.00 away from where its own last statement"),
        (OCTOBER, False, None, BankGapCause.TYPED_OR_RESTATED, "no file tells"),
    ],
)
def test_each_cause_is_told_apart(
    head: StatementHead, first: bool, stated: int | None, cause: BankGapCause, says: str
) -> None:
    notices = continuity(head, head.opening, BEFORE)
    found = bank_gap(notices, BEFORE, first=first, stated=lambda: stated, say=SAY)
    assert found is not None
    assert (found.amount, found.cause) == (300, cause)
    assert says in found.text


def test_a_gap_between_two_statements_of_one_period_is_none_of_the_opening() -> None:
    """It is a blocker of that period, with its own sentence; the opening joins on."""
    first = StatementHead(date(2026, 10, 1), date(2026, 10, 15), 100_000, 99_000, ControlTotals())
    then = StatementHead(date(2026, 10, 16), date(2026, 10, 31), 99_700, 99_700, ControlTotals())
    notices = continuity(first, first.opening, BEFORE) + continuity(then, then.opening, Join(first.end, first.closing))
    assert len(notices) == 1
    assert bank_gap(notices, BEFORE, first=False, stated=lambda: 100_000, say=SAY) is None
