"""Automatic matching: certain or not at all, the same every time, everything in exactly one place."""

from __future__ import annotations

from datetime import date
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.ledger import BookEntry
from netnaught.core.matching import Cause, OpenItems, PassName, run_passes
from netnaught.core.matching.near import digits_swapped
from netnaught.core.matching.references import clean_reference
from netnaught.core.statement import LineKind, StatementLine
from tests.strategies import open_items


def line(ident: str, amount: int, day: int, reference: str = "", kind: LineKind = LineKind.OTHER) -> StatementLine:
    return StatementLine(ident, date(2026, 10, day), amount, reference, "", kind)


def entry(ident: str, amount: int, day: int, reference: str = "") -> BookEntry:
    return BookEntry(ident, date(2026, 10, day), amount, reference)


@given(open_items)
def test_every_item_ends_up_in_exactly_one_place(items: OpenItems) -> None:
    found = run_passes(items)
    lines = [i for m in found.matches for i in m.lines] + [i for q in found.questions for i in q.lines]
    lines += [x.id for x in found.left.lines] + [i for w in found.washes if w.on_bank for i in w.ids]
    entries = [i for m in found.matches for i in m.entries] + [i for q in found.questions for i in q.entries]
    entries += [x.id for x in found.left.entries] + [i for w in found.washes if not w.on_bank for i in w.ids]
    assert sorted(map(str, lines)) == sorted(str(x.id) for x in items.lines)
    assert sorted(map(str, entries)) == sorted(str(x.id) for x in items.entries)


@given(open_items)
def test_a_match_is_exact_and_a_second_run_is_empty(items: OpenItems) -> None:
    found = run_passes(items)
    bank, books = {x.id: x.amount for x in items.lines}, {x.id: x.amount for x in items.entries}
    for made in found.matches:
        assert sum(bank[i] for i in made.lines) == sum(books[i] for i in made.entries)
    for wash in found.washes:
        assert sum((bank if wash.on_bank else books)[i] for i in wash.ids) == 0
    again = run_passes(items.without(list(found.matches), list(found.washes)))
    assert (again.matches, again.washes) == ((), ())


@given(open_items, st.randoms())
def test_the_order_of_the_input_changes_nothing(items: OpenItems, shuffler: Random) -> None:
    lines, entries = list(items.lines), list(items.entries)
    shuffler.shuffle(lines)
    shuffler.shuffle(entries)
    pairs = {(m.lines, m.entries) for m in run_passes(items).matches}
    assert {(m.lines, m.entries) for m in run_passes(OpenItems(tuple(lines), tuple(entries))).matches} == pairs


@given(open_items)
def test_proposals_offer_each_item_once_and_state_their_difference(items: OpenItems) -> None:
    found = run_passes(items)
    bank, books = {x.id: x.amount for x in items.lines}, {x.id: x.amount for x in items.entries}
    offered = [i for p in found.proposals for i in (*p.lines, *p.entries)]
    assert len(offered) == len(set(offered))
    for offer in found.proposals:
        assert offer.difference == sum(bank[i] for i in offer.lines) - sum(books[i] for i in offer.entries)


def test_dressed_references_match_and_say_so() -> None:
    items = OpenItems((line("L", -100, 8, "0002291"),), (entry("B", -100, 2, "CHK #2291"),))
    (made,) = run_passes(items).matches
    assert made.by is PassName.REFERENCE_AND_AMOUNT
    assert made.why == "reference 2291 and amount agree, 6 days apart"


def test_check_numbers_are_compared_exactly() -> None:
    items = OpenItems((line("L", -100, 8, "1001", LineKind.CHECK),), (entry("B", -100, 8, "1010"),))
    assert not run_passes(items).matches


@pytest.mark.parametrize(
    ("text", "cleaned"),
    [
        ("CHK #0002291", "2291"),
        ("Check 2291", "2291"),
        ("S-0118", "S118"),
        ("ref: A/17", "A17"),
        ("rent", ""),
        ("000", ""),
    ],
)
def test_references_lose_only_their_dress(text: str, cleaned: str) -> None:
    assert clean_reference(text) == cleaned


def test_a_rival_outside_the_window_still_prevents_a_match() -> None:
    """Unique means unique among all open items, not only among those near in time."""
    rivals = (entry("B1", 500, 10), BookEntry("B2", date(2026, 7, 1), 500))
    found = run_passes(OpenItems((line("L", 500, 10),), rivals))
    assert not found.matches
    assert found.left.lines or found.questions


def test_equal_counts_of_an_amount_are_paired_in_date_order_and_said_to_be_interchangeable() -> None:
    items = OpenItems((line("L1", 500, 13), line("L2", 500, 15)), (entry("B1", 500, 12), entry("B2", 500, 14)))
    found = run_passes(items)
    assert [(m.lines, m.entries) for m in found.matches] == [(("L1",), ("B1",)), (("L2",), ("B2",))]
    assert "interchangeable" in found.matches[0].why


