"""A month from its statement file to a sealed zero, through the use cases."""

from __future__ import annotations

import json
from datetime import date
from pathlib import Path

import pytest

from netnaught.core.alignment import RowKind
from netnaught.core.completion import BlockerKind
from netnaught.core.seal import BankGapCause
from netnaught.core.statement import ControlTotals, NoticeKind, StatementHead
from netnaught.services import (
    bank_book,
    deciding,
    reading,
    recording,
    reimport,
    reporting,
    sealing,
    steps,
    tracing,
    verifying,
)
from netnaught.services.access import Role
from netnaught.services.entries import EntryValues
from netnaught.services.errors import BadInput, ConfirmationNeeded, Conflict, Forbidden, NotFound, Refused
from netnaught.services.reading import HeadGiven
from netnaught.store import ledger
from tests.world import World, found_world


def sealed_month(world: World, amount: int = -500, first: str = "2026-10-01", opening: int = 100_000) -> int:
    """A month of one matched entry, sealed."""
    day = f"{first[:8]}05"
    world.entry(amount, day)
    at = world.read(world.line(amount, day), opening=opening, first=first)
    deciding.apply_passes(world.ctx, world.company.id, at, frozenset())
    sealing.seal(world.ctx, world.company.id, at)
    return at


def test_a_month_comes_to_zero_and_opens_the_next(world: World) -> None:
    check = world.entry(-148_000, "2026-10-02", "2290")
    outstanding = world.entry(-700, "2026-10-30", "2291")
    at = world.read(world.line(-148_000, "2026-10-08", "0002290"), world.line(-2_750, text="SERVICE CHARGE"))
    assert deciding.apply_passes(world.ctx, world.company.id, at, frozenset()) == 1
    fee = world.line_ids(at)["F2"]
    recording.record_line(
        world.ctx, world.company.id, at, fee, other_account_id=world.gl["5900"], payee="Bank", memo="Fee"
    )
    bench = world.view(at).bench
    assert (bench.standing.difference, bench.blockers()) == (0, ())
    assert bench.gl_balance == bench.book_footing.end == 100_000 - 148_000 - 2_750 - 700
    digest = sealing.seal(world.ctx, world.company.id, at).sha256
    following = world.view(world.read(world.line(-700, "2026-11-03", "2291"), opening=-50_750, first="2026-11-01"))
    assert following.bench.standing.opening == -50_750
    carried = {e.id for e in following.bench.work.entries}
    assert outstanding in carried
    assert check not in carried
    assert verifying.verify(world.db).findings == ()
    assert len(digest) == 64


def test_sealed_papers_stay_as_they_were(world: World) -> None:
    at = sealed_month(world)
    before = reporting.report_pdf(world.ctx, world.company.id, at)
    world.entry(-9_900, "2026-10-20")
    assert reporting.report_pdf(world.ctx, world.company.id, at) == before
    assert before.startswith(b"%PDF")


def test_sealing_off_zero_is_refused_with_every_reason(world: World) -> None:
    at = world.read(world.line(-500))
    with pytest.raises(Refused) as refused:
        sealing.seal(world.ctx, world.company.id, at)
    assert [b.kind for b in refused.value.blockers] == [BlockerKind.UNRESOLVED, BlockerKind.DIFFERENCE]


def test_seals_go_in_order(world: World) -> None:
    world.entry(-500, "2026-10-05")
    world.read(world.line(-500))
    later = world.read(opening=99_500, first="2026-11-01")
    with pytest.raises(Refused, match="The reconciliation to Oct 31, 2026 comes first"):
        sealing.seal(world.ctx, world.company.id, later)


def test_a_changed_sealed_entry_opens_a_books_gap_that_blocks(world: World) -> None:
    sealed_month(world)
    world.db.execute("UPDATE book_entry SET amount = amount - 120")
    later = world.view(world.read(opening=99_500, first="2026-11-01"))
    assert later.bench.standing.books_gap == -120
    assert [b.kind for b in later.bench.blockers()] == [BlockerKind.BOOKS_GAP]


# Statements in ------------------------------------------------------------------------------------


def read_again(world: World, data: bytes, confirmed: frozenset[str] = frozenset()) -> int:
    return reading.store_file(world.ctx, world.company.id, world.account.id, "again.ofx", data, None, confirmed)


