"""Open items in the books: imported once, settled with a line, undone with the entry."""

from __future__ import annotations

import pytest

from netnaught.core.settling import ItemKind
from netnaught.services import open_items, spine, steps
from netnaught.services.errors import BadInput, NotFound, Refused
from tests.world import World

TABLE = """id,kind,party,number,date,due,amount,currency
1,bill,Reef Stores,R-101,2026-09-01,2026-10-01,400.00,USD
2,bill,Reef Stores,R-102,2026-09-05,2026-10-05,500.00,USD
3,bill,Reef Stores,R-103,2026-09-09,2026-10-09,100.00,USD
4,invoice,Island Guests,I-7,2026-09-09,2026-10-09,250.00,
"""


def given(world: World) -> dict[ItemKind, int | None]:
    return {ItemKind.BILL: world.gl["5000"], ItemKind.INVOICE: world.gl["3000"]}


def owed(world: World) -> dict[str, int]:
    return {s.item.number: s.item.open for s in open_items.list_items(world.ctx, world.company.id)}


def test_three_bills_are_settled_one_line_short_by_a_fee_and_undone_exactly(world: World) -> None:
    args = (world.ctx, world.company.id)
    assert open_items.import_items(*args, "items.csv", TABLE.encode(), given(world)).new == 4
    at = world.read(world.line(-99_750, text="REEF STORES R-101 R-102 R-103"))
    line = world.line_ids(at)["F1"]
    found = open_items.settling(*args, at, line)
    assert found.proposal
    assert world.view(at).settles == {line: found.proposal}  # the row says so too
    assert ([i.number for i in found.proposal.items], found.proposal.off) == (["R-101", "R-102", "R-103"], -250)
    ids = [i.id for i in found.proposal.items]
    entry = open_items.settle(*args, at, line, ids, world.gl["5900"])
    assert owed(world) == {"R-101": 0, "R-102": 0, "R-103": 0, "I-7": 25_000}
    detail = spine.entry_detail(*args, entry)
    assert [(p.account.number, p.amount) for p in detail.journal] == [
        ("1010", -99_750),
        ("5000", 40_000),
        ("5000", 50_000),
        ("5000", 10_000),
        ("5900", -250),
    ]
    assert [(s.number, s.amount, s.open) for s in detail.settled[:1]] == [("R-101", 40_000, 0)]
    assert world.view(at).bench.standing.difference == 0
    assert world.view(at).settles == {}
    steps.undo(*args, at)
    assert owed(world) == {"R-101": 40_000, "R-102": 50_000, "R-103": 10_000, "I-7": 25_000}
    steps.redo(*args, at)
    assert owed(world)["R-103"] == 0


def test_a_part_is_paid_then_the_rest_and_what_is_too_much_stays_on_account(world: World) -> None:
    args = (world.ctx, world.company.id)
    open_items.import_items(*args, "items.csv", TABLE.encode(), given(world))
    at = world.read(world.line(-15_000), world.line(-30_000), world.line(25_100, text="I-7"))
    lines = world.line_ids(at)
    bill = open_items.list_items(*args)[0].item.id
    open_items.settle(*args, at, lines["F1"], [bill])
    assert owed(world)["R-101"] == 25_000
    entry = open_items.settle(*args, at, lines["F2"], [bill])
    detail = spine.entry_detail(*args, entry)
    assert [(p.amount, p.memo) for p in detail.journal][1:] == [(25_000, "R-101"), (5_000, "Reef Stores, on account")]
    with pytest.raises(Refused, match="R-101 is a bill, which money in cannot settle"):
        open_items.settle(*args, at, lines["F3"], [bill])
    with pytest.raises(NotFound):
        open_items.settle(*args, at, lines["F3"], [999])
    assert world.view(at).bench.standing.unresolved_in.lines == 1


def test_a_second_import_doubles_nothing_and_names_what_says_otherwise_now(world: World) -> None:
    args = (world.ctx, world.company.id)
    open_items.import_items(*args, "items.csv", TABLE.encode(), given(world))
    again = open_items.import_items(*args, "items.csv", TABLE.replace("400.00", "410.00").encode(), given(world))
    assert (again.new, again.known, again.held) == (0, 3, ("R-101 (1)",))
    assert owed(world)["R-101"] == 40_000


@pytest.mark.parametrize(
    ("was", "now", "message"),
    [
        ("1,bill", "1,loan", "line 2, column kind: 'loan': is neither invoice nor bill"),
        ("2,bill", "1,bill", "line 3, column id: '1': the id stands on line 2 too"),
        ("400.00", "-4.00", "line 2, column amount: '-4.00': is not above zero"),
        ("400.00", "4.001", "line 2, column amount: '4.001'"),
        ("400.00,USD", "400.00,CAD", "line 2, column currency: 'CAD': is another currency than USD"),
        ("R-101", "", "line 2, column number: the item has no number"),
    ],
)
def test_a_table_that_is_wrong_is_refused_whole_with_its_place(world: World, was: str, now: str, message: str) -> None:
    args = (world.ctx, world.company.id, "items.csv")
    with pytest.raises(BadInput) as refused:
        open_items.import_items(*args, TABLE.replace(was, now, 1).encode(), given(world))
    assert message in refused.value.message
    assert open_items.list_items(*args[:2]) == []
    with pytest.raises(BadInput, match="Choose the account that bills"):
        open_items.import_items(*args, TABLE.encode(), {ItemKind.BILL: None})
