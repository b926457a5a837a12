"""The equations of the trade, on their own examples and on anything hypothesis can think of."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest
from hypothesis import given

from netnaught.core.coding import Posting
from netnaught.core.ledger import BookEntry, JournalEntry, JournalLine, Unbalanced, bank_journal
from netnaught.core.reconciliation import (
    Decision,
    DecisionKind,
    DecisionRefused,
    Past,
    Work,
    books_gap,
    check_decision,
    standing,
)
from netnaught.core.ring import RingState, ring_of
from netnaught.core.statement import StatementLine
from tests.strategies import works

END = date(2026, 9, 30)


def work(closing: int, lines: list[int], entries: list[tuple[int, date]], matched: int = 0, opening: int = 0) -> Work:
    """Lines and entries in order; the first `matched` of each are matched pairwise."""
    own = tuple(StatementLine(n, END, amount) for n, amount in enumerate(lines))
    booked = tuple(BookEntry(n, day, amount) for n, (amount, day) in enumerate(entries))
    decisions = tuple(Decision(n, DecisionKind.MATCH, (n,), (n,)) for n in range(matched))
    return Work(END, closing, Past(opening), own, booked, decisions)


def test_entry_booked_in_the_next_month_is_late_in_the_books() -> None:
    now = standing(work(1000, [300], [(300, date(2026, 10, 2))], matched=1, opening=700))
    assert (now.difference, now.late, now.book_balance, now.adjusted_balance) == (0, 300, 700, 700)


def test_open_bank_error_explains_the_book_balance() -> None:
    line = StatementLine(1, END, -75)
    error = Decision(1, DecisionKind.BANK_ERROR, (1,))
    now = standing(Work(END, 925, Past(1000), (line,), (), (error,)))
    assert (now.difference, now.book_balance, now.adjusted_balance) == (0, 1000, 1000)


def test_unresolved_lines_that_cancel_are_not_complete() -> None:
    now = standing(work(0, [50, -50], []))
    assert now.difference == 0
    assert not now.complete
    assert ring_of(now).state is RingState.IN_WORK


def test_gaps_of_the_worked_example_stand_apart() -> None:
    """Sealed 210, the statement opens at 510, counted now 90: bank gap +300, books gap −120."""
    assert 510 - 210 == 300
    assert books_gap([90 - 210]) == -120


@given(works())
def test_book_balance_built_up_from_what_is_counted_is_the_sum_of_the_book(given_work: Work) -> None:
    """No earlier periods: the book balance at the end is opening plus every entry up to it."""
    now = standing(given_work)
    direct = given_work.past.opening + sum(e.amount for e in given_work.entries if e.date <= given_work.end)
    assert now.book_balance == direct


@given(works())
def test_difference_is_what_is_unresolved_when_the_statement_foots(given_work: Work) -> None:
    footing = replace(given_work, closing=given_work.past.opening + sum(x.amount for x in given_work.lines))
    now = standing(footing)
    if not now.ticking:
        assert now.difference == now.unresolved_in.total + now.unresolved_out.total
        assert now.rest == 0


@given(works())
def test_both_sides_of_the_two_sided_form_meet_at_zero(given_work: Work) -> None:
    now = standing(given_work)
    if now.difference == 0:
        assert now.adjusted_balance == now.book_balance


@given(works())
def test_ring_closes_only_when_complete(given_work: Work) -> None:
    now = standing(given_work)
    ring = ring_of(now)
    assert (ring.state is RingState.AT_NAUGHT) == now.complete
    assert now.complete or ring.done < ring.of


@pytest.mark.parametrize(
    ("kind", "lines", "entries"),
    [
        (DecisionKind.MATCH, [100], [99]),
        (DecisionKind.MATCH, [100], []),
        (DecisionKind.WASH, [50, -49], []),
        (DecisionKind.WASH, [50], [-50]),
        (DecisionKind.WASH, [0], []),
        (DecisionKind.TICK, [5], [5]),
        (DecisionKind.BANK_ERROR, [5, 5], []),
    ],
)
def test_decision_that_the_amounts_do_not_allow_is_refused(
    kind: DecisionKind, lines: list[int], entries: list[int]
) -> None:
    with pytest.raises(DecisionRefused):
        check_decision(kind, lines, entries)


def test_journal_that_does_not_balance_cannot_exist() -> None:
    with pytest.raises(Unbalanced):
        JournalEntry(END, "", (JournalLine(1, 100, 100), JournalLine(2, -99, -99)))
    assert sum(line.base_amount for line in bank_journal(END, "", 1, (Posting(2, -300), Posting(3, -200))).lines) == 0