def test_a_file_read_twice_adds_nothing_twice(world: World) -> None:
    data = world.ofx(world.line(-500), world.line(-500))
    at = read_again(world, data)
    with pytest.raises(Refused, match=r"All 2 lines of again\.ofx are known already"):
        read_again(world, data)
    assert len(world.view(at).bench.lines) == 2


def test_an_overlapping_download_adds_only_what_is_new(world: World) -> None:
    first, second = world.line(-500), world.line(-700, "2026-10-20")
    at = read_again(world, world.ofx(first))
    fuller = world.ofx(first, second)
    with pytest.raises(ConfirmationNeeded) as asked:
        read_again(world, fuller)
    assert asked.value.notices == (
        (
            "overlap",
            "An earlier statement already covers Oct 1, 2026 to Oct 31, 2026: "
            "of 2 lines there, 1 are known already, 1 are new, −7.00.",
        ),
    )
    assert read_again(world, fuller, frozenset({"overlap"})) == at
    bench = world.view(at).bench
    assert [x.bank_id for x in bench.lines] == ["F1", "F2"]
    assert bench.notices == ()


def test_a_bank_gap_is_named_confirmed_and_blocks(world: World) -> None:
    sealed_month(world)
    with pytest.raises(ConfirmationNeeded, match="confirmation"):
        world.read(opening=100_300, first="2026-11-01")
    data = world.ofx(opening=100_300, first="2026-11-01")
    at = read_again(world, data, frozenset({"bank gap"}))
    (blocker,) = (b for b in world.view(at).bench.blockers() if b.kind is BlockerKind.BANK_GAP)
    assert blocker.amount == 800
    assert "opens at 1,003.00, the closing before it is 995.00" in blocker.text


def gap_cause(world: World) -> tuple[int, BankGapCause] | None:
    found = tracing.trace(world.ctx, world.company.id, world.account.id).bank_gap
    return (found.amount, found.cause) if found else None


def test_the_trace_tells_why_a_statement_opens_elsewhere(world: World) -> None:
    confirmed = frozenset({"bank gap", "gap"})
    first = read_again(world, world.ofx(opening=100_200), confirmed)
    assert gap_cause(world) == (200, BankGapCause.NO_START)
    reading.withdraw(world.ctx, world.company.id, world.view(first).bench.statements[0].id)
    sealed_month(world)
    assert gap_cause(world) is None
    december = read_again(world, world.ofx(opening=99_900, first="2026-12-01"), confirmed)
    assert gap_cause(world) == (400, BankGapCause.STATEMENT_MISSING)
    reading.withdraw(world.ctx, world.company.id, world.view(december).bench.statements[0].id)
    read_again(world, world.ofx(opening=99_800, first="2026-11-01"), confirmed)
    assert gap_cause(world) == (300, BankGapCause.BANK_RESTATED)


def test_after_a_closing_typed_by_hand_the_trace_does_not_blame_the_bank(world: World) -> None:
    head = StatementHead(date(2026, 10, 1), date(2026, 10, 31), 100_000, 99_000, ControlTotals(0, -1_000))
    at = reading.store_typed(world.ctx, world.company.id, world.account.id, head)
    deciding.tick(world.ctx, world.company.id, at, [world.entry(-1_000)])
    sealing.seal(world.ctx, world.company.id, at)
    read_again(world, world.ofx(opening=99_800, first="2026-11-01"), frozenset({"bank gap"}))
    assert gap_cause(world) == (800, BankGapCause.TYPED_OR_RESTATED)


def test_a_missing_month_is_named(world: World) -> None:
    sealed_month(world)
    with pytest.raises(ConfirmationNeeded) as asked:
        world.read(opening=99_500, first="2026-12-01")
    assert asked.value.notices[0] == ("gap", "No statement covers Nov 1, 2026 to Nov 30, 2026.")


def test_a_paper_statement_that_does_not_foot_is_stored_only_when_confirmed_and_never_sealed(world: World) -> None:
    head = StatementHead(date(2026, 10, 1), date(2026, 10, 31), 100_000, 99_000, ControlTotals(0, -900))
    with pytest.raises(ConfirmationNeeded) as asked:
        reading.store_typed(world.ctx, world.company.id, world.account.id, head)
    assert "it says 990.00, −1.00 apart" in asked.value.notices[0][1]
    at = reading.store_typed(world.ctx, world.company.id, world.account.id, head, frozenset({"not footing"}))
    entry = world.entry(-1_000)
    deciding.tick(world.ctx, world.company.id, at, [entry])
    assert [b.kind for b in world.view(at).bench.blockers()] == [BlockerKind.NOT_FOOTING]
    statement = world.view(at).bench.statements[0].id
    corrected = StatementHead(date(2026, 10, 1), date(2026, 10, 31), 100_000, 99_000, ControlTotals(0, -1_000))
    reading.correct_head(world.ctx, world.company.id, statement, corrected)
    assert world.view(at).bench.blockers() == ()


