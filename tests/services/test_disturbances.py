"""Each kind of disturbance is found, shifts to the cent, and mended from one place; nothing else is touched."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

import pytest

from netnaught.core.seal import DisturbanceKind, Item, Repair
from netnaught.services import bank_book, deciding, entries, repairing, sealing, tracing, verifying
from netnaught.services.access import Context, Right, Role
from netnaught.services.errors import BadInput, Conflict, Forbidden, Refused
from netnaught.services.repairing import Wanted
from netnaught.store import bank_accounts, companies
from netnaught.store.bank_accounts import BankAccount
from tests.services.test_incoming import second_account
from tests.world import World


@dataclass(slots=True)
class Sealed:
    """October and November sealed, December open; October: a check cleared, one outstanding; November clears that."""

    world: World
    ctx: Context
    check: int
    outstanding: int
    periods: tuple[int, int]
    december: int
    savings: BankAccount

    @property
    def args(self) -> tuple[Context, int, int]:
        return self.ctx, self.world.company.id, self.world.account.id

    @property
    def trace(self) -> tracing.Trace:
        return tracing.trace(*self.args)

    def open_findings(self) -> list[tuple[int, int, str, int]]:
        return [
            (self.periods.index(f.reconciliation_id), f.item.id, f.kind.value, f.net) for f in self.trace.stairs.open
        ]

    def altering(self, reason: str = "invoice was higher") -> tuple[Context, int, int]:
        return replace(self.ctx, reason=reason), self.world.company.id, self.world.account.id

    def amend(self, entry: int, amount: int) -> None:
        ctx, company, account = self.altering()
        stored = entries.require_entry(ctx, self.world.company, self.world.account, entry)
        values = entries.values_of(ctx, stored, company).with_amount(amount)
        bank_book.edit_entry(ctx, company, account, entry, values, stored.revision)

    def mend(self, entry: int, repair: Repair, period: int = 0, reason: str = "") -> None:
        other = self.world.gl["5000"] if repair is Repair.ACCEPT else None
        wanted = Wanted(self.periods[period], Item(False, entry), repair, other, reason)
        repairing.repair(*self.args, [wanted])


@pytest.fixture
def sealed(world: World) -> Sealed:
    savings = bank_accounts.bank_account(world.db, world.company.id, second_account(world, "9920"))
    assert savings
    check, later = world.entry(-500, "2026-10-05", "101"), world.entry(-300, "2026-10-20", "102")
    periods: list[int] = []
    for first, line, opening in (("2026-10", (-500, "101"), 100_000), ("2026-11", (-300, "102"), 99_500)):
        at = world.read(world.line(line[0], f"{first}-06", line[1]), opening=opening, first=f"{first}-01")
        deciding.apply_passes(world.ctx, world.company.id, at, frozenset())
        sealing.seal(world.ctx, world.company.id, at)
        periods.append(at)
    lines = world.line(-7, "2026-12-06"), world.line(-500, "2026-12-20", text="ANOTHER")
    december = world.read(*lines, opening=99_200, first="2026-12-01")
    return Sealed(world, world.ctx, check, later, (periods[0], periods[1]), december, savings)


def test_an_amended_entry_is_put_back_with_its_journal_and_stays_listed_as_mended(sealed: Sealed) -> None:
    sealed.amend(sealed.check, -620)
    assert sealed.open_findings() == [(0, sealed.check, "amended", -120)]
    stairs = sealed.trace.stairs
    assert (stairs.sealed_closing, stairs.gap, stairs.counted_today) == (99_200, -120, sealed.trace.counted_today)
    told = [e for e in tracing.history(*sealed.args, sealed.check, sealed.periods[0]) if e.disturbing]
    assert [(e.what, e.person, e.reason) for e in told] == [
        ("amount was −5.00, now −6.20", "Ona Owner", "invoice was higher")
    ]
    sealed.mend(sealed.check, Repair.PUT_BACK)
    assert sealed.open_findings() == []
    journal = sealed.world.db.execute("SELECT amount FROM journal_line WHERE amount IN (-500, 500, -620)").fetchall()
    assert sorted(row[0] for row in journal) == [-500, 500]
    assert [(m.entry_id, m.kind, m.how) for m in sealed.trace.mended] == [
        (sealed.check, DisturbanceKind.AMENDED, "put back")
    ]
    assert repairing.undo(*sealed.args) == "repair: put back"
    assert sealed.open_findings() == [(0, sealed.check, "amended", -120)]


def test_a_removed_entry_comes_back_with_its_identity_and_clearing(sealed: Sealed) -> None:
    bank_book.remove_entry(*sealed.altering("typed twice"), sealed.check)
    assert sealed.open_findings() == [(0, sealed.check, "removed", 500)]
    sealed.mend(sealed.check, Repair.PUT_BACK)
    assert sealed.open_findings() == []
    row = next(r for r in bank_book.read_book(*sealed.args) if r.stored.id == sealed.check)
    assert row.clearing is not None
    assert row.clearing.reconciliation_id == sealed.periods[0]


def test_a_moved_entry_is_shown_where_it_went_and_moved_back(sealed: Sealed) -> None:
    bank_book.move_entry(*sealed.altering("wrong account"), sealed.check, sealed.savings.id)
    assert sealed.open_findings() == [(0, sealed.check, "moved", 500)]
    (finding,) = sealed.trace.stairs.open
    assert finding.now is not None
    assert finding.now.account_id == sealed.savings.id
    sealed.mend(sealed.check, Repair.PUT_BACK)
    assert sealed.open_findings() == []
    number = sealed.world.db.execute(
        "SELECT g.number FROM book_entry e JOIN journal_line l ON l.id = e.journal_line_id"
        " JOIN gl_account g ON g.id = l.gl_account_id WHERE e.id = ?",
        (sealed.check,),
    ).fetchone()[0]
    assert number == "1010"


def test_what_is_cleared_and_sealed_on_the_other_account_cannot_be_put_back_exactly(sealed: Sealed) -> None:
    bank_book.move_entry(*sealed.altering(), sealed.check, sealed.savings.id)
    there = replace(sealed.world, account=sealed.savings)
    at = there.read(there.line(-500, "2026-10-07", "101"))
    deciding.apply_passes(sealed.ctx, sealed.world.company.id, at, frozenset())
    sealing.seal(sealed.ctx, sealed.world.company.id, at)
    with pytest.raises(Refused, match=r"cleared in the sealed reconciliation of Savings .* Accept it with an entry"):
        sealed.mend(sealed.check, Repair.PUT_BACK)
    sealed.mend(sealed.check, Repair.ACCEPT, reason="it was the other bank's")
    assert sealed.open_findings() == []


def test_an_unticked_entry_is_cleared_again_where_it_was(sealed: Sealed) -> None:
    decision = sealed.world.view(sealed.periods[0]).bench.decisions[0].id
    ctx, company, _ = sealed.altering("not at the bank")
    deciding.withdraw(ctx, company, sealed.periods[0], [decision])
    assert sealed.open_findings() == [(0, sealed.check, "unticked", 500)]
    sealed.mend(sealed.check, Repair.CLEAR_AGAIN)
    assert sealed.open_findings() == []
    assert [m.kind for m in sealed.trace.mended] == [DisturbanceKind.UNTICKED]


def test_an_entry_cleared_into_a_closed_period_later_is_released(sealed: Sealed) -> None:
    late = sealed.world.entry(-85, "2026-12-02")
    ctx, company, _ = sealed.altering("belongs there")
    deciding.tick(ctx, company, sealed.periods[0], [late])
    assert sealed.open_findings() == [(0, late, "slipped in", -85)]
    sealed.mend(late, Repair.RELEASE)
    assert sealed.open_findings() == []
    assert [(m.reconciliation_id, m.kind) for m in sealed.trace.mended] == [
        (sealed.periods[0], DisturbanceKind.SLIPPED_IN)
    ]
    assert {row.entries for row in sealed.world.view(sealed.december).rows if row.entries} == {(late,)}


def test_a_relabelled_entry_moves_no_balance_and_is_put_back_or_noted(sealed: Sealed) -> None:
    ctx, company, account = sealed.altering("payee corrected")
    stored = entries.require_entry(ctx, sealed.world.company, sealed.world.account, sealed.check)
    values = replace(entries.values_of(ctx, stored, company), payee="Another")
    bank_book.edit_entry(ctx, company, account, sealed.check, values, stored.revision)
    assert sealed.open_findings() == [(0, sealed.check, "relabelled", 0)]
    sealed.mend(sealed.check, Repair.NOTE, reason="the name was wrong")
    assert sealed.open_findings() == []
    assert sealed.trace.stairs.periods[0].findings[0].acceptance is not None
    # Changed once more it is a finding again: what was accepted was another state.
    stored = entries.require_entry(ctx, sealed.world.company, sealed.world.account, sealed.check)
    bank_book.edit_entry(ctx, company, account, sealed.check, replace(values, payee="Third"), stored.revision)
    assert [kind for *_, kind, _ in sealed.open_findings()] == ["relabelled"]


def test_accepted_with_an_entry_the_gap_is_zero_and_the_current_difference_untouched(sealed: Sealed) -> None:
    sealed.amend(sealed.check, -620)
    before = sealed.world.view(sealed.december).bench.standing
    sealed.mend(sealed.check, Repair.ACCEPT, reason="invoice was higher")
    assert sealed.open_findings() == []
    after = sealed.world.view(sealed.december).bench
    assert (after.standing.difference, after.standing.books_gap) == (before.difference, 0)
    assert after.standing.book_balance == after.book_footing.end
    (finding,) = sealed.trace.stairs.periods[0].findings
    assert (finding.shift, finding.net, finding.mended) == (-120, 0, True)
    assert repairing.undo(*sealed.args) == "repair: accept with entry"
    assert sealed.open_findings() == [(0, sealed.check, "amended", -120)]


def test_an_item_of_a_sealed_outstanding_list_is_a_finding_of_the_list_and_of_where_it_cleared(sealed: Sealed) -> None:
    sealed.amend(sealed.outstanding, -310)
    found = {f.reconciliation_id: f for f in sealed.trace.stairs.open}
    october, november = (found[at] for at in sealed.periods)
    assert (october.shift, october.list_shift, november.shift) == (0, -10, -10)
    wanted = [Wanted(at, Item(False, sealed.outstanding), Repair.PUT_BACK) for at in sealed.periods]
    shown = repairing.preview(*sealed.args, wanted)
    assert (shown.gap_before, shown.gap_after, len(shown.effects)) == (-10, 0, 1)
    assert len(sealed.trace.stairs.open) == 2
    repairing.repair(*sealed.args, wanted)
    assert sealed.open_findings() == []


def test_clearing_moved_to_the_next_month_shows_in_both_and_not_in_the_opening(sealed: Sealed) -> None:
    decision = sealed.world.view(sealed.periods[0]).bench.decisions[0].id
    ctx, company, _ = sealed.altering("cleared in November")
    deciding.withdraw(ctx, company, sealed.periods[0], [decision])
    deciding.tick(ctx, company, sealed.periods[1], [sealed.check])
    assert sealed.open_findings() == [(0, sealed.check, "unticked", 500), (1, sealed.check, "slipped in", -500)]
    assert sealed.trace.stairs.gap == 0
    with pytest.raises(Refused, match="slipped in: release it there first"):
        sealed.mend(sealed.check, Repair.CLEAR_AGAIN)
    sealed.mend(sealed.check, Repair.RELEASE, period=1)
    sealed.mend(sealed.check, Repair.CLEAR_AGAIN)
    assert sealed.open_findings() == []


def test_what_was_accepted_and_is_put_back_after_all_needs_its_entry_no_more(sealed: Sealed) -> None:
    sealed.amend(sealed.check, -620)
    sealed.mend(sealed.check, Repair.ACCEPT, reason="invoice was higher")
    (finding,) = sealed.trace.stairs.periods[0].findings
    assert finding.acceptance
    by = finding.acceptance.by_entry
    sealed.amend(sealed.check, -640)  # changed again: what was accepted is not what stands
    assert sealed.open_findings() == [(0, sealed.check, "amended", -20)]
    sealed.mend(sealed.check, Repair.PUT_BACK)
    assert sealed.open_findings() == []
    assert sealed.trace.stairs.gap == 0
    assert by not in {row.stored.id for row in bank_book.read_book(*sealed.args)}
    repairing.undo(*sealed.args)
    assert sealed.open_findings() == [(0, sealed.check, "amended", -20)]
    assert by in {row.stored.id for row in bank_book.read_book(*sealed.args)}


def test_a_further_change_of_what_was_accepted_is_accepted_with_another_entry(sealed: Sealed) -> None:
    sealed.amend(sealed.check, -620)
    sealed.mend(sealed.check, Repair.ACCEPT, reason="invoice was higher")
    sealed.amend(sealed.check, -640)
    sealed.mend(sealed.check, Repair.ACCEPT, reason="and freight")
    assert (sealed.open_findings(), sealed.trace.stairs.gap) == ([], 0)
    taken_back = [r.stored.entry.amount for r in bank_book.read_book(*sealed.args) if r.stored.entry.amount > 0]
    assert taken_back == [140]  # one entry for all of it
    repairing.undo(*sealed.args)
    assert sealed.open_findings() == [(0, sealed.check, "amended", -20)]


def test_a_note_on_what_moves_no_balance_stands_until_it_is_changed_again(sealed: Sealed) -> None:
    def rename(payee: str) -> None:
        ctx, company, account = sealed.altering("misspelt")
        stored = entries.require_entry(ctx, sealed.world.company, sealed.world.account, sealed.check)
        values = replace(entries.values_of(ctx, stored, company), payee=payee)
        bank_book.edit_entry(ctx, company, account, sealed.check, values, stored.revision)

    rename("Marram")
    with pytest.raises(BadInput, match="Say why it is accepted"):
        sealed.mend(sealed.check, Repair.NOTE)
    sealed.mend(sealed.check, Repair.NOTE, reason="was misspelt")
    assert sealed.open_findings() == []
    rename("Marram Stationery")
    assert sealed.open_findings() == [(0, sealed.check, "relabelled", 0)]
    sealed.mend(sealed.check, Repair.PUT_BACK)
    assert sealed.open_findings() == []


def test_what_was_matched_in_the_open_period_since_is_let_go_when_it_is_put_back(sealed: Sealed) -> None:
    decision = sealed.world.view(sealed.periods[0]).bench.decisions[0].id
    ctx, company, _ = sealed.altering("belongs into December")
    deciding.withdraw(ctx, company, sealed.periods[0], [decision])
    line = sealed.world.line_ids(sealed.december)["F4"]
    deciding.match(sealed.ctx, company, sealed.december, [line], [sealed.check])
    assert sealed.open_findings() == [(0, sealed.check, "unticked", 500)]
    before = sealed.world.view(sealed.december).bench.standing
    sealed.mend(sealed.check, Repair.CLEAR_AGAIN)
    assert sealed.open_findings() == []
    after = sealed.world.view(sealed.december).bench.standing
    assert after.counted == before.counted + 500
    repairing.undo(*sealed.args)
    assert sealed.open_findings() == [(0, sealed.check, "unticked", 500)]
    assert sealed.world.view(sealed.december).bench.standing.counted == before.counted


def test_a_bank_error_taken_out_of_a_sealed_period_counts_again_after_one_repair(world: World) -> None:
    company, account = world.company.id, world.account.id
    at = world.read(world.line(-900, text="NOT OURS"))
    line = world.line_ids(at)["F1"]
    deciding.bank_error(world.ctx, company, at, line, "the bank's mistake")
    sealing.seal(world.ctx, company, at)
    world.read(opening=99_100, first="2026-11-01")
    decision = world.view(at).bench.decisions[0].id
    deciding.withdraw(replace(world.ctx, reason="ours after all"), company, at, [decision])
    (finding,) = tracing.trace(world.ctx, company, account).stairs.open
    assert (finding.item, finding.kind.value, finding.shift) == (Item(True, line), "unticked", 900)
    again = Wanted(at, Item(True, line), Repair.CLEAR_AGAIN)
    shown = repairing.preview(world.ctx, company, account, [again])
    assert (shown.gap_before, shown.gap_after) == (900, 0)
    repairing.repair(world.ctx, company, account, [again])
    assert tracing.trace(world.ctx, company, account).stairs.open == ()
    with pytest.raises(BadInput, match="Choose what to repair"):
        repairing.repair(world.ctx, company, account, [])


def test_what_does_not_fit_or_lacks_right_or_reason_is_refused(sealed: Sealed) -> None:
    sealed.amend(sealed.check, -620)
    for repair, kind, reason in (
        (Repair.RELEASE, Refused, "amended is mended by put back or accept with entry"),
        (Repair.ACCEPT, BadInput, "Say why it is accepted"),
    ):
        with pytest.raises(kind, match=reason):
            sealed.mend(sealed.check, repair)
    preparer = sealed.world.as_user("Paul", Role.PREPARER)
    stored = entries.require_entry(sealed.ctx, sealed.world.company, sealed.world.account, sealed.outstanding)
    values = entries.values_of(sealed.ctx, stored, 1).with_amount(-1)

    def edit(ctx: Context) -> None:
        bank_book.edit_entry(ctx, *sealed.args[1:], sealed.outstanding, values, stored.revision)

    with pytest.raises(Conflict, match="cleared in the sealed reconciliation to Nov 30"):
        edit(preparer)
    with pytest.raises(Forbidden, match="preparer may not alter what is sealed or locked"):
        edit(replace(preparer, reason="because"))
    companies.switch_right(sealed.world.db, 1, preparer.user.id, Right.ALTER, True)
    edit(replace(preparer, reason="because"))
    companies.switch_right(sealed.world.db, 1, sealed.ctx.user.id, Right.ALTER, False)
    with pytest.raises(Forbidden, match="switched off for you"):
        sealed.mend(sealed.check, Repair.ACCEPT, reason="no")
    sealed.mend(sealed.check, Repair.PUT_BACK)
    with pytest.raises(Conflict, match="Nothing of this is disturbed any more"):
        sealed.mend(sealed.check, Repair.PUT_BACK)


def test_what_a_change_touches_is_told_before(sealed: Sealed) -> None:
    told = bank_book.touched_by(*sealed.args, sealed.check, date(2026, 12, 3), sealed.savings.id)
    assert told.needs_right
    assert told.texts == (
        "Oct 5, 2026 lies in the period of Main account sealed to Oct 31, 2026.",
        "It also stands in the bank book of Savings.",
        "It is cleared in the sealed reconciliation to Oct 31, 2026.",
        "It moves from October 2026 to December 2026, in the ledger too.",
    )
    free = sealed.world.entry(-5, "2026-12-05")
    assert bank_book.touched_by(*sealed.args, free, None, None).texts == ()


def test_verify_calls_it_a_disturbance(sealed: Sealed) -> None:
    sealed.amend(sealed.check, -620)
    found = verifying.verify(sealed.world.db).findings
    assert found
    assert not any(f.tampering for f in found)
