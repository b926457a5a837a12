"""Reversing and reissuing: proper entries with links, washed at once, the sealed list untouched."""

from __future__ import annotations

from datetime import date

import pytest

from netnaught.services import ledger_view, reversing, sealing, spine, steps, verifying
from netnaught.services.errors import BadInput, Conflict, ServiceError
from netnaught.services.reversing import Replacement
from tests.world import World


def test_a_stale_check_of_a_sealed_list_is_voided_and_reissued_in_the_open_period(world: World) -> None:
    stale = world.entry(-900, "2026-10-20", "2204", "Marram")
    october = world.read(opening=100_000)
    sealing.seal(world.ctx, world.company.id, october)
    november = world.read(first="2026-11-01")
    args = (world.ctx, world.company.id, november)
    day = date(2026, 11, 12)
    back, anew = reversing.reverse(*args, stale, day, "lost in the mail", Replacement(day, "2301"))
    view = world.view(november)
    rows = {tuple(row.entries): row.kind.value for row in view.rows}
    assert rows == {(stale, back): "wash", (anew,): "outstanding"}
    assert view.bench.standing.difference == 0
    assert view.bench.standing.books_gap == 0
    detail = spine.entry_detail(world.ctx, world.company.id, stale)
    assert [(link.kind, link.reason) for link in detail.links] == [
        ("reverses", "lost in the mail"),
        ("replaces", "lost in the mail"),
    ]
    found = {account.number: balance for account, balance in ledger_view.trial_balance(*args[:2], day).rows}
    assert (found["5000"], sum(found.values())) == (900, 0)
    assert not verifying.verify(world.db).findings
    with pytest.raises(ServiceError):
        reversing.reverse(*args, stale, day, "again")
    steps.undo(*args)
    assert {row.kind.value for row in world.view(november).rows} == {"outstanding"}
    reversing.reverse(*args, stale, day, "at last")  # undone, it can be done anew


def test_what_cannot_be_reversed_is_refused_with_the_reason(world: World) -> None:
    mine = world.entry(-900, "2026-10-20", "2204")
    at = world.read(world.line(-900, "2026-10-21", "2204"))
    args = (world.ctx, world.company.id, at)
    for day, reason, instead, message in (
        (date(2026, 10, 19), "typo", None, "on the day of its entry or later"),
        (date(2026, 10, 25), "  ", None, "Say why it is reversed"),
        (date(2026, 10, 25), "lost", Replacement(date(2026, 10, 25), " "), "needs its number"),
    ):
        with pytest.raises(BadInput, match=message):
            reversing.reverse(*args, mine, day, reason, instead)
    later = reversing.reverse(
        *args, mine, date(2026, 11, 5), "after the period"
    )  # no wash in a period that ended before
    assert {row.kind.value for row in world.view(at).rows} >= {"later"}
    with pytest.raises(Conflict, match="reversed already"):
        reversing.reverse(*args, mine, date(2026, 11, 6), "twice")
    assert len(later) == 1
