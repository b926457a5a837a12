"""The ledger at a sealed date: every cent that it moved since is told by what it is made of."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

from hypothesis import given, settings
from hypothesis import strategies as st

from netnaught.core.seal import ledger_shift
from netnaught.services import bank_book, board, entries, ledger_import, ledger_view, sealing, tracing
from netnaught.services.board import TodoKind
from netnaught.services.entries import EntryValues
from netnaught.services.reimport import Absent, Answers
from tests.world import World

amounts = st.integers(-(10**12), 10**12)
STRAIGHT = "journal,date,account,debit,credit,memo\nS1,{day},1010,12.50,,Straight\nS1,{day},5000,,12.50,Straight\n"


@given(amounts, amounts, amounts, amounts, amounts)
@settings(max_examples=30)
def test_the_parts_are_the_whole(sealed: int, books: int, now: int, books_now: int, added: int) -> None:
    shift = ledger_shift(sealed, books, now, books_now, added)
    assert shift.now == now
    assert shift.changed + shift.added == books_now - books
    assert (sealed - books) + shift.straight == now - books_now


def told(world: World) -> list[str]:
    return [todo.text for todo in board.board(world.ctx).todo if todo.kind is TodoKind.LEDGER_MOVED]


def test_a_ledger_that_moved_is_told_apart_by_what_moved_it(world: World) -> None:
    company, account = world.company.id, world.account.id
    ledger_import.apply(world.ctx, company, "gl.csv", STRAIGHT.format(day="2026-10-02").encode())  # sealed as it is
    listed = world.entry(-4200, "2026-10-03", "77")
    late = world.entry(-900, "2026-10-30", "78")
    sealing.seal(world.ctx, company, world.read())
    world.read(first="2026-11-01")
    assert tracing.trace(world.ctx, company, account).ledger == ()
    altering = replace(world.ctx, reason="typed wrong")
    stored = entries.require_entry(world.ctx, world.company, world.account, listed)
    before = entries.values_of(world.ctx, stored, company)
    bank_book.edit_entry(altering, company, account, listed, replace(before, amount=-4300), stored.revision)
    stored = entries.require_entry(world.ctx, world.company, world.account, late)
    before = entries.values_of(world.ctx, stored, company)
    bank_book.edit_entry(altering, company, account, late, replace(before, date=date(2026, 11, 1)), stored.revision)
    assert told(world) == []  # each of these has its finding
    came = bank_book.add_entry(
        world.ctx, company, account, EntryValues(date(2026, 10, 9), 333, "", "Teal", "", world.gl["5000"])
    )
    more = STRAIGHT.format(day="2026-10-02") + "S2,2026-10-31,1010,,7.00,Again\nS2,2026-10-31,5000,7.00,,Again\n"
    ledger_import.apply(world.ctx, company, "gl.csv", more.encode())
    (line,) = world.db.execute(
        "SELECT min(id) FROM journal_line WHERE gl_account_id = ?", (world.gl["5000"],)
    ).fetchone()
    ledger_view.reallocate(world.ctx, company, line, world.gl["5900"])  # beside the control account: no matter
    (moved,) = tracing.trace(world.ctx, company, account).ledger
    shift = moved.shift
    assert (shift.changed, shift.added, shift.straight) == (-100 + 900, 333, -700)
    assert [int(entry.id) for entry in moved.came] == [came]
    assert [(p.date.isoformat(), p.was, p.now) for p in moved.postings] == [("2026-10-31", 0, -700)]
    assert told(world) == [
        "The ledger at Oct 31, 2026 is no longer as sealed: 3.33 of entries that came since and "
        "−7.00 of postings straight to it"
    ]
    # Changed, dated out of the period, taken off the account, deleted: whatever becomes of the sealed one.
    for old, new, was, now in (("12.50", "13.50", 1250, 1350), ("2026-10-02", "2026-11-02", 1250, 0)):
        ledger_import.apply(
            world.ctx, company, "gl.csv", more.replace(old, new).encode(), Answers(Absent.KEEP, Absent.KEEP)
        )
        (moved,) = tracing.trace(world.ctx, company, account).ledger
        assert [(p.was, p.now) for p in moved.postings if p.was] == [(was, now)]
        assert sum(p.now - p.was for p in moved.postings) == moved.shift.straight
    gone = "".join(row + "\n" for row in more.splitlines() if not row.startswith("S1"))
    ledger_import.apply(world.ctx, company, "gl.csv", gone.encode(), Answers(Absent.REMOVE, Absent.REMOVE))
    (moved,) = tracing.trace(world.ctx, company, account).ledger
    assert [(p.was, p.now, p.deleted) for p in moved.postings if p.was] == [(1250, 0, True)]
    assert sum(p.now - p.was for p in moved.postings) == moved.shift.straight
