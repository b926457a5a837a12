"""Tables of books kept elsewhere: columns proposed or pointed out, checked, stored whole or not at all."""

from __future__ import annotations

from datetime import date
from io import BytesIO

import pytest
from openpyxl import Workbook

from netnaught.core.reimport import RowChange
from netnaught.formats import Columns
from netnaught.services import exporting, ledger_import, ledger_view, reimport
from netnaught.services.errors import BadInput, Refused
from netnaught.services.setup import set_lock_date
from tests.world import World

BOOK = "Voucher;Posted;Party;Received;Paid\nV1;05/10/2026;Teal;10,50;\nV2;06/10/2026;Brill;;4,00\n"


def balances(world: World) -> dict[str, int]:
    found = ledger_view.trial_balance(world.ctx, world.company.id, date(2026, 12, 31))
    assert found.total == 0
    return {account.number: balance for account, balance in found.rows if balance}


def test_a_bank_book_of_another_make_is_read_once_its_columns_are_told(world: World) -> None:
    args = (world.ctx, world.company.id, world.account.id, "book.csv", BOOK.encode())
    first = reimport.preview(*args)
    assert first.table
    assert first.table.columns.by_role == {
        "date": "Posted",
        "payee": "Party",
        "reference": "Voucher",
        "in": "Received",
        "out": "Paid",
    }
    assert first.table.missing == ("id", "order")  # 05/10 may be May or October
    assert first.comparison.differences == ()
    with pytest.raises(BadInput, match=r"book.csv, line 1, column id: .* which column is id"):
        reimport.apply(*args, None)
    stated = Columns({"id": "Voucher", "reference": ""}, "dmy")
    found = reimport.apply(*args, None, stated=stated)
    assert [(x.change, x.row.amount, x.row.date.isoformat()) for x in found.differences if x.row] == [
        (RowChange.NEW, 1050, "2026-10-05"),
        (RowChange.NEW, -400, "2026-10-06"),
    ]
    again = reimport.preview(*args)  # recognised by its heading
    assert {x.change for x in again.comparison.differences} == {RowChange.SAME}


def test_a_chart_of_accounts_adds_what_is_new_and_names_what_says_otherwise(world: World) -> None:
    book = Workbook()
    assert book.active
    for row in (
        ("Number", "Name", "Kind"),
        ("5000", "Costs", "expense"),
        ("5100", "Fuel", "expense"),
        ("3000", "Capital", "equity"),
    ):
        book.active.append(row)
    out = BytesIO()
    book.save(out)
    args = (world.ctx, world.company.id, "chart.xlsx", out.getvalue())
    shown = ledger_import.read_chart(*args)
    assert (shown.new, shown.known, shown.held) == (1, 1, ("3000 is Equity (equity) here",))
    assert "5100" not in {a.number for a, _ in ledger_view.trial_balance(world.ctx, 1, date(2026, 1, 1)).rows}
    assert ledger_import.read_chart(*args, store=True).new == 1
    assert ledger_import.read_chart(*args).known == 2
    bad = b"number,name,kind\n6000,Odd,sideways\n"
    with pytest.raises(BadInput, match=r"chart.csv, line 2, column kind: 'sideways': is none of asset"):
        ledger_import.read_chart(world.ctx, 1, "chart.csv", bad, store=True)


DETAIL = (
    "journal,date,account,debit,credit,memo\nJ1,2026-10-31,5000,70.00,,Accrual\nJ1,2026-10-31,3000,,70.00,Accrual\n"
    "J2,2026-11-01,5900,5.00,,Fee\nJ2,2026-11-01,3000,,5.00,Fee\n"
)


def test_ledger_detail_is_posted_once_and_whole(world: World) -> None:
    args = (world.ctx, world.company.id, "gl.csv")
    before = balances(world)
    assert ledger_import.read_ledger(*args, DETAIL.encode()).new == 2
    assert balances(world) == before
    ledger_import.read_ledger(*args, DETAIL.encode(), store=True)
    assert balances(world) == {**before, "5000": 7000, "5900": 500, "3000": before["3000"] - 7500}
    again = ledger_import.read_ledger(*args, DETAIL.replace("5.00", "6.00").encode(), store=True)
    assert (again.new, again.known, again.held) == (0, 1, ("journal J2 says otherwise here",))


@pytest.mark.parametrize(
    ("old", "new", "what"),
    [
        ("3000,,5.00", "3000,,4.00", r"line 4, column amount: '1.00': journal J2 is out of balance by 1.00"),
        ("J2,2026-11-01,3000", "J2,2026-11-02,3000", r"line 5, column date: .* journal J2 has two dates"),
        ("5900,5.00", "7777,5.00", r"line 4, column account: '7777': is no account of the chart"),
        ("5.00,,Fee", "5.001,,Fee", r"line 4, column debit: '5.001': is no amount in USD"),
        ("2026-11-01,5900", "someday,5900", r"line 4, column date: 'someday': is no date"),
        ("J2,2026-11-01,5900", ",2026-11-01,5900", r"line 4, column journal: .* every line needs the id"),
    ],
)
def test_a_fault_anywhere_stores_nothing_and_says_where(world: World, old: str, new: str, what: str) -> None:
    before = balances(world)
    with pytest.raises(BadInput, match=what):
        ledger_import.read_ledger(world.ctx, 1, "gl.csv", DETAIL.replace(old, new, 1).encode(), store=True)
    assert balances(world) == before


def test_locked_days_take_no_imported_journal(world: World) -> None:
    set_lock_date(world.ctx, 1, date(2026, 10, 31))
    with pytest.raises(Refused, match="locked to Oct 31"):
        ledger_import.read_ledger(world.ctx, 1, "gl.csv", DETAIL.encode(), store=True)


def test_a_journal_that_was_exported_is_recognised_when_it_comes_back(world: World) -> None:
    world.entry(-7000, "2026-10-12")
    exporting.export(world.ctx, 1, date(2026, 10, 1), date(2026, 10, 31))
    before = balances(world)
    back = b"journal,date,account,amount,memo\nX9,2026-10-12,1010,-70.00,Costs\nX9,2026-10-12,5000,70.00,Costs\n"
    first = ledger_import.read_ledger(world.ctx, 1, "gl.csv", back, store=True)
    assert (first.new, first.returned, balances(world)) == (0, 1, before)
    again = ledger_import.read_ledger(world.ctx, 1, "gl.csv", back, store=True)
    assert (again.new, again.known, again.returned, balances(world)) == (0, 1, 0, before)
