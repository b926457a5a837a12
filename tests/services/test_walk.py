"""A random walk through the use cases on two accounts: books, ledger, decisions and seals agree after every step."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date
from pathlib import Path

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from netnaught.services import (
    bank_book,
    deciding,
    entries,
    entry_state,
    journals,
    ledger_view,
    recording,
    reversing,
    sealing,
    steps,
    verifying,
)
from netnaught.services.coding import PartGiven
from netnaught.services.entries import EntryValues
from netnaught.services.errors import ServiceError
from netnaught.services.journals import JournalPart
from netnaught.services.recording import Recording
from netnaught.services.reversing import Replacement
from netnaught.store import bank_accounts, ledger, reconciliations
from netnaught.store.bank_accounts import BankAccount
from tests.services.test_incoming import second_account
from tests.world import World, found_world

TABLES = ("book_entry", "journal_entry", "journal_line", "decision", "resolution", "clearing", "reconciliation", "seal")


@dataclass(frozen=True, slots=True)
class Pick:
    """What chance gives one step: which account, line, entry and amount."""

    account: int
    line: int
    entry: int
    amount: int


picks = st.builds(
    Pick, st.integers(0, 1), st.integers(0, 9), st.integers(0, 9), st.sampled_from([-900, -150, 150, 400])
)


@dataclass(slots=True)
class Walk:
    """October sealed on both accounts with a transfer between them, November open with lines on both."""

    world: World
    savings: BankAccount

    def desk(self, pick: Pick) -> tuple[World, int]:
        """An account at work and its open reconciliation."""
        account = (self.world.account, self.savings)[pick.account]
        found = reconciliations.reconciliations(self.world.db, self.world.company.id, account.id)
        return replace(self.world, account=account), next(r.id for r in found if not r.sealed)

    def line(self, pick: Pick) -> int:
        world, at = self.desk(pick)
        lines = world.view(at).bench.lines
        return lines[pick.line % len(lines)].id

    def entry(self, pick: Pick) -> int:
        """Any entry of the account, sealed ones too."""
        world, _ = self.desk(pick)
        rows = bank_book.read_book(world.ctx, world.company.id, world.account.id)
        return rows[pick.entry % len(rows)].stored.id

    def other(self, pick: Pick) -> int:
        """An account to post against: a cost, a charge, or the other bank account."""
        mine = (self.savings, self.world.account)[pick.account].gl_account_id
        return (self.world.gl["5000"], mine, self.world.gl["5900"])[pick.line % 3]


def build(folder: Path) -> Walk:
    world = found_world(folder)
    company = world.company.id
    savings = bank_accounts.bank_account(world.db, company, second_account(world, "9920"))
    assert savings
    there = replace(world, account=savings)
    moved = EntryValues(date(2026, 10, 5), -150, "T7", "Savings", "Put by", savings.gl_account_id)
    bank_book.add_entry(world.ctx, company, world.account.id, moved)
    world.entry(-400, "2026-10-09", "101")
    world.entry(-900, "2026-10-28", "102")  # listed as outstanding
    for mine, lines in (
        (world, [world.line(-150, "2026-10-07", "T7"), world.line(-400, "2026-10-10", "101")]),
        (there, [world.line(150, "2026-10-08", "T7")]),
    ):
        at = mine.read(*lines)
        deciding.apply_passes(world.ctx, company, at, frozenset())
        sealing.seal(world.ctx, company, at)
    world.entry(-900, "2026-11-03", "103")
    world.entry(400, "2026-11-04")
    world.read(*(world.line(n, "2026-11-12") for n in (-900, -150, 400, -150)), opening=99_450, first="2026-11-01")
    there.serial = world.serial
    there.read(*(there.line(n, "2026-11-12") for n in (150, 400)), opening=100_150, first="2026-11-01")
    return Walk(world, savings)


# What a person may do ------------------------------------------------------------------------------


def add(walk: Walk, pick: Pick) -> None:
    world, _ = walk.desk(pick)
    values = EntryValues(date(2026, 11, 1 + pick.line), pick.amount, "", "P", "m", walk.other(pick))
    bank_book.add_entry(world.ctx, world.company.id, world.account.id, values)


def split(walk: Walk, pick: Pick) -> None:
    world, _ = walk.desk(pick)
    values = EntryValues(date(2026, 11, 9), pick.amount, "", "P", "m", None)
    parts = (PartGiven(walk.other(pick), share=3_000), PartGiven(world.gl["5000"]))
    bank_book.add_entry(world.ctx, world.company.id, world.account.id, values, parts)


def edit(walk: Walk, pick: Pick) -> None:
    world, _ = walk.desk(pick)
    stored = entry_state.require(world.ctx, world.company, walk.entry(pick))
    values = entries.values_of(world.ctx, stored, world.company.id).with_amount(pick.amount)
    values = replace(values, other_account_id=walk.other(pick), postings=()) if pick.line % 2 else values
    bank_book.edit_entry(world.ctx, world.company.id, world.account.id, stored.id, values, stored.revision)


def redate(walk: Walk, pick: Pick) -> None:
    world, _ = walk.desk(pick)
    stored = entry_state.require(world.ctx, world.company, walk.entry(pick))
    values = replace(entries.values_of(world.ctx, stored, world.company.id), date=date(2026, 10 + pick.line % 3, 15))
    bank_book.edit_entry(world.ctx, world.company.id, world.account.id, stored.id, values, stored.revision)


def remove(walk: Walk, pick: Pick) -> None:
    world, _ = walk.desk(pick)
    bank_book.remove_entry(world.ctx, world.company.id, world.account.id, walk.entry(pick))


def move(walk: Walk, pick: Pick) -> None:
    world, _ = walk.desk(pick)
    target = (walk.savings, walk.world.account)[pick.account]
    bank_book.move_entry(world.ctx, world.company.id, world.account.id, walk.entry(pick), target.id)


def record(walk: Walk, pick: Pick) -> None:
    world, at = walk.desk(pick)
    how = Recording((PartGiven(walk.other(pick)),), "P", "m")
    recording.record_lines(world.ctx, world.company.id, at, [walk.line(pick)], how)


def match(walk: Walk, pick: Pick) -> None:
    world, at = walk.desk(pick)
    work = world.view(at).bench.work
    equal = [(int(x.id), int(e.id)) for x in work.lines for e in work.entries if x.amount == e.amount]
    if equal:
        line, entry = equal[pick.entry % len(equal)]
        deciding.match(world.ctx, world.company.id, at, [line], [entry])


def wash(walk: Walk, pick: Pick) -> None:
    world, at = walk.desk(pick)
    open_ones = world.view(at).bench.work.entries
    pairs = [(int(a.id), int(b.id)) for a in open_ones for b in open_ones if a.amount == -b.amount and a.amount > 0]
    if pairs:
        deciding.match(world.ctx, world.company.id, at, [], pairs[pick.entry % len(pairs)])


def passes(walk: Walk, pick: Pick) -> None:
    world, at = walk.desk(pick)
    deciding.apply_passes(world.ctx, world.company.id, at, frozenset())


def bank_error(walk: Walk, pick: Pick) -> None:
    world, at = walk.desk(pick)
    deciding.bank_error(world.ctx, world.company.id, at, walk.line(pick), "")


def unmatch(walk: Walk, pick: Pick) -> None:
    world, at = walk.desk(pick)
    made = world.view(at).bench.decisions
    if made:
        deciding.withdraw(world.ctx, world.company.id, at, [made[pick.entry % len(made)].id])


def correct(walk: Walk, pick: Pick) -> None:
    world, at = walk.desk(pick)
    recording.correct_to_line(world.ctx, world.company.id, at, walk.line(pick), walk.entry(pick))


def adjust(walk: Walk, pick: Pick) -> None:
    world, at = walk.desk(pick)
    other = walk.other(replace(pick, line=0))
    args = (world.ctx, world.company.id, at, (walk.line(pick),), (walk.entry(pick),))
    recording.post_adjustment(*args, other_account_id=other, payee="P", memo="m")


def reverse(walk: Walk, pick: Pick) -> None:
    world, at = walk.desk(pick)
    day = date(2026, 11, 20)
    instead = Replacement(day, "900") if pick.line % 2 else None
    against = world.gl["3000"] if pick.line % 3 == 0 else None
    args = (world.ctx, world.company.id, at, walk.entry(pick), day, "stale")
    reversing.reverse(*args, None if against else instead, against)


def general(walk: Walk, pick: Pick) -> None:
    world, _ = walk.desk(pick)
    parts = [JournalPart(walk.other(pick), pick.amount), JournalPart(world.gl["3000"], -pick.amount)]
    journals.add_journal(world.ctx, world.company.id, date(2026, 11, 9), "general", parts)


def reallocate(walk: Walk, pick: Pick) -> None:
    world, _ = walk.desk(pick)
    rows = world.db.execute("SELECT id FROM journal_line ORDER BY id").fetchall()
    ledger_view.reallocate(world.ctx, world.company.id, rows[pick.entry % len(rows)][0], walk.other(pick))


def undo(walk: Walk, pick: Pick) -> None:
    world, at = walk.desk(pick)
    steps.undo(world.ctx, world.company.id, at)


def undo_and_redo(walk: Walk, pick: Pick) -> None:
    world, at = walk.desk(pick)
    steps.undo(world.ctx, world.company.id, at)
    check(walk)
    steps.redo(world.ctx, world.company.id, at)


ACTS: list[Callable[[Walk, Pick], None]] = [
    *(add, split, edit, redate, remove, move, record, match, wash, passes, bank_error, unmatch, correct, adjust),
    *(reverse, general, reallocate, undo, undo_and_redo),
]


# What must hold ------------------------------------------------------------------------------------


def everything(world: World) -> list[list[tuple[object, ...]]]:
    return [[tuple(row) for row in world.db.execute(f"SELECT * FROM {table}").fetchall()] for table in TABLES]


def check(walk: Walk) -> None:
    world, company = walk.world, walk.world.company.id
    assert verifying.verify(world.db).findings == ()
    assert ledger_view.trial_balance(world.ctx, company, date(2027, 1, 1)).total == 0
    for number, account in enumerate((world.account, walk.savings)):
        mine, at = walk.desk(Pick(number, 0, 0, 0))
        bench = mine.view(at).bench
        assert bench.standing.book_balance == bench.book_footing.end
        assert bench.book_footing.off == 0
        assert bench.standing.books_gap == 0
        rows = bank_book.read_book(world.ctx, company, account.id)
        booked = sum(row.stored.entry.amount for row in rows)
        # The savings account's start was never posted; all that came since was, on both sides.
        posted = ledger.gl_balance(world.db, company, account.gl_account_id, date(2027, 12, 31))
        assert posted - booked == (100_000, 0)[number]


@settings(max_examples=25, suppress_health_check=[HealthCheck.too_slow])
@given(st.lists(st.tuples(st.sampled_from(ACTS), picks), min_size=1, max_size=12))
def test_books_ledger_decisions_and_seals_agree_whatever_is_done(todo: list[tuple[Callable[..., None], Pick]]) -> None:
    with tempfile.TemporaryDirectory() as folder:
        walk = build(Path(folder))
        check(walk)
        for act, pick in todo:
            before = everything(walk.world)
            try:
                act(walk, pick)
            except ServiceError:
                unchanged = everything(walk.world) == before
                assert unchanged or act is undo_and_redo, f"{act.__name__} was refused and changed something"
            check(walk)
        walk.world.db.close()
