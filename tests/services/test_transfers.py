"""Transfers between two own accounts: recorded on one, waiting on the other, one journal behind both."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest

from netnaught.core.seal import Item, Repair
from netnaught.services import (
    bank_book,
    deciding,
    entries,
    recording,
    repairing,
    sealing,
    spine,
    steps,
    tracing,
    verifying,
)
from netnaught.services.entries import EntryValues
from netnaught.services.errors import BadInput, Conflict, Refused
from netnaught.services.repairing import Wanted
from netnaught.store import bank_accounts
from netnaught.store.bank_accounts import BankAccount
from tests.services.test_incoming import second_account
from tests.world import World


@pytest.fixture
def savings(world: World) -> BankAccount:
    found = bank_accounts.bank_account(world.db, world.company.id, second_account(world, "9920"))
    assert found
    return found


def book(world: World, account: int) -> list[tuple[int, str, str]]:
    rows = bank_book.read_book(world.ctx, world.company.id, account)
    return [(r.stored.entry.amount, r.stored.entry.date.isoformat(), r.stored.entry.payee) for r in rows]


def record(world: World, savings: BankAccount, amount: int = -500) -> tuple[int, int]:
    at = world.read(world.line(amount))
    line = world.line_ids(at)["F1"]
    made = recording.record_line(
        world.ctx, world.company.id, at, line, other_account_id=savings.gl_account_id, payee="Savings", memo="Put by"
    )
    return at, made


def side_of(world: World, savings: BankAccount) -> int:
    return bank_book.read_book(world.ctx, world.company.id, savings.id)[0].stored.id


def test_a_transfer_waits_on_the_other_account_and_is_undone_on_both(world: World, savings: BankAccount) -> None:
    at, made = record(world, savings)
    assert book(world, savings.id) == [(500, "2026-10-06", "Transfer from Main account")]
    journal = spine.entry_detail(world.ctx, world.company.id, side_of(world, savings)).journal
    assert [(part.account.number, part.amount) for part in journal] == [("1010", -500), ("1020", 500)]
    steps.undo(world.ctx, world.company.id, at)
    assert book(world, savings.id) == []
    steps.redo(world.ctx, world.company.id, at)
    assert [amount for amount, *_ in book(world, savings.id)] == [500]
    assert bank_book.read_book(world.ctx, world.company.id, world.account.id)[-1].stored.id == made


def test_the_side_that_waits_is_matched_there_and_then_holds_the_other(world: World, savings: BankAccount) -> None:
    at, _ = record(world, savings)
    other = replace(world, account=savings)
    there = other.read(other.line(500, "2026-10-08"))
    deciding.apply_passes(world.ctx, world.company.id, there, frozenset())
    assert world.view(there).bench.standing.difference == 0
    with pytest.raises(Conflict, match="cleared in the reconciliation to Oct 31"):
        steps.undo(world.ctx, world.company.id, at)
    assert book(world, savings.id) == [(500, "2026-10-06", "Transfer from Main account")]


def test_the_same_transfer_is_not_recorded_a_second_time_from_the_other_side(
    world: World, savings: BankAccount
) -> None:
    record(world, savings)
    other = replace(world, account=savings)
    there = other.read(other.line(500, "2026-10-08"))
    line = other.line_ids(there)["F2"]
    with pytest.raises(Refused, match=r"Main account has recorded this transfer already: .* match the line with it"):
        recording.record_line(
            world.ctx, world.company.id, there, line, other_account_id=world.account.gl_account_id, payee="", memo=""
        )
    assert len(book(world, savings.id)) == 1


def test_changing_either_side_changes_both(world: World, savings: BankAccount) -> None:
    values = EntryValues(date(2026, 10, 5), -700, "", "Savings", "", savings.gl_account_id)
    made = bank_book.add_entry(world.ctx, world.company.id, world.account.id, values)
    side = side_of(world, savings)
    main = entries.require_entry(world.ctx, world.company, world.account, made)
    entries.rewrite(world.ctx, world.company, world.account, main.id, replace(values, amount=-800))
    assert book(world, savings.id)[0][:2] == (800, "2026-10-05")
    there = entries.values_of(world.ctx, entries.require_entry(world.ctx, world.company, savings, side), 1)
    entries.rewrite(world.ctx, world.company, savings, side, replace(there, amount=900, date=date(2026, 10, 9)))
    assert book(world, world.account.id)[0][:2] == (-900, "2026-10-09")
    with pytest.raises(Refused, match="other side of an entry of Main account"):
        entries.rewrite(world.ctx, world.company, savings, side, replace(there, other_account_id=world.gl["5000"]))
    # Posted elsewhere after all: the other side goes.
    now = replace(values, amount=-900, date=date(2026, 10, 9), other_account_id=world.gl["5000"])
    entries.rewrite(world.ctx, world.company, world.account, main.id, now)
    assert book(world, savings.id) == []


def test_a_transfer_to_itself_or_into_a_sealed_month_is_refused(world: World, savings: BankAccount) -> None:
    values = EntryValues(date(2026, 10, 5), -700, "", "", "", world.account.gl_account_id)
    with pytest.raises(BadInput, match="to itself moves nothing"):
        bank_book.add_entry(world.ctx, world.company.id, world.account.id, values)
    other = replace(world, account=savings)
    sealing.seal(world.ctx, world.company.id, other.read())
    with pytest.raises(Refused, match="Savings is sealed to Oct 31"):
        record(world, savings)
    assert book(world, world.account.id) == []


def test_a_transfer_amended_on_one_side_is_put_back_on_both_though_both_are_sealed(
    world: World, savings: BankAccount
) -> None:
    at, made = record(world, savings)
    sealing.seal(world.ctx, world.company.id, at)
    other = replace(world, account=savings)
    there = other.read(other.line(500, "2026-10-08"))
    deciding.apply_passes(world.ctx, world.company.id, there, frozenset())
    sealing.seal(world.ctx, world.company.id, there)
    side = side_of(world, savings)
    altering = replace(world.ctx, reason="was more")
    stored = entries.require_entry(world.ctx, world.company, world.account, made)
    values = entries.values_of(world.ctx, stored, world.company.id).with_amount(-620)
    bank_book.edit_entry(altering, world.company.id, world.account.id, made, values, stored.revision)

    def disturbed() -> list[tuple[int, int]]:
        return [
            (f.item.id, f.net)
            for account in (world.account.id, savings.id)
            for f in tracing.trace(world.ctx, world.company.id, account).stairs.open
        ]

    assert disturbed() == [(made, -120), (side, 120)]
    wanted = [Wanted(at, Item(False, made), Repair.PUT_BACK)]
    repairing.repair(world.ctx, world.company.id, world.account.id, wanted)
    assert disturbed() == []
    repairing.undo(world.ctx, world.company.id, world.account.id)
    assert disturbed() == [(made, -120), (side, 120)]
    wanted = [Wanted(there, Item(False, side), Repair.PUT_BACK)]  # from the side that waited, as well
    repairing.repair(world.ctx, world.company.id, savings.id, wanted)
    assert disturbed() == []
    assert verifying.verify(world.db).findings == ()
