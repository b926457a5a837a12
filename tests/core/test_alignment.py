"""The Spine's rows: every line and every entry of the work stands in exactly one of them."""

from __future__ import annotations

from datetime import date

from hypothesis import given

from netnaught.core.alignment import RowKind, align, residual
from netnaught.core.ledger import BookEntry
from netnaught.core.reconciliation import Past, Work, standing
from netnaught.core.statement import LineKind, StatementLine
from tests.strategies import works


@given(works())
def test_every_item_stands_in_exactly_one_row(work: Work) -> None:
    rows = align(work)
    assert sorted(str(i) for row in rows for i in row.lines) == sorted(str(x.id) for x in work.lines)
    assert sorted(str(i) for row in rows for i in row.entries) == sorted(str(x.id) for x in work.entries)


def test_what_a_pass_would_match_is_offered_before_it_runs() -> None:
    line = StatementLine("L", date(2026, 10, 8), -148000, "2290", "CHECK", LineKind.CHECK)
    near = BookEntry("B", date(2026, 10, 5), -184000, "2290")
    sure, its = StatementLine("L2", date(2026, 10, 9), -900, "2291"), BookEntry("B2", date(2026, 10, 8), -900, "2291")
    work = Work(date(2026, 10, 31), -148900, Past(0), (line, sure), (near, its), ())
    rows = align(work)
    assert [row.kind for row in rows] == [RowKind.PROPOSAL, RowKind.PROPOSAL]
    assert residual(standing(work), rows, work) == 0
