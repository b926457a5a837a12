"""Breaking a seal and sealing again; review by a second person."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

import pytest

from netnaught.core.ring import RingState
from netnaught.services import bank_book, board, deciding, recording, reviewing, sealing, verifying
from netnaught.services.access import Context, Role
from netnaught.services.errors import BadInput, Conflict, Forbidden, Refused
from netnaught.services.sealing import Sealing
from netnaught.store import seals
from tests.world import World


@dataclass(slots=True)
class Months:
    """October to December sealed, a check outstanding from October to the end."""

    world: World
    at: list[int]
    outstanding: int

    @property
    def args(self) -> tuple[Context, int]:
        return self.world.ctx, self.world.company.id

    def seal(self, month: int) -> Sealing:
        return sealing.seal(*self.args, self.at[month])

    def break_seal(self, month: int) -> None:
        sealing.break_seal(*self.args, self.at[month], "a fee was missed")

    def states(self) -> list[str]:
        (row,) = board.board(self.world.ctx).companies[0].accounts
        return [cell.ring.state.value for cell in row.cells if cell.reconciliation_id in self.at]


@pytest.fixture
def months(world: World) -> Months:
    outstanding = world.entry(-50, "2026-10-09", "77")
    at: list[int] = []
    for n, month in enumerate(("2026-10", "2026-11", "2026-12")):
        world.entry(-500, f"{month}-05", str(100 + n))
        line = world.line(-500, f"{month}-06", str(100 + n))
        at.append(world.read(line, opening=100_000 - 500 * n, first=f"{month}-01"))
        deciding.apply_passes(world.ctx, world.company.id, at[-1], frozenset())
        sealing.seal(world.ctx, world.company.id, at[-1])
    return Months(world, at, outstanding)


def test_sealed_again_unchanged_the_later_seals_are_chained_again(months: Months) -> None:
    months.break_seal(0)
    assert months.states() == ["opened again", "sealed", "sealed"]
    assert verifying.verify(months.world.db).findings == ()
    with pytest.raises(Conflict, match="is not sealed"):
        months.break_seal(0)
    done = months.seal(0)
    assert (done.chained_again, done.opened_too) == ((date(2026, 11, 30), date(2026, 12, 31)), ())
    assert months.states() == ["sealed"] * 3
    assert verifying.verify(months.world.db).findings == ()
    chain = seals.seals(months.world.db, 1, months.world.account.id)
    assert [(s.number, s.made, s.reconciliation_id) for s in chain[3:]] == [
        (4, "sealed again", months.at[0]),
        (5, "chained again", months.at[1]),
        (6, "chained again", months.at[2]),
    ]
    assert chain[4].content == chain[1].content
    (new, old) = sealing.seals_told(*months.args, months.at[0])
    assert (new.seal.number, new.replaces, new.differences, old.seal.number) == (4, 1, (), 1)


def test_sealed_again_otherwise_the_later_periods_are_opened_too_and_the_difference_shown(months: Months) -> None:
    """The outstanding check is deleted while the first month is open: every list that carried it has changed."""
    months.break_seal(0)
    ctx = replace(months.world.ctx, reason="never written")
    bank_book.remove_entry(ctx, months.world.company.id, months.world.account.id, months.outstanding)
    done = months.seal(0)
    assert (done.chained_again, done.opened_too) == ((), (date(2026, 11, 30), date(2026, 12, 31)))
    assert months.states() == ["sealed", "opened again", "opened again"]
    new = sealing.seals_told(*months.args, months.at[0])[0]
    gone = [d for d in new.differences if d.where == "outstanding"]
    assert [(d.id, d.was, d.now) for d in gone] == [(months.outstanding, "2026-10-09 -50 77 Payee", "")]
    assert "figures.outstanding_out" in {d.where for d in new.differences}
    months.seal(1)
    months.seal(2)
    assert verifying.verify(months.world.db).findings == ()


def test_a_broken_period_keeps_its_equations_while_it_is_worked_on(months: Months) -> None:
    months.break_seal(1)
    decided = months.world.view(months.at[1]).bench.decisions[0].id
    deciding.withdraw(*months.args, months.at[1], [decided])
    for at in months.at:
        bench = months.world.view(at).bench
        assert bench.standing.book_balance == bench.book_footing.end
    assert months.world.view(months.at[2]).bench.standing.books_gap == 0
    with pytest.raises(Refused, match="not resolved"):
        months.seal(1)
    deciding.apply_passes(*months.args, months.at[1], frozenset())
    months.seal(1)
    assert months.states() == ["sealed"] * 3


def test_a_seal_is_broken_only_with_right_and_reason(months: Months) -> None:
    with pytest.raises(BadInput, match="Say why the seal is broken"):
        sealing.break_seal(*months.args, months.at[0], "  ")
    preparer = months.world.as_user("Paul", Role.PREPARER)
    with pytest.raises(Forbidden, match="preparer may not break a seal"):
        sealing.break_seal(preparer, 1, months.at[0], "x")
    assert months.states() == ["sealed"] * 3


@pytest.fixture
def reviewed(world: World) -> tuple[World, int, Context, Context]:
    reviewing.set_review(world.ctx, world.company.id, True)
    world.entry(-500, "2026-10-05", "1")
    at = world.read(world.line(-500, "2026-10-06", "1"), world.line(-9, "2026-10-07"))
    deciding.apply_passes(world.ctx, world.company.id, at, frozenset())
    return world, at, world.as_user("Paul", Role.PREPARER), world.as_user("Rita", Role.REVIEWER)


def test_two_people_prepare_return_and_approve(reviewed: tuple[World, int, Context, Context]) -> None:
    world, at, paul, rita = reviewed
    with pytest.raises(Refused, match="cannot be sealed yet"):
        reviewing.hand_in(paul, 1, at)
    fee = world.line_ids(at)["F2"]
    recording.record_line(paul, 1, at, fee, other_account_id=world.gl["5900"], payee="", memo="Fee")
    with pytest.raises(Refused, match="hand it in, another person's approval seals it"):
        sealing.seal(paul, 1, at)
    reviewing.hand_in(paul, 1, at)
    with pytest.raises(Conflict, match="in review and frozen"):
        deciding.withdraw(paul, 1, at, [1])
    (cell,) = [c for a in board.board(world.ctx).companies[0].accounts for c in a.cells if c.reconciliation_id == at]
    assert cell.ring.state is RingState.IN_REVIEW
    with pytest.raises(Forbidden, match="preparer may not approve"):
        reviewing.approve(paul, 1, at)
    note = reviewing.add_note(rita, 1, at, fee, None, "Which fee is this?")
    with pytest.raises(Refused, match="1 review note must be closed"):
        reviewing.approve(rita, 1, at)
    reviewing.send_back(rita, 1, at, "Say which fee")
    reviewing.hand_in(paul, 1, at)
    for open_note in reviewing.notes(rita, 1, at):
        reviewing.close_note(paul, 1, open_note.id)
    with pytest.raises(Conflict, match="closed already"):
        reviewing.close_note(paul, 1, note)
    reviewing.approve(rita, 1, at)
    seal = seals.seal_of(world.db, 1, at)
    assert seal
    assert (seal.sealed_by, b'"prepared_by":"Paul"' in seal.content) == ("Rita", True)


def test_nobody_approves_what_they_prepared_and_the_next_opening_is_provisional(
    reviewed: tuple[World, int, Context, Context],
) -> None:
    world, at, _, _ = reviewed
    recording.record_line(
        world.ctx, 1, at, world.line_ids(at)["F2"], other_account_id=world.gl["5900"], payee="", memo=""
    )
    reviewing.hand_in(world.ctx, 1, at)
    with pytest.raises(Forbidden, match="another person approves"):
        reviewing.approve(world.ctx, 1, at)
    november = world.view(world.read(world.line(-1, "2026-11-02"), opening=99_491, first="2026-11-01")).bench
    assert november.standing.opening == 99_491
    assert next(b.kind.value for b in november.blockers()) == "earlier open"
