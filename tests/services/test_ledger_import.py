"""Tables of books kept elsewhere: columns proposed or pointed out, checked, stored whole or not at all."""

from __future__ import annotations

from datetime import date
from io import BytesIO

import pytest
from openpyxl import Workbook

from netnaught.core.reimport import JournalComparison, RowChange, Touches
from netnaught.formats import Columns
from netnaught.services import chart_import, exporting, journals, ledger_import, ledger_view, reimport, sealing, trail
from netnaught.services.access import Role
from netnaught.services.errors import BadInput, ConfirmationNeeded, Forbidden, Refused
from netnaught.services.reimport import Absent, Answers
from netnaught.services.setup import set_account_closed, set_lock_date
from netnaught.store.audit import Wanted
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
    shown = chart_import.read_chart(*args)
    assert (shown.new, shown.known, shown.held) == (1, 1, ("3000 is Equity (equity) here",))
    assert "5100" not in {a.number for a, _ in ledger_view.trial_balance(world.ctx, 1, date(2026, 1, 1)).rows}
    assert chart_import.read_chart(*args, store=True).new == 1
    assert chart_import.read_chart(*args).known == 2
    bad = b"number,name,kind\n6000,Odd,sideways\n"
    with pytest.raises(BadInput, match=r"chart.csv, line 2, column kind: 'sideways': is none of asset"):
        chart_import.read_chart(world.ctx, 1, "chart.csv", bad, store=True)


DETAIL = (
    "journal,date,account,debit,credit,memo\nJ1,2026-10-31,5000,70.00,,Accrual\nJ1,2026-10-31,3000,,70.00,Accrual\n"
    "J2,2026-11-01,5900,5.00,,Fee\nJ2,2026-11-01,3000,,5.00,Fee\n"
)


def changes(found: JournalComparison) -> list[tuple[RowChange, str]]:
    return [(x.change, x.row_id or (x.known.external_id if x.known else "") or "") for x in found.differences]


def test_ledger_detail_is_posted_once_and_read_again_by_difference(world: World) -> None:
    args = (world.ctx, world.company.id, "gl.csv")
    before = balances(world)
    assert changes(ledger_import.preview(*args, DETAIL.encode()).comparison) == [
        (RowChange.NEW, "J1"),
        (RowChange.NEW, "J2"),
    ]
    assert balances(world) == before
    ledger_import.apply(*args, DETAIL.encode())
    posted = {**before, "5000": 7000, "5900": 500, "3000": before["3000"] - 7500}
    assert balances(world) == posted
    changed = DETAIL.replace("5.00", "6.00").encode()
    again = ledger_import.apply(*args, changed).comparison
    assert [(x.change, x.fields) for x in again.differences] == [(RowChange.CHANGED, ("lines",)), (RowChange.SAME, ())]
    assert balances(world) == {**posted, "5900": 600, "3000": posted["3000"] - 100}
    renumbered = changed.replace(b"J2", b"N2")
    assert {x.change for x in ledger_import.apply(*args, renumbered).comparison.differences} == {RowChange.SAME}
    assert changes(ledger_import.preview(*args, renumbered).comparison) == [
        (RowChange.SAME, "J1"),
        (RowChange.SAME, "N2"),
    ]


def test_what_the_ledger_s_detail_lacks_is_asked_about_and_comes_back_where_a_file_removed_it(world: World) -> None:
    args = (world.ctx, world.company.id, "gl.csv")
    ledger_import.apply(*args, DETAIL.encode())
    before = balances(world)
    october = "".join(row + "\n" for row in DETAIL.splitlines() if not row.startswith("J2")).encode()
    with pytest.raises(ConfirmationNeeded) as asked:
        ledger_import.apply(*args, october)
    assert [name for name, _ in asked.value.notices] == ["outside"]
    assert balances(world) == before
    ledger_import.apply(*args, october, Answers(outside=Absent.KEEP))
    assert balances(world) == before
    ledger_import.apply(*args, october, Answers(outside=Absent.REMOVE))
    assert balances(world) == {"1010": before["1010"], "5000": 7000, "3000": before["3000"] + 500}
    assert changes(ledger_import.apply(*args, DETAIL.encode()).comparison)[0] == (RowChange.BACK, "J2")
    assert balances(world) == before
    found = journals.list_journals(world.ctx, 1, date(2026, 11, 1), date(2026, 11, 1))
    journals.remove_journal(world.ctx, 1, found[0].id)  # by hand: no file brings it back
    assert (RowChange.HELD, "J2") in changes(ledger_import.apply(*args, DETAIL.encode()).comparison)
    assert "5900" not in balances(world)


def test_a_journal_in_sealed_days_of_a_bank_account_changes_only_with_the_right_and_a_reason(world: World) -> None:
    detail = DETAIL.replace(",3000,", ",1010,").encode()
    args = (world.company.id, "gl.csv")
    ledger_import.apply(world.ctx, *args, detail)
    sealing.seal(world.ctx, 1, world.read())
    changed = detail.replace(b"70.00", b"71.00").replace(b"5.00", b"6.00")
    found = ledger_import.preview(world.ctx, *args, changed).comparison
    assert [(x.touches, x.alters, x.shifts) for x in found.differences] == [
        (Touches.SEALED, True, ((world.gl["1010"], -100),)),
        (Touches.OPEN, False, ((world.gl["1010"], -100),)),
    ]
    before = balances(world)
    with pytest.raises(Forbidden, match="1 difference changes sealed entries"):
        ledger_import.apply(world.as_user("pia", Role.PREPARER), *args, changed)
    assert balances(world) == before
    ledger_import.apply(world.ctx, *args, changed)
    assert balances(world)["1010"] == before["1010"] - 200
    told = trail.events(world.ctx, 1, Wanted(what="journal entry changed"))
    assert {str((event.after or {})["reason"]) for event in told} == {"read again from gl.csv"}


