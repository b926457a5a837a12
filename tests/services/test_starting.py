"""The start of an account: ledger and books agree from the first day, and it can be corrected until sealed."""

from __future__ import annotations

from datetime import date

import pytest

from netnaught.core.ledger import BookEntry
from netnaught.services import deciding, sealing, starting
from netnaught.services.errors import BadInput, Refused
from netnaught.services.starting import Start
from netnaught.store import bank_book, ledger
from tests.world import World

ON = date(2026, 9, 30)


def write(world: World, balance: int, *items: BookEntry, on: date = ON) -> None:
    starting.write_start(world.ctx, world.company.id, world.account.id, Start(on, balance, items, world.gl["3000"]))


def ledger_at_start(world: World) -> int:
    return ledger.gl_balance(world.db, world.company.id, world.gl["1010"], ON)


def item(amount: int, ident: int = 0, payee: str = "Old check") -> BookEntry:
    return BookEntry(ident, date(2026, 8, 2), amount, "99", payee)


def test_starting_items_stand_in_the_books_and_in_the_ledger_s_opening_balance(world: World) -> None:
    write(world, 50_000, item(-700))
    assert ledger_at_start(world) == 49_300
    (stored,) = bank_book.book(world.db, world.company.id, world.account.id)
    write(world, 60_000, item(-900, stored.id), item(300))
    assert ledger_at_start(world) == 59_400
    write(world, 60_000)
    assert ledger_at_start(world) == 60_000
    assert bank_book.book(world.db, world.company.id, world.account.id) == []


def test_the_first_reconciliation_starts_from_it(world: World) -> None:
    write(world, 50_000, item(-700))
    view = world.view(world.read(world.line(-700, reference="99"), opening=50_000))
    assert view.bench.standing.opening == 50_000
    assert deciding.apply_passes(world.ctx, world.company.id, view.bench.desk.reconciliation.id, frozenset()) == 1
    with pytest.raises(Refused, match="the start must lie before it"):
        write(world, 50_000, on=date(2026, 11, 30))


def test_a_sealed_account_keeps_its_start(world: World) -> None:
    at = world.read()
    sealing.seal(world.ctx, world.company.id, at)
    with pytest.raises(Refused, match="its start stands"):
        write(world, 1)


def test_an_item_dated_after_the_start_is_refused(world: World) -> None:
    with pytest.raises(BadInput, match="after Sep 30, 2026"):
        write(world, 1, BookEntry(0, date(2026, 10, 1), -5))
