"""General journal entries by hand: balanced or refused, on accounts that take postings, in open books."""

from __future__ import annotations

from datetime import date

import pytest

from netnaught.services import exporting, journals, ledger_view, setup
from netnaught.services.access import Role
from netnaught.services.errors import BadInput, Forbidden, Refused
from netnaught.services.journals import JournalPart
from netnaught.store import ledger
from tests.world import World

DAY = date(2026, 10, 31)


def balances(world: World) -> dict[str, int]:
    found = ledger_view.trial_balance(world.ctx, world.company.id, date(2026, 12, 31))
    assert found.total == 0
    return {account.number: balance for account, balance in found.rows if balance}


def test_an_entry_of_three_lines_is_posted_changed_reversed_and_removed(world: World) -> None:
    args = (world.ctx, world.company.id)
    before = balances(world)
    parts = [
        JournalPart(world.gl["5000"], 700),
        JournalPart(world.gl["5900"], 300),
        JournalPart(world.gl["3000"], -1000),
    ]
    made = journals.add_journal(*args, DAY, "Accrued costs", parts)
    assert balances(world) == {**before, "5000": 700, "5900": 300, "3000": before["3000"] - 1000}
    journals.change_journal(
        *args, made, DAY, "Accrued", [JournalPart(world.gl["5000"], 50), JournalPart(world.gl["3000"], -50)]
    )
    back = journals.reverse_journal(*args, made, date(2026, 11, 1), "accrual")
    assert balances(world) == before
    shown = journals.list_journals(*args, DAY, date(2026, 11, 30))
    assert [(j.id, j.memo, len(j.lines), j.entry_id) for j in shown] == [
        (made, "Accrued", 2, None),
        (back, f"Reversal of journal {made}: accrual", 2, None),
    ]
    batch = exporting.export(*args, DAY, date(2026, 11, 30))
    text = exporting.written(*args, batch, "csv")[2].decode()
    assert [line.split(",")[2:5:2] for line in text.splitlines()[1:]] == [
        ["5000", "0.50"],
        ["3000", "-0.50"],
        ["5000", "-0.50"],
        ["3000", "0.50"],
    ]
    journals.remove_journal(*args, back)
    assert balances(world)["5000"] == 50


def test_what_cannot_stand_is_refused_with_its_reason(world: World) -> None:
    args = (world.ctx, world.company.id)
    good = [JournalPart(world.gl["5000"], 100), JournalPart(world.gl["3000"], -100)]
    cases = [
        ([good[0], JournalPart(world.gl["3000"], -90)], Refused, r"out of balance by 0\.10: more debit than credit"),
        ([good[0], JournalPart(world.gl["1010"], -100)], Refused, "control account of Main account: posted straight"),
        ([good[0], JournalPart(999, -100)], BadInput, "no such ledger account"),
        ([*good, JournalPart(world.gl["5900"], 0)], BadInput, "A line of zero"),
        ([JournalPart(world.gl["5000"], 0)], BadInput, "zero"),
    ]
    for parts, kind, reason in cases:
        with pytest.raises(kind, match=reason):
            journals.add_journal(*args, DAY, "memo", parts)
    with pytest.raises(BadInput, match="its memo"):
        journals.add_journal(*args, DAY, " ", good)
    ledger.set_closed(world.db, world.company.id, world.gl["5000"], True)
    with pytest.raises(Refused, match="5000 Costs is closed"):
        journals.add_journal(*args, DAY, "memo", good)
    ledger.set_closed(world.db, world.company.id, world.gl["5000"], False)
    setup.set_lock_date(*args, DAY)
    with pytest.raises(Refused, match="locked to Oct 31, 2026"):
        journals.add_journal(*args, DAY, "memo", good)
    with pytest.raises(Forbidden):
        journals.add_journal(world.as_user("vera", Role.VIEWER), world.company.id, DAY, "memo", good)
    mine = world.entry(-500, "2026-11-05")
    of_entry = journals.list_journals(*args, date(2026, 11, 1), date(2026, 11, 30))[0]
    assert of_entry.entry_id == mine
    with pytest.raises(Refused, match="belongs to an entry of a bank book: change it there"):
        journals.remove_journal(*args, of_entry.id)
