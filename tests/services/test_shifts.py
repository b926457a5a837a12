"""After any sequence of changes the shifts of all findings are the books gap, to the cent, and repairs end at zero."""

from __future__ import annotations

import contextlib
import tempfile
from dataclasses import replace
from datetime import date
from pathlib import Path

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from netnaught.core.money import currency
from netnaught.core.seal import Item, Repair
from netnaught.formats import write_bank_book
from netnaught.services import (
    bank_book,
    board,
    deciding,
    entries,
    entry_state,
    reimport,
    repairing,
    sealing,
    tracing,
    verifying,
    workbench,
)
from netnaught.services.access import Context
from netnaught.services.entries import EntryValues
from netnaught.services.errors import ServiceError
from netnaught.services.reimport import Absent, Answers
from netnaught.services.repairing import Wanted
from netnaught.store import bank_accounts, disturbances, reconciliations
from netnaught.store.bank_book import StoredEntry
from tests.services.test_incoming import second_account
from tests.world import World, found_world

MONTHS = (("2026-10", 100_000), ("2026-11", 99_250), ("2026-12", 98_650))

steps_ = st.lists(
    st.tuples(
        st.sampled_from(
            ["amend", "relabel", "date", "delete", "move", "untick", "tick", "accept", "reimport", "put back"]
        ),
        st.integers(0, 8),
        st.integers(1, 900),
    ),
    min_size=1,
    max_size=7,
)


def build(folder: Path) -> World:
    """Three sealed months of imported entries, and one that each list carries on; January is open.

    October has a transfer too, sealed on both accounts.
    """
    world = found_world(folder)
    savings = bank_accounts.bank_account(world.db, world.company.id, second_account(world, "9920"))
    assert savings
    rows = "id,date,reference,payee,memo,amount\n"
    for month, _ in MONTHS:
        rows += f"{month}A,{month}-05,1{month[-2:]},P,,-4.00\n{month}B,{month}-06,2{month[-2:]},P,,-2.00\n"
    rows += "X,2026-10-09,999,P,,-9.99\n"
    args = (world.ctx, world.company.id, world.account.id)
    reimport.apply(*args, "book.csv", rows.encode(), world.gl["5000"])
    moved = EntryValues(date(2026, 10, 5), -150, "T7", "Savings", "Put by", savings.gl_account_id)
    bank_book.add_entry(*args, moved)
    for month, opening in MONTHS:
        lines = [world.line(-400, f"{month}-07", f"1{month[-2:]}"), world.line(-200, f"{month}-07", f"2{month[-2:]}")]
        if month == "2026-10":
            lines.append(world.line(-150, "2026-10-07", "T7"))
        at = world.read(*lines, opening=opening, first=f"{month}-01")
        deciding.apply_passes(world.ctx, world.company.id, at, frozenset())
        sealing.seal(world.ctx, world.company.id, at)
    world.read(world.line(-1, "2027-01-05"), opening=98_050, first="2027-01-01")
    there = replace(world, account=savings)
    at = there.read(there.line(150, "2026-10-08", "T7"))
    deciding.apply_passes(world.ctx, world.company.id, at, frozenset())
    sealing.seal(world.ctx, world.company.id, at)
    return world