def test_a_plain_table_takes_its_head_from_the_person(world: World) -> None:
    data = b"id,date,reference,description,amount\nA,2026-10-03,,x,-5.00\n"
    found = reading.read_file(world.ctx, world.company.id, world.account.id, "x.csv", data).reading
    assert (found.head.dates_stated, found.head.closing) == (False, None)
    given = HeadGiven(date(2026, 10, 1), date(2026, 10, 31), closing=99_500)
    at = reading.store_file(world.ctx, world.company.id, world.account.id, "x.csv", data, given)
    assert world.view(at).bench.standing.closing == 99_500
    assert world.view(at).bench.desk.reconciliation.closing_date == date(2026, 10, 31)


@pytest.mark.parametrize(
    ("name", "data", "message"),
    [
        ("cut.ofx", b"OFXHEADER:100\n<OFX><BANK", "cut.ofx, line 2.*Nothing was stored"),
        (
            "b.csv",
            b"id,date,reference,description,amount\nA,2026-13-01,,x,1\n",
            "b.csv, line 2, column date: '2026-13-01'",
        ),
        ("c.csv", b"id,date,description,amount\n", "column reference: .*is missing from the header"),
        ("d.pdf", b"%PDF-1.7\n", "the PDF is damaged"),
    ],
)
def test_a_bad_file_is_refused_with_its_place_and_nothing_is_stored(
    world: World, name: str, data: bytes, message: str
) -> None:
    with pytest.raises(BadInput, match=message):
        reading.store_file(world.ctx, world.company.id, world.account.id, name, data)
    assert not world.db.execute("SELECT count(*) FROM statement_file").fetchone()[0]


def test_an_unknown_account_is_asked_about_once_and_another_currency_is_refused(world: World) -> None:
    other = world.ofx(world.line(5)).replace(b"<ACCTID>4410", b"<ACCTID>7777")
    with pytest.raises(ConfirmationNeeded) as asked:
        read_again(world, other)
    assert asked.value.notices[0][1].startswith("The file names account 7777, Main account is 4410.")
    read_again(world, other, frozenset({"other account"}))
    remembered = world.ofx(world.line(7), first="2026-11-01", opening=100_005).replace(b"<ACCTID>4410", b"<ACCTID>7777")
    read_again(world, remembered)
    with pytest.raises(BadInput, match="is in CAD, Main account is kept in USD"):
        read_again(world, world.ofx(world.line(5)).replace(b"<CURDEF>USD", b"<CURDEF>CAD"))


# Decisions ----------------------------------------------------------------------------------------


def test_groups_by_hand_match_only_at_zero(world: World) -> None:
    one, two = world.entry(1_500), world.entry(1_125)
    at = world.read(world.line(2_625), world.line(-3_000))
    deposit, other = world.line_ids(at)["F1"], world.line_ids(at)["F2"]
    with pytest.raises(Refused, match="equal to the cent"):
        deciding.match(world.ctx, world.company.id, at, [deposit], [one])
    deciding.match(world.ctx, world.company.id, at, [deposit], [one, two])
    with pytest.raises(Conflict, match="Ona Owner has already matched this item"):
        deciding.match(world.ctx, world.company.id, at, [deposit, other], [one])
    kinds = [row.kind for row in world.view(at).rows]
    assert kinds == [RowKind.MATCHED, RowKind.LINE]


def test_two_people_deciding_one_item_the_second_is_told(world: World) -> None:
    entry = world.entry(-500)
    at = world.read(world.line(-500))
    (line,) = world.line_ids(at).values()
    tam = world.as_user("Tam", Role.PREPARER)
    deciding.match(tam, world.company.id, at, [line], [entry])
    with pytest.raises(Conflict, match="Tam has already matched this item"):
        deciding.match(world.ctx, world.company.id, at, [line], [entry])


