"""A bank book read in again: what each difference does to open, matched and sealed entries, and what is asked first."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

import pytest

from netnaught.core.reimport import Comparison, RowChange
from netnaught.services import bank_book, deciding, reimport, sealing, tracing
from netnaught.services.access import Context, Role
from netnaught.services.errors import BadInput, ConfirmationNeeded, Forbidden, Refused
from netnaught.services.reimport import Absent, Answers
from netnaught.store import bank_accounts
from tests.services.test_incoming import second_account
from tests.world import World

HEAD = "id,date,reference,payee,memo,amount"
OCTOBER = "A1,2026-10-05,101,Marram,,-5.00"
LISTED = "A2,2026-10-28,102,Teal,,-3.00"
NOVEMBER = "A3,2026-11-05,103,Brill,,-7.00"
OPEN = "A4,2026-11-20,104,Knot,,-9.00"

Read = Callable[..., Comparison]


def book(*rows: str) -> bytes:
    return "\n".join([HEAD, *rows]).encode()


@pytest.fixture
def read(world: World) -> Read:
    """October sealed with one entry cleared and one listed, one of November matched, one open; then: read a file."""

    def apply(
        *rows: str, ctx: Context | None = None, gone: Absent | None = None, outside: Absent | None = None
    ) -> Comparison:
        args = (ctx or world.ctx, world.company.id, world.account.id, "book.csv", book(*rows))
        return reimport.apply(*args, world.gl["5000"], Answers(gone, outside))

    apply(OCTOBER, LISTED, NOVEMBER, OPEN)
    at = world.read(world.line(-500, "2026-10-06", "101"))
    deciding.apply_passes(world.ctx, world.company.id, at, frozenset())
    sealing.seal(world.ctx, world.company.id, at)
    november = world.read(world.line(-700, "2026-11-06", "103"), opening=99_500, first="2026-11-01")
    deciding.apply_passes(world.ctx, world.company.id, november, frozenset())
    return apply


def amounts(world: World) -> dict[str, int]:
    rows = bank_book.read_book(world.ctx, world.company.id, world.account.id)
    return {row.stored.entry.reference: row.stored.entry.amount for row in rows if row.stored.external_id}


def disturbed(world: World) -> list[tuple[str, int]]:
    return [(f.kind.value, f.net) for f in tracing.trace(world.ctx, world.company.id, world.account.id).stairs.open]


def test_a_preparer_may_keep_what_a_file_lacks_of_a_sealed_period_and_not_remove_it(world: World, read: Read) -> None:
    preparer = world.as_user("Paul", Role.PREPARER)
    rows = ("A0,2026-10-01,100,First,,-1.00", LISTED, NOVEMBER, OPEN)
    with pytest.raises(ConfirmationNeeded) as asked:
        read(*rows, ctx=preparer)
    assert asked.value.notices == (("gone", "1 entry known here is no longer in the file."),)
    with pytest.raises(Forbidden, match="1 difference changes sealed entries"):
        read(*rows, ctx=preparer, gone=Absent.REMOVE)
    assert "100" not in amounts(world)
    read(*rows, ctx=preparer, gone=Absent.KEEP)
    assert (amounts(world)["101"], amounts(world)["100"], disturbed(world)) == (-500, -100, [])


def test_an_owner_removes_it_and_it_comes_back_with_its_identity_by_the_next_file(world: World, read: Read) -> None:
    read(LISTED, NOVEMBER, OPEN, gone=Absent.REMOVE, outside=Absent.REMOVE)
    assert disturbed(world) == [("removed", 500)]
    (back,) = read(OCTOBER, LISTED, NOVEMBER, OPEN).of(RowChange.BACK)
    assert back.known is not None
    assert disturbed(world) == []
    found = tracing.trace(world.ctx, world.company.id, world.account.id).mended
    assert [(m.kind.value, m.how) for m in found] == [("removed", "entry brought back")]


def test_what_a_person_deleted_no_file_brings_back(world: World, read: Read) -> None:
    entry = next(
        row.stored.id
        for row in bank_book.read_book(world.ctx, world.company.id, world.account.id)
        if row.stored.entry.reference == "104"
    )
    bank_book.remove_entry(world.ctx, world.company.id, world.account.id, entry)
    (held,) = read(OCTOBER, LISTED, NOVEMBER, OPEN).of(RowChange.HELD)
    assert held.how == "same id, deleted here"
    assert "104" not in amounts(world)


def test_another_amount_undoes_a_match_of_the_open_period_and_moves_the_sealed_list(world: World, read: Read) -> None:
    november = bank_book.read_book(world.ctx, world.company.id, world.account.id)
    assert [row.clearing is not None for row in november if row.stored.entry.reference == "103"] == [True]
    read(OCTOBER, LISTED.replace("-3.00", "-3.30"), NOVEMBER.replace("-7.00", "-7.70"), OPEN)
    after = bank_book.read_book(world.ctx, world.company.id, world.account.id)
    assert [row.clearing for row in after if row.stored.entry.reference == "103"] == [None]
    (finding,) = tracing.trace(world.ctx, world.company.id, world.account.id).stairs.open
    assert (finding.kind.value, finding.net, finding.list_shift) == ("amended", 0, -30)


def test_a_text_of_a_matched_entry_changes_without_undoing_the_match(world: World, read: Read) -> None:
    read(OCTOBER, LISTED, NOVEMBER.replace("Brill", "Brill & Sons"), OPEN)
    rows = bank_book.read_book(world.ctx, world.company.id, world.account.id)
    assert [
        (row.stored.entry.payee, row.clearing is not None) for row in rows if row.stored.entry.reference == "103"
    ] == [("Brill & Sons", True)]


def test_fewer_months_are_asked_about_and_kept_where_so_said(world: World, read: Read) -> None:
    with pytest.raises(ConfirmationNeeded) as asked:
        read(NOVEMBER, OPEN)
    ((kind, sentence),) = asked.value.notices
    assert kind == "outside"
    assert sentence.startswith("The file covers fewer days than are known here: 2 entries outside them.")
    before = amounts(world)
    read(NOVEMBER, OPEN, outside=Absent.KEEP)
    assert (amounts(world), disturbed(world)) == (before, [])
    with pytest.raises(Forbidden, match="2 differences change sealed entries"):
        read(NOVEMBER, OPEN, ctx=world.as_user("Paul", Role.PREPARER), outside=Absent.REMOVE)


def test_doubled_ids_turned_signs_and_another_account_s_file_change_nothing(world: World, read: Read) -> None:
    before = amounts(world)
    with pytest.raises(BadInput, match=r"book.csv, line 3, column id: 'A1'"):
        read(OCTOBER, OCTOBER)
    turned = [
        row.replace("-", "+", 3).replace("+", "-", 2).replace("+", "") for row in (OCTOBER, LISTED, NOVEMBER, OPEN)
    ]
    with pytest.raises(Refused, match="opposite sign: positive must be money in"):
        read(*turned)
    other = bank_accounts.bank_account(world.db, world.company.id, second_account(world, "9920"))
    assert other
    with pytest.raises(Refused, match="entries of another bank account of Kelp & Co, none of Savings"):
        reimport.apply(world.ctx, world.company.id, other.id, "book.csv", book(OCTOBER, LISTED), None, Answers())
    assert amounts(world) == before
    assert date(2026, 10, 5) in {
        row.stored.entry.date for row in bank_book.read_book(world.ctx, world.company.id, world.account.id)
    }
