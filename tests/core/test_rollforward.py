"""The roll-forward ends at the outstanding list of the equations, whatever was sealed before; odd check numbers."""

from __future__ import annotations

from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.ledger import BookEntry
from netnaught.core.reconciliation import Work, standing
from netnaught.core.rollforward import check_numbers, roll_forward
from tests.strategies import START, amounts, works


@given(works(), st.data(), st.integers(-10, 40))
def test_it_ends_at_what_is_outstanding_and_late_ones_stand_apart(work: Work, data: st.DataObject, start: int) -> None:
    ids = [entry.id for entry in work.entries]
    sealed = data.draw(st.dictionaries(st.sampled_from([*ids, "gone"]), amounts, max_size=6))
    cleared = {item for decision in work.decisions for item in decision.entries}
    roll = roll_forward(sealed, work.entries, cleared, START + timedelta(days=start), work.end)
    now = standing(work)
    assert roll.end == now.outstanding_in.total + now.outstanding_out.total
    assert roll.start == sum(sealed.values())
    assert roll.late == now.late


def test_each_part_of_the_roll_forward_is_what_its_name_says() -> None:
    """Sealed −100 and −40; −100 cleared, −40 changed to −45; −7 booked, −3 backdated, 9 cleared but dated later."""
    day = date(2026, 11, 5)
    entries = [
        BookEntry(1, date(2026, 10, 9), -100),
        BookEntry(2, date(2026, 10, 10), -45),
        BookEntry(3, day, -7),
        BookEntry(4, date(2026, 10, 30), -3),
        BookEntry(5, date(2026, 12, 2), 9),
    ]
    roll = roll_forward({1: -100, 2: -40}, entries, {1, 5}, date(2026, 10, 31), date(2026, 11, 30))
    assert (roll.start, roll.booked, roll.backdated, roll.changed, roll.cleared, roll.late) == (
        -140,
        -7,
        -3,
        -5,
        -100,
        9,
    )
    assert roll.end == -55


def test_gaps_and_doubles_of_check_numbers_are_named_and_another_check_book_is_none() -> None:
    day = date(2026, 10, 1)
    numbers = ["101", "102", "0105", "105", "900"]
    entries = [BookEntry(n, day, -1, number) for n, number in enumerate(numbers)] + [BookEntry(9, day, 50, "103")]
    found = check_numbers(entries)
    assert found.gaps == ((103, 104),)
    assert found.doubles == ((105, (2, 3)),)