def test_unequal_counts_of_an_amount_are_one_question() -> None:
    items = OpenItems((line("L1", 500, 13),), (entry("B1", 500, 12), entry("B2", 500, 14)))
    found = run_passes(items)
    assert not found.matches
    assert [(q.lines, q.entries) for q in found.questions] == [(("L1",), ("B1", "B2"))]


def test_the_party_named_tells_equal_amounts_apart() -> None:
    one = StatementLine("L1", date(2026, 10, 13), -500, "", "ACH TEAL FREIGHT")
    entries = (
        BookEntry("B1", date(2026, 10, 12), -500, "", "Teal Freight"),
        BookEntry("B2", date(2026, 10, 12), -500, "", "Plover Parcel"),
    )
    assert [(m.entries, m.by) for m in run_passes(OpenItems((one,), entries)).matches] == [
        (("B1",), PassName.AMOUNT_AND_TEXT)
    ]


def test_a_returned_deposit_is_no_wash_when_the_books_have_the_deposit() -> None:
    back = StatementLine("L2", date(2026, 10, 9), -500, "", "RETURNED DEPOSIT")
    found = run_passes(OpenItems((line("L1", 500, 5, "S-9"), back), (entry("B1", 500, 4, "S-9"),)))
    assert [(m.lines, m.entries) for m in found.matches] == [(("L1",), ("B1",))]
    assert found.washes == ()


def test_a_check_that_the_bank_doubled_and_backed_out_washes_beside_its_match() -> None:
    lines = tuple(line(f"L{n}", amount, 5 + n, "2290") for n, amount in enumerate((-700, -700, 700)))
    found = run_passes(OpenItems(lines, (entry("B1", -700, 2, "2290"),)))
    assert len(found.matches) == 1
    assert [w.on_bank for w in found.washes] == [True]
    assert found.left.lines == ()


def test_a_fee_is_not_taken_for_a_check_of_the_same_amount() -> None:
    fee = StatementLine("L", date(2026, 10, 9), -2500, "", "SERVICE CHARGE", LineKind.FEE)
    assert not run_passes(OpenItems((fee,), (entry("B", -2500, 8, "2290"),))).matches


def test_takings_less_a_fee_are_proposed_with_the_fee() -> None:
    found = run_passes(OpenItems((line("L", 187_312, 16),), (entry("B", 190_215, 15),)))
    assert [(p.difference, p.cause) for p in found.proposals] == [(-2_903, Cause.FEE)]


def test_swapped_digits_are_proposed_with_their_cause_and_never_matched() -> None:
    items = OpenItems((line("L", -148000, 8, "2290", LineKind.CHECK),), (entry("B", -184000, 5, "2290"),))
    found = run_passes(items)
    assert not found.matches
    assert (found.proposals[0].cause, found.proposals[0].difference) == (Cause.DIGITS_SWAPPED, 36000)


def test_one_deposit_of_two_receipts_is_matched_as_a_group() -> None:
    items = OpenItems((line("L", 2625, 7, "S0118"),), (entry("B1", 1500, 6, "S-118"), entry("B2", 1125, 6, "S-118")))
    (made,) = run_passes(items).matches
    assert (made.entries, made.by) == (("B1", "B2"), PassName.GROUPS)
    assert made.why == "2 entries make this line: reference S118, 1 day apart"


@given(st.integers(10, 10**7), st.integers(0, 6))
def test_a_swap_of_neighbours_is_found_whatever_the_number(number: int, place: int) -> None:
    """Swapping two neighbouring digits changes a number by exactly 9·d·10^k (arithmetic, no source needed)."""
    digits = list(str(number))
    if place + 1 >= len(digits) or digits[place] == digits[place + 1]:
        return
    digits[place], digits[place + 1] = digits[place + 1], digits[place]
    other = int("".join(digits))
    assert digits_swapped(number, other)
    assert (number - other) % 9 == 0


@pytest.mark.parametrize(("bank", "books"), [(100, 100), (100, -100), (123, 321), (19, 28), (1000, 1090)])
def test_what_is_no_swap_is_not_called_one(bank: int, books: int) -> None:
    assert digits_swapped(bank, books) is None


def test_a_word_that_tells_nobody_apart_still_does_not_once_most_lines_are_matched() -> None:
    """A place in every line of the bank makes no pair of what is left; what is decided still counts."""
    paid = tuple(StatementLine(f"L{n}", date(2026, 9, n), -n, f"90{n}", "Sound Harbor") for n in range(1, 10))
    booked = tuple(BookEntry(f"B{n}", date(2026, 9, n), -n, f"90{n}") for n in range(1, 10))
    out_and_in = tuple(
        StatementLine(f"X{amount}", date(2026, 9, 12), amount, "", "Sound Harbor") for amount in (-70, 70)
    )
    everything = OpenItems(paid + out_and_in, booked)
    found = run_passes(everything)
    assert (len(found.matches), found.washes) == (9, ())
    assert not run_passes(found.left).washes
    assert not run_passes(everything.without(list(found.matches))).washes
