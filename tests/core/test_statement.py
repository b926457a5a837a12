"""The statement foots, and joins the one before; every fault is named with dates and amounts."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.money import currency
from netnaught.core.statement import (
    ControlTotals,
    Join,
    NoticeKind,
    StatementHead,
    continuity,
    delivered,
    footing,
    footing_notices,
    opening_of,
)
from netnaught.core.wording import plain_wording
from tests.strategies import amounts

SAY = plain_wording(currency("USD"))
FIRST, LAST = date(2026, 10, 1), date(2026, 10, 31)


def head(opening: int | None, closing: int | None, totals: ControlTotals = ControlTotals()) -> StatementHead:
    return StatementHead(FIRST, LAST, opening, closing, totals)


@given(st.lists(amounts), amounts, st.integers(-5, 5))
def test_statement_foots_exactly_when_opening_and_lines_make_the_closing(
    given: list[int], opening: int, off: int
) -> None:
    judged = footing(head(opening, opening + sum(given) + off), delivered(given))
    assert judged.off == off
    assert judged.foots is (off == 0)


def test_footing_cannot_be_told_without_an_opening() -> None:
    lines = delivered([500, -200])
    assert footing(head(None, 1000), lines).foots is None
    assert opening_of(head(None, 1000), lines) == 700


def test_printed_totals_and_counts_are_compared() -> None:
    totals = ControlTotals(total_in=500, total_out=-300, count_in=1, count_out=2)
    judged = footing(head(0, 300, totals), delivered([500, -200]))
    assert judged.faults == (("total out", -300, -200), ("number out", 2, 1))
    assert judged.foots is False
    assert "total out is printed as -3.00" in footing_notices(head(0, 300, totals), judged, SAY)[0].sentence(SAY)


def test_paper_statement_is_judged_by_its_printed_totals() -> None:
    paper = delivered([], listed=False)
    assert footing(head(100, 300, ControlTotals(500, -300)), paper).foots is True
    assert footing(head(100, 301, ControlTotals(500, -300)), paper).off == 1
    assert footing(head(100, 300), paper).foots is None


@pytest.mark.parametrize(
    ("before", "opening", "kinds"),
    [
        (Join(date(2026, 9, 30), 100), 100, []),
        (Join(date(2026, 9, 30), 100), 130, [NoticeKind.BANK_GAP]),
        (Join(date(2026, 9, 15), 100), 100, [NoticeKind.GAP]),
        (Join(date(2026, 9, 15), 100), 130, [NoticeKind.GAP, NoticeKind.BANK_GAP]),
        (Join(date(2026, 10, 5), 100), 130, [NoticeKind.OVERLAP]),
        (Join(date(2026, 9, 30), None), 130, []),
    ],
)
def test_gap_overlap_and_bank_gap_are_told_apart(before: Join, opening: int, kinds: list[NoticeKind]) -> None:
    assert [n.kind for n in continuity(head(opening, 500), opening, before)] == kinds


def test_a_notice_names_its_dates_and_amounts() -> None:
    notices = continuity(head(13000, 500), 13000, Join(date(2026, 9, 15), 10000))
    assert notices[0].sentence(SAY) == "No statement covers 2026-09-16 to 2026-09-30."
    assert "opens at 130.00" in notices[1].sentence(SAY)
    assert "a bank gap of 30.00" in notices[1].sentence(SAY)
