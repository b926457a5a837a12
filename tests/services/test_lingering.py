"""What lingers: the list with its roll-forward from the seal, and a stale check written off in the open period."""

from __future__ import annotations

from datetime import date

import pytest

from netnaught.core.outstanding import StaleRules
from netnaught.services import bank_book, board, lingering, reversing, sealing, setup, trail
from netnaught.services.access import Role
from netnaught.services.board import TodoKind
from netnaught.services.errors import BadInput, Forbidden, NotFound, Refused
from netnaught.store.audit import Wanted
from tests.world import World


def test_a_listed_check_is_rolled_forward_written_off_and_voided_only_with_the_right(world: World) -> None:
    args = (world.ctx, world.company.id, world.account.id)
    assert lingering.lingering(*args) is None
    stale = world.entry(-4200, "2026-10-03", "77")
    october = world.read()
    sealing.seal(world.ctx, 1, october)
    november = world.read(world.line(-5, "2026-11-06"), first="2026-11-01")
    world.entry(-300, "2026-11-20", "78")
    found = lingering.lingering(*args)
    assert found
    assert [(x.entry.id, x.listed_since) for x in found.items] == [(stale, date(2026, 10, 31)), (stale + 1, None)]
    assert (found.roll.start, found.roll.booked, found.roll.end) == (-4200, -300, -4500)
    with pytest.raises(Refused, match="outstanding list sealed to Oct 31, 2026"):
        bank_book.remove_entry(*args, stale)
    (back,) = reversing.reverse(
        world.ctx, 1, november, stale, date(2026, 11, 30), "unclaimed property", against=world.gl["3000"]
    )
    after = lingering.lingering(*args)
    assert after
    assert (after.roll.booked, after.roll.cleared, after.roll.end) == (3900, 0, -300)
    posted = world.db.execute(
        "SELECT g.number, l.amount FROM journal_line l JOIN gl_account g ON g.id = l.gl_account_id JOIN journal_line own"
        " ON own.journal_entry_id = l.journal_entry_id JOIN book_entry e ON e.journal_line_id = own.id WHERE e.id = ?"
        " ORDER BY l.id",
        (back,),
    ).fetchall()
    assert [tuple(row) for row in posted] == [("1010", 4200), ("3000", -4200)]
    # The list as sealed is unchanged.
    sealed = lingering.lingering(*args, october)
    assert sealed
    assert [x.entry.id for x in sealed.items] == [stale]


def test_the_board_names_what_is_past_the_company_s_own_rule(world: World) -> None:
    world.entry(-4200, "2026-10-03", "77")
    for day in ("2026-10-20", "2026-10-21", "2026-10-27"):
        world.entry(3000, day)
    world.entry(-700, "2026-10-02", "ACH")
    at = world.read()

    def told() -> list[tuple[str, str]]:
        return [(t.text, t.action) for t in board.board(world.ctx).todo if t.kind is TodoKind.STALE]

    assert told() == []  # nothing is known of October before it is sealed
    sealing.seal(world.ctx, 1, at)
    assert told() == [("2 deposits in transit linger, 60.00 together", "past 5 days · decide")]
    setup.set_stale_rules(world.ctx, 1, StaleRules(check_months=1, deposit_days=None, payment_days=28))
    assert told() == [("Payment ACH, Payee, 7.00, is 29 days old", "past 28 days · decide")]
    world.read(first="2026-11-01")
    assert ("Check 77, Payee, 42.00, is 58 days old", "past 1 month · decide") in told()
    with pytest.raises(BadInput, match="from 1 to 60 months"):
        setup.set_stale_rules(world.ctx, 1, StaleRules(check_months=0))
    with pytest.raises(Forbidden):
        setup.set_stale_rules(world.as_user("pia", Role.PREPARER), 1, StaleRules())


def test_the_trail_is_filtered_paged_and_exported(world: World) -> None:
    for n in range(3):
        world.entry(-100 - n)
    wanted = Wanted(what="entry typed")
    found = trail.events(world.ctx, 1, wanted)
    assert [event.after["amount"] for event in found if event.after] == [-102, -101, -100]
    assert [e.id for e in trail.events(world.ctx, 1, Wanted(what="entry typed", before_id=found[0].id))] == [
        event.id for event in found[1:]
    ]
    text = trail.export(world.ctx, 1, wanted).decode()
    assert text.splitlines()[0] == "event,at,person,what,entity,id,before,after,fingerprint"
    assert len(text.splitlines()) == 4
    assert trail.events(world.ctx, 1, Wanted(person="Nobody")) == []
    stranger = world.as_user("vera", Role.VIEWER)
    with pytest.raises(NotFound):
        trail.events(stranger, 99, wanted)
