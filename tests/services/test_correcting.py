"""Correcting from the Spine: a wrong date on a right match, an error of the bank and its correction."""

from __future__ import annotations

from datetime import date

import pytest

from netnaught.core.alignment import RowKind
from netnaught.core.matching import ProposalKind
from netnaught.services import deciding, entries, recording, sealing, spine, steps
from netnaught.services.errors import BadInput, Conflict, Refused
from tests.world import World


def test_the_date_of_a_matched_entry_is_corrected_with_its_journal_and_undone(world: World) -> None:
    mine = world.entry(-700, "2026-10-29", "17")
    at = world.read(world.line(-700, "2026-10-06", "17"))
    args = (world.ctx, world.company.id, at)
    deciding.apply_passes(*args, frozenset())
    recording.correct_date(*args, mine, date(2026, 10, 5))
    view = world.view(at)
    assert [(row.kind, row.days) for row in view.rows] == [(RowKind.MATCHED, 1)]
    detail = spine.entry_detail(world.ctx, world.company.id, mine)
    assert [event.what for event in detail.history][-1] == "entry changed"
    row = world.db.execute("SELECT date FROM journal_entry WHERE id = ?", (detail.journal_id,)).fetchone()
    assert row[0] == "2026-10-05"
    with pytest.raises(BadInput, match="this date already"):
        recording.correct_date(*args, mine, date(2026, 10, 5))
    steps.undo(*args)
    assert world.view(at).rows[0].days == -23


def test_what_stands_in_a_sealed_period_keeps_date_and_amount(world: World) -> None:
    """An outstanding entry of a sealed list is part of what was sealed."""
    outstanding = world.entry(-900, "2026-10-20", "18")
    october = world.read(opening=100_000)
    sealing.seal(world.ctx, world.company.id, october)
    fresh = world.entry(-50, "2026-11-03")
    november = world.read(world.line(-900, "2026-11-04", "18"), world.line(-950, "2026-11-05"), first="2026-11-01")
    args = (world.ctx, world.company.id, november)
    for entry, day in ((outstanding, date(2026, 11, 2)), (fresh, date(2026, 10, 30))):
        with pytest.raises(Refused, match=r"sealed to Oct 31, 2026; .* post an adjusting entry in the open period"):
            recording.correct_date(*args, entry, day)
    with pytest.raises(Refused, match="sealed to Oct 31"):
        recording.correct_to_line(*args, world.line_ids(november)["F2"], outstanding)
    recording.correct_date(*args, fresh, date(2026, 11, 4))
    values = entries.values_of(
        world.ctx, entries.require_entry(world.ctx, world.company, world.account, fresh), world.company.id
    )
    assert values.date == date(2026, 11, 4)


def test_the_bank_s_correction_is_offered_resolves_with_its_error_and_rests_on_it(world: World) -> None:
    october = world.read(world.line(-75, "2026-10-06", text="CHECK IN ERROR"))
    error = deciding.bank_error(world.ctx, world.company.id, october, world.line_ids(october)["F1"], "")
    assert world.view(october).bench.standing.bank_errors == -75
    sealing.seal(world.ctx, world.company.id, october)
    november = world.read(
        world.line(75, "2026-11-09", text="CORRECTION"),
        world.line(75, "2026-11-10"),
        opening=99_925,
        first="2026-11-01",
    )
    args = (world.ctx, world.company.id, november)
    assert world.view(november).bench.standing.bank_errors == -75
    kinds = {row.lines: row.proposal.kind if row.proposal else None for row in world.view(november).rows}
    first, second = (world.line_ids(november)[f"F{n}"] for n in (2, 3))
    assert kinds == {(first,): ProposalKind.BANK_CORRECTION, (second,): None}
    deciding.bank_correction(*args, first)
    standing = world.view(november).bench.standing
    assert (standing.bank_errors, standing.unresolved_in.lines) == (0, 1)
    with pytest.raises(Refused, match="No open bank error is the opposite"):
        deciding.bank_correction(*args, second)
    steps.undo(*args)
    assert world.view(november).bench.standing.bank_errors == -75
    assert error


def test_an_error_is_not_withdrawn_while_its_correction_rests_on_it(world: World) -> None:
    at = world.read(world.line(-75, "2026-10-06"), world.line(75, "2026-10-20"))
    args = (world.ctx, world.company.id, at)
    error = deciding.bank_error(*args, world.line_ids(at)["F1"], "")
    correction = deciding.bank_correction(*args, world.line_ids(at)["F2"])
    with pytest.raises(Conflict, match="The bank's correction rests on this error"):
        deciding.withdraw(*args, [error])
    deciding.withdraw(*args, [error, correction])
    assert world.view(at).bench.standing.unresolved_in.lines == 1


def test_a_near_group_is_cured_by_correcting_one_of_its_entries_and_undone(world: World) -> None:
    parts = [world.entry(-4_200, reference="B-1"), world.entry(-1_000, reference="B-2")]
    at = world.read(world.line(-5_460, text="TRANSFER B-1 B-2"))
    args = (world.ctx, world.company.id, at)
    line = world.line_ids(at)["F1"]
    with pytest.raises(BadInput, match="one of the group's"):
        recording.correct_in_group(*args, (line,), tuple(parts), 99)
    recording.correct_in_group(*args, (line,), tuple(parts), parts[0])
    bench = world.view(at).bench
    assert bench.standing.difference == 0
    assert bench.decisions[0].why == "one entry corrected from −42.00 to −44.60"
    assert bench.gl_balance == bench.book_footing.end
    steps.undo(*args)
    assert sorted(e.amount for e in world.view(at).bench.work.entries) == [-4_200, -1_000]
    receipt = world.entry(9_000, reference="C")
    with pytest.raises(BadInput, match="turn into its opposite"):
        recording.correct_in_group(*args, (line,), (*parts, receipt), receipt)