def disturb(world: World, what: str, which: int, amount: int) -> None:
    """One thing somebody with the right might do; most may be refused, and then have changed nothing."""
    ctx: Context = replace(world.ctx, reason="because")
    company, account = world.company.id, world.account.id
    rows = world.db.execute("SELECT id, bank_account_id FROM book_entry ORDER BY id").fetchall()
    entry, home = rows[which % len(rows)]
    sealed = [s.reconciliation_id for s in workbench.chain_of(world.db, world.account).holding]
    stored = entries.values_of(ctx, entries_row(world, entry), company)
    here = bank_accounts.bank_account(world.db, company, home)
    assert here
    if not sealed and what in ("untick", "tick"):
        return
    match what:
        case "amend":
            change = stored.with_amount(-amount)
            bank_book.edit_entry(ctx, company, home, entry, change, entries_row(world, entry).revision)
        case "relabel":
            change = replace(stored, payee=f"P{amount}")
            bank_book.edit_entry(ctx, company, home, entry, change, entries_row(world, entry).revision)
        case "date":
            change = replace(stored, date=date(2026, 9 + amount % 4, 1 + amount % 28))
            bank_book.edit_entry(ctx, company, home, entry, change, entries_row(world, entry).revision)
        case "delete":
            bank_book.remove_entry(ctx, company, home, entry)
        case "move":
            other = next(a.id for a in bank_accounts.bank_accounts(world.db, company) if a.id != home)
            bank_book.move_entry(ctx, company, home, entry, other)
        case "untick":
            made = reconciliations.decisions(world.db, company, sealed[which % len(sealed)])
            if made:
                deciding.withdraw(ctx, company, sealed[which % len(sealed)], [made[amount % len(made)].id])
        case "tick":
            deciding.tick(ctx, company, sealed[amount % len(sealed)], [entry])
        case "reimport":
            reimport_some(world, which, amount)
        case _:
            found = tracing.trace(ctx, company, account).stairs.open
            if found:
                finding = found[which % len(found)]
                repair = Repair.ACCEPT if what == "accept" else finding.repairs[0]
                repairing.repair(
                    ctx,
                    company,
                    account,
                    [Wanted(finding.reconciliation_id, finding.item, repair, world.gl["5000"], "so")],
                )


def entries_row(world: World, entry: int) -> StoredEntry:
    return entry_state.require(world.ctx, world.company, entry)


def reimport_some(world: World, which: int, amount: int) -> None:
    """A fresh export that lacks one row and has another amount in the next."""
    book = [
        r.stored for r in bank_book.read_book(world.ctx, world.company.id, world.account.id) if r.stored.external_id
    ]
    rows = [replace(s.entry, id=s.external_id or "") for s in book]
    if len(rows) > 2:
        rows.pop(which % len(rows))
        place = which % len(rows)
        rows[place] = replace(rows[place], amount=-amount)
    answers = Answers(Absent.REMOVE, Absent.KEEP)
    data = write_bank_book(rows, currency("USD"))
    reimport.apply(world.ctx, world.company.id, world.account.id, "again.csv", data, world.gl["5000"], answers)


def everything(world: World, account_id: int) -> set[Item]:
    """All there is: what is marked as touched must not be all that was looked at."""
    lines = disturbances.all_lines(world.db, world.company.id, account_id)
    entries = world.db.execute("SELECT id FROM book_entry")
    return {Item(False, row[0]) for row in entries} | lines


def check(world: World) -> None:
    """Σ shifts = counted now − sealed, per period and in all; what is marked as touched is all that changed."""
    for account in bank_accounts.bank_accounts(world.db, world.company.id):
        chain = workbench.chain_of(world.db, account)
        trace = tracing.trace(world.ctx, world.company.id, account.id)
        shifts = {period.reconciliation_id: period.shift for period in trace.stairs.periods}
        assert {at: shift for at, shift in chain.shifts().items() if shift} == {a: s for a, s in shifts.items() if s}
        assert trace.stairs.counted_today == trace.counted_today
        for moved in trace.ledger:
            assert sum(p.now - p.was for p in moved.postings) == moved.shift.straight
            assert sum(entry.amount for entry in moved.came) == moved.shift.added
        every = tracing.findings_of(world.db, account, chain, everything(world, account.id))
        assert every == tracing.findings_of(world.db, account, chain)
        total = world.db.execute(
            "SELECT coalesce(sum(l.base_amount), 0) FROM journal_line l JOIN journal_entry j ON j.id = l.journal_entry_id"
            " WHERE j.posted = 1 AND j.deleted_at IS NULL"
        ).fetchone()[0]
        assert total == 0
    assert [f for f in verifying.verify(world.db).findings if f.tampering] == []


