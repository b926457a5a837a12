"""What mistakes look like: each planted one is found, exactly; a clean month has no clue."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.clues import ClueKind, Puzzle, find_clues
from netnaught.core.ledger import BookEntry
from netnaught.core.money import currency
from netnaught.core.statement import StatementLine
from netnaught.core.wording import plain_wording
from tests.strategies import amounts

SAY = plain_wording(currency("USD"))
DAY = date(2026, 10, 5)


def entry(ident: str, amount: int, reference: str = "") -> BookEntry:
    return BookEntry(ident, DAY, amount, reference, "Payee")


OTHERS = (entry("x", -7_100), entry("y", 33_300), entry("z", -90_909))


@pytest.mark.parametrize(
    ("puzzle", "kind", "items"),
    [
        (Puzzle(-2_750, (StatementLine("L", DAY, -2_750, "", "FEE"),), OTHERS, ()), ClueKind.MISSING_ENTRY, ("L",)),
        (Puzzle(-4_217, (), (*OTHERS, entry("a", -4_217)), ()), ClueKind.NOT_TICKED, ("a",)),
        (Puzzle(4_217, (), (), (*OTHERS, entry("a", -4_217))), ClueKind.TICKED_BY_MISTAKE, ("a",)),
        (
            Puzzle(500, (), (), (*OTHERS, entry("a", -500, "17"), entry("b", -500, "0017"))),
            ClueKind.DOUBLED,
            ("a", "b"),
        ),
        (Puzzle(10_000, (), (), (*OTHERS, entry("a", -5_000))), ClueKind.WRONG_SIDE, ("a",)),
        (Puzzle(36_000, (), (), (*OTHERS, entry("a", -184_000))), ClueKind.DIGITS_SWAPPED, ("a",)),
        (Puzzle(45_000, (), (), (*OTHERS, entry("a", 5_000))), ClueKind.SLIDE, ("a",)),
        (Puzzle(-45_000, (), (), (*OTHERS, entry("a", 50_000))), ClueKind.SLIDE, ("a",)),
        (Puzzle(6_000, (), (), (*OTHERS, entry("a", 31_000))), ClueKind.ONE_DIGIT, ("a",)),
        (Puzzle(-36_000, (), (), OTHERS, off=-36_000), ClueKind.NOT_FOOTING, ()),
        (Puzzle(30_000, (), (), OTHERS, bank_gap=30_000), ClueKind.BANK_GAP, ()),
        (Puzzle(900, (), (*OTHERS, entry("a", 1_400), entry("b", -500)), ()), ClueKind.TWO_MISTAKES, ("a", "b")),
        (Puzzle(901, (), (), OTHERS, side_off=(0, 901)), ClueKind.ONE_SIDE, ()),
    ],
)
def test_each_mistake_has_its_signature(puzzle: Puzzle, kind: ClueKind, items: tuple[str, ...]) -> None:
    found = [clue for clue in find_clues(puzzle, SAY) if clue.kind is kind]
    assert items in [(*clue.lines, *clue.entries) for clue in found]
    assert all(clue.explains == puzzle.amount for clue in found)


@given(st.lists(amounts, max_size=8), st.lists(amounts, max_size=8))
def test_nothing_is_explained_where_nothing_is_off(open_amounts: list[int], counted: list[int]) -> None:
    opens = tuple(entry(f"o{n}", amount) for n, amount in enumerate(open_amounts))
    assert find_clues(Puzzle(0, (), opens, tuple(entry(f"c{n}", a) for n, a in enumerate(counted))), SAY) == ()


@given(st.lists(amounts, min_size=1, max_size=10), amounts)
def test_every_explanation_is_exact(open_amounts: list[int], amount: int) -> None:
    """In a tick list a clue over open entries explains what it says: the sum of those entries."""
    opens = {f"o{n}": entry(f"o{n}", value) for n, value in enumerate(open_amounts)}
    for clue in find_clues(Puzzle(amount, (), tuple(opens.values()), ()), SAY):
        assert clue.explains == amount
        assert sum(opens[str(item)].amount for item in clue.entries) == amount