def test_items_of_another_company_are_not_found(world: World, tmp_path: Path) -> None:
    other = found_world(tmp_path, "5520", "Other & Co")
    foreign = other.entry(-500)
    at = world.read(world.line(-500))
    (line,) = world.line_ids(at).values()
    with pytest.raises(NotFound):
        deciding.match(world.ctx, world.company.id, at, [line], [foreign])
    with pytest.raises(NotFound):
        deciding.match(other.ctx, world.company.id, at, [line], [foreign])


def test_ticks_exist_only_without_statement_lines(world: World) -> None:
    entry = world.entry(-500)
    at = world.read(world.line(-500))
    with pytest.raises(Refused, match="has lines"):
        deciding.tick(world.ctx, world.company.id, at, [entry])


def test_a_viewer_may_look_and_change_nothing(world: World) -> None:
    at = world.read(world.line(-500))
    viewer = world.as_user("Vera", Role.VIEWER)
    (line,) = world.line_ids(at).values()
    reporting.report(viewer, world.company.id, at)
    with pytest.raises(Forbidden, match="A viewer may not"):
        deciding.match(viewer, world.company.id, at, [line], [1])


# Entries ------------------------------------------------------------------------------------------


def test_an_edited_entry_takes_its_journal_along_and_keeps_its_history(world: World) -> None:
    entry = world.entry(-184_000, reference="2290")
    at = world.read(world.line(-148_000, reference="2290"))
    (line,) = world.line_ids(at).values()
    recording.correct_to_line(world.ctx, world.company.id, at, line, entry)
    balance = ledger.gl_balance(world.db, world.company.id, world.gl["1010"], date(2026, 10, 31))
    assert balance == 100_000 - 148_000
    found = world.db.execute("SELECT before, after FROM audit_event WHERE what = 'entry changed'").fetchone()
    assert (json.loads(found[0])["amount"], json.loads(found[1])["amount"]) == (-184_000, -148_000)
    with pytest.raises(Conflict, match="Unmatch it first"):
        bank_book.remove_entry(world.ctx, world.company.id, world.account.id, entry)


def test_an_entry_changed_by_somebody_else_meanwhile_is_a_conflict(world: World) -> None:
    entry = world.entry(-500)
    values = EntryValues(date(2026, 10, 5), -600, "", "P", "m", world.gl["5000"])
    bank_book.edit_entry(world.ctx, world.company.id, world.account.id, entry, values, revision=1)
    with pytest.raises(Conflict, match="changed this entry meanwhile"):
        bank_book.edit_entry(world.ctx, world.company.id, world.account.id, entry, values, revision=1)


def test_an_imported_bank_book_is_compared_with_what_is_here(world: World) -> None:
    book = b"id,date,reference,payee,memo,amount\nB1,2026-10-01,,A,,5.00\nB2,2026-10-02,,B,,6.00\n"
    args = (world.ctx, world.company.id, world.account.id, "book.csv")
    reimport.apply(*args, book, world.gl["5000"])
    again = reimport.apply(*args, book.replace(b"6.00", b"7.00"), world.gl["5000"])
    assert [x.change.value for x in again.differences] == ["changed", "same"]
    amounts = [x.stored.entry.amount for x in bank_book.read_book(world.ctx, world.company.id, world.account.id)]
    assert amounts == [500, 700]
    with pytest.raises(BadInput, match=r"book.csv, line 2, column amount: '5.001'"):
        reimport.apply(*args, book.replace(b"5.00", b"5.001"), world.gl["5000"])


def test_undo_and_redo_take_everything_of_a_step(world: World) -> None:
    at = world.read(world.line(-2_750))
    (line,) = world.line_ids(at).values()
    recording.record_line(world.ctx, world.company.id, at, line, other_account_id=world.gl["5900"], payee="", memo="")
    done = world.view(at).bench
    assert steps.undo(world.ctx, world.company.id, at) == "record in books"
    undone = world.view(at).bench
    assert (undone.standing.lines_resolved, undone.gl_balance, undone.work.entries) == (0, 100_000, ())
    steps.redo(world.ctx, world.company.id, at)
    assert world.view(at).bench.standing == done.standing
    with pytest.raises(Conflict, match="nothing to redo"):
        steps.redo(world.ctx, world.company.id, at)


def test_the_kinds_of_notice_are_those_that_can_be_confirmed() -> None:
    assert {kind.value for kind in NoticeKind} == {"gap", "overlap", "not footing", "bank gap", "other account"}
