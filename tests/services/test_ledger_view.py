"""The general ledger: always in balance, suspense reallocated without touching the bank, locked books stay."""

from __future__ import annotations

import tempfile
from datetime import date
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from netnaught.services import bank_book, deciding, ledger_view, recording, setup
from netnaught.services.access import Role
from netnaught.services.errors import BadInput, Forbidden, NotFound, Refused, ServiceError
from tests.world import World, found_world

END = date(2026, 12, 31)


def balances(world: World) -> dict[str, int]:
    found = ledger_view.trial_balance(world.ctx, world.company.id, END)
    assert found.total == 0
    return {account.number: balance for account, balance in found.rows}


def test_what_waits_in_suspense_is_reallocated_and_the_cleared_bank_side_stands(world: World) -> None:
    args = (world.ctx, world.company.id)
    at = world.read(world.line(-700, text="UNKNOWN"))
    recording.record_line(
        *args, at, world.line_ids(at)["F1"], other_account_id=world.gl["5900"], payee="?", memo="to be reallocated"
    )
    before = world.view(at).bench.standing
    (posting,) = ledger_view.postings(*args, world.gl["5900"], END)
    assert (posting.amount, posting.party) == (700, "?")
    ledger_view.reallocate(*args, int(posting.id), world.gl["5000"])
    assert (balances(world)["5900"], balances(world)["5000"]) == (0, 700)
    assert world.view(at).bench.standing == before
    (bank,) = [p for p in ledger_view.postings(*args, world.gl["1010"], END) if p.amount == -700]
    for line, target, error, reason in (
        (int(bank.id), world.gl["5000"], Refused, "bank's side of the entry"),
        (int(posting.id), world.gl["1010"], Refused, "control account of a bank book"),
        (int(posting.id), world.gl["5000"], BadInput, "on this account already"),
        (int(posting.id), 999, BadInput, "no such ledger account"),
        (999, world.gl["5000"], NotFound, "no such posting"),
    ):
        with pytest.raises(error, match=reason):
            ledger_view.reallocate(*args, line, target)


def test_locked_books_refuse_every_change_on_or_before_the_day_with_the_way_out(world: World) -> None:
    args = (world.ctx, world.company.id)
    old = world.entry(-500, "2026-10-05")
    at = world.read(world.line(-900, "2026-10-20"), world.line(-30, "2026-11-02"))
    setup.set_lock_date(*args, date(2026, 10, 31))
    lines = world.line_ids(at)
    for change in (
        lambda: world.entry(-1, "2026-10-31"),
        lambda: bank_book.remove_entry(*args, world.account.id, old),
        lambda: recording.record_line(*args, at, lines["F1"], other_account_id=world.gl["5000"], payee="", memo=""),
        lambda: recording.correct_date(*args, at, old, date(2026, 11, 3)),
    ):
        with pytest.raises(Refused, match=r"locked to Oct 31, 2026; .* date it later, or have an owner move the lock"):
            change()
    recording.record_line(*args, at, lines["F2"], other_account_id=world.gl["5000"], payee="", memo="")
    deciding.match(*args, at, [lines["F1"]], [world.entry(-900, "2026-11-01")])  # matching changes no entry
    with pytest.raises(Forbidden):
        setup.set_lock_date(world.as_user("tam", Role.PREPARER), world.company.id, None)
    setup.set_lock_date(*args, None)
    world.entry(-1, "2026-10-31")


@settings(max_examples=12)
@given(st.lists(st.tuples(st.sampled_from(["record", "add", "remove", "move"]), st.integers(0, 4)), max_size=8))
def test_the_trial_balance_is_zero_after_any_sequence(acts: list[tuple[str, int]]) -> None:
    with tempfile.TemporaryDirectory() as folder:
        world = found_world(Path(folder))
        at = world.read(*(world.line(-100 * n) for n in range(1, 6)))
        args = (world.ctx, world.company.id)
        accounts = list(world.gl.values())
        for act, pick in acts:
            lines = sorted(world.line_ids(at).values())
            made = [int(e.id) for e in world.view(at).bench.work.entries]
            try:
                if act == "record":
                    recording.record_line(
                        *args, at, lines[pick], other_account_id=accounts[pick % 4], payee="", memo=""
                    )
                elif act == "add":
                    world.entry(-10 * (pick + 1))
                elif act == "remove" and made:
                    bank_book.remove_entry(*args, world.account.id, made[pick % len(made)])
                elif act == "move":
                    some = ledger_view.postings(*args, accounts[pick % 4], END)
                    if some:
                        ledger_view.reallocate(*args, int(some[-1].id), accounts[(pick + 1) % 4])
            except ServiceError:
                pass
            balances(world)
        world.db.close()