def mend_all(world: World) -> None:
    """Repair finding by finding on all accounts: as sealed where that can be, else accepted."""
    accounts = bank_accounts.bank_accounts(world.db, world.company.id)
    for _ in range(40):
        mended = [mend(world, account.id) for account in accounts]
        if not any(mended):
            return


def mend(world: World, account_id: int) -> bool:
    """Whether there was anything to mend."""
    args = (world.ctx, world.company.id, account_id)
    found = tracing.trace(*args).stairs.open
    if found:
        for finding in found:
            for repair in (*finding.repairs, Repair.NOTE):
                wanted = Wanted(finding.reconciliation_id, finding.item, repair, world.gl["5000"], "so it is")
                try:
                    repairing.repair(*args, [wanted])
                    break
                except ServiceError:
                    continue
    return bool(found)


@settings(max_examples=30, suppress_health_check=[HealthCheck.too_slow])
@given(steps_)
def test_the_shifts_are_the_gap_after_anything_and_zero_after_repairs(todo: list[tuple[str, int, int]]) -> None:
    with tempfile.TemporaryDirectory() as folder:
        world = build(Path(folder))
        for what, which, amount in todo:
            with contextlib.suppress(ServiceError):
                disturb(world, what, which, amount)
            check(world)
        mend_all(world)
        check(world)
        for account in bank_accounts.bank_accounts(world.db, world.company.id):
            assert tracing.trace(world.ctx, world.company.id, account.id).stairs.gap == 0
            assert workbench.books_gap_of(workbench.chain_of(world.db, account)) == 0
        world.db.close()


def seals(world: World, what: str, which: int) -> None:
    """Break a seal, or seal the earliest period that is open, on either account."""
    account = bank_accounts.bank_accounts(world.db, world.company.id)[which % 2]
    found = reconciliations.reconciliations(world.db, world.company.id, account.id)
    if what == "break":
        standing = [r.id for r in found if r.sealed]
        if standing:
            sealing.break_seal(world.ctx, world.company.id, standing[which % len(standing)], "to mend it")
    else:
        still = [r.id for r in found if not r.sealed]
        if still:
            deciding.apply_passes(world.ctx, world.company.id, still[0], frozenset())
            sealing.seal(world.ctx, world.company.id, still[0])


broken_and_sealed = st.lists(
    st.tuples(
        st.sampled_from(
            ["amend", "relabel", "delete", "untick", "put back", "accept", "break", "break", "seal", "seal"]
        ),
        st.integers(0, 8),
        st.integers(1, 900),
    ),
    min_size=2,
    max_size=9,
)


@settings(max_examples=20, suppress_health_check=[HealthCheck.too_slow])
@given(broken_and_sealed)
def test_seals_broken_and_made_again_hold_whatever_was_changed_in_between(todo: list[tuple[str, int, int]]) -> None:
    with tempfile.TemporaryDirectory() as folder:
        world = build(Path(folder))
        for what, which, amount in todo:
            before = [seal.sha256 for seal in workbench.chain_of(world.db, world.account).seals]
            with contextlib.suppress(ServiceError):
                if what in ("break", "seal"):
                    seals(world, what, which)
                else:
                    disturb(world, what, which, amount)
            check(world)
            chain = workbench.chain_of(world.db, world.account)
            assert [seal.sha256 for seal in chain.seals][: len(before)] == before  # the chain only grows
            kept = {r.id for r in chain.reconciliations if r.sealed}
            assert {seal.reconciliation_id for seal in chain.holding} == kept
            assert board.board(world.ctx).companies
            for at in chain.reconciliations:
                bench = world.view(at.id).bench
                assert bench.standing.book_balance == bench.book_footing.end
        world.db.close()