def test_a_ledger_s_detail_with_turned_signs_or_an_entry_of_a_bank_book_is_not_taken_over(world: World) -> None:
    three = DETAIL + "J3,2026-11-02,5000,1.00,,x\nJ3,2026-11-02,3000,,1.00,x\n"
    args = (world.ctx, 1, "gl.csv")
    ledger_import.apply(*args, three.encode())
    turned = three.replace("debit,credit", "credit,debit").encode()
    stated = Columns({"debit": "debit", "credit": "credit"})
    with pytest.raises(Refused, match="opposite signs"):
        ledger_import.apply(*args, turned, stated=stated)
    world.entry(-7000, "2026-10-12")
    exporting.export(world.ctx, 1, date(2026, 10, 1), date(2026, 10, 31))
    back = b"journal,date,account,amount,memo\nX9,2026-10-12,1010,-70.00,Costs\nX9,2026-10-12,5000,70.00,Costs\n"
    ledger_import.apply(*args, back)
    before = balances(world)
    held = ledger_import.apply(*args, back.replace(b"70.00", b"71.00"), Answers(outside=Absent.KEEP)).comparison
    assert [x.how for x in held.of(RowChange.HELD)] == ["it belongs to an entry of Main account: change it there"]
    assert balances(world) == before


def test_a_closed_account_takes_no_new_posting_of_a_file_and_keeps_what_it_has(world: World) -> None:
    ledger_import.apply(world.ctx, 1, "gl.csv", DETAIL.encode())
    set_account_closed(world.ctx, 1, world.gl["5900"], True)
    more = DETAIL + "J3,2026-11-02,5900,1.00,,Late fee\nJ3,2026-11-02,3000,,1.00,Late fee\n"
    with pytest.raises(Refused, match=r"5900 .* is closed, and “Late fee” of 2026-11-02 posts to it"):
        ledger_import.apply(world.ctx, 1, "gl.csv", more.encode())
    assert {x.change for x in ledger_import.apply(world.ctx, 1, "gl.csv", DETAIL.encode()).comparison.differences} == {
        RowChange.SAME
    }


def test_columns_of_a_ledger_s_detail_are_known_again_by_its_heading(world: World) -> None:
    other = b"Key,On,Code,Sum\nK1,01/02/2026,5000,7.00\nK1,01/02/2026,3000,-7.00\n"
    assert ledger_import.preview(world.ctx, 1, "gl.csv", other).table.missing
    stated = Columns({"journal": "Key", "date": "On", "account": "Code", "amount": "Sum"}, "dmy")
    ledger_import.apply(world.ctx, 1, "gl.csv", other, stated=stated)
    again = ledger_import.preview(world.ctx, 1, "gl.csv", other)
    assert (again.table.missing, changes(again.comparison)) == ((), [(RowChange.SAME, "K1")])


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
        ledger_import.apply(world.ctx, 1, "gl.csv", DETAIL.replace(old, new, 1).encode())
    assert balances(world) == before


def test_a_doubled_id_is_named_and_lines_that_only_stand_apart_are_one_entry(world: World) -> None:
    doubled = DETAIL + "".join(row + "\n" for row in DETAIL.splitlines()[1:3])
    with pytest.raises(BadInput, match=r"line 6, column journal: 'J1': .* lines 2 to 3 already: its id is doubled"):
        ledger_import.apply(world.ctx, 1, "gl.csv", doubled.encode())
    head, *rows = DETAIL.splitlines()
    by_account = "\n".join([head, *sorted(rows, key=lambda row: row.split(",")[2])])
    assert {
        x.change for x in ledger_import.apply(world.ctx, 1, "gl.csv", by_account.encode()).comparison.differences
    } == {RowChange.NEW}


def test_locked_days_take_no_imported_journal(world: World) -> None:
    set_lock_date(world.ctx, 1, date(2026, 10, 31))
    with pytest.raises(Refused, match="locked to Oct 31"):
        ledger_import.apply(world.ctx, 1, "gl.csv", DETAIL.encode())


def test_a_journal_that_was_exported_is_recognised_when_it_comes_back(world: World) -> None:
    world.entry(-7000, "2026-10-12")
    exporting.export(world.ctx, 1, date(2026, 10, 1), date(2026, 10, 31))
    before = balances(world)
    back = b"journal,date,account,amount,memo\nX9,2026-10-12,1010,-70.00,Costs\nX9,2026-10-12,5000,70.00,Costs\n"
    first = ledger_import.apply(world.ctx, 1, "gl.csv", back)
    assert (changes(first.comparison), balances(world)) == ([(RowChange.RETURNED, "X9")], before)
    again = ledger_import.apply(world.ctx, 1, "gl.csv", back)
    assert (changes(again.comparison), balances(world)) == ([(RowChange.SAME, "X9")], before)
