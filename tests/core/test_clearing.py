"""Clearing accounts: every posting in one group, settled groups at zero, remainders that make the balance."""

from __future__ import annotations

from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.clearing import Posting, SettledBy, settle

DAY = date(2026, 10, 1)


def posting(ident: int, amount: int, party: str = "", reference: str = "") -> Posting:
    return Posting(ident, DAY, amount, party, reference)


def test_references_settle_before_parties_and_the_rest_is_owed_or_without_cause() -> None:
    found = settle(
        [
            posting(1, 500, "Reef Tours", "B-17"),
            posting(2, -500, "Processor", "b 017"),
            posting(3, 300, "Island Guests"),
            posting(4, -200, "island guests "),
            posting(5, -100, "Island Guests", "X1"),
            posting(6, 900, "Cove Charter"),
            posting(7, -150, "Cove Charter"),
            posting(8, 40, "Late Boat"),
            posting(9, -70, ""),
        ]
    )
    assert [(g.by, g.name, [p.id for p in g.postings]) for g in found.settled] == [
        (SettledBy.REFERENCE, "B-17", [1, 2]),
        (SettledBy.PARTY, "Island Guests", [3, 4, 5]),
    ]
    assert [(g.name, g.remainder) for g in found.owed] == [("Cove Charter", 750), ("Late Boat", 40)]
    assert [(g.name, g.remainder) for g in found.without_cause] == [("no party", -70)]


@given(
    st.lists(
        st.tuples(st.integers(-5, 5), st.sampled_from(["", "A", "B"]), st.sampled_from(["", "1", "2"])), max_size=30
    )
)
def test_every_posting_is_in_one_group_and_the_remainders_make_the_balance(rows: list[tuple[int, str, str]]) -> None:
    given_ones = [posting(n, amount, party, ref) for n, (amount, party, ref) in enumerate(rows)]
    found = settle(given_ones)
    groups = (*found.settled, *found.owed, *found.without_cause)
    assert sorted(int(p.id) for g in groups for p in g.postings) == list(range(len(rows)))
    assert all(group.remainder == 0 for group in found.settled)
    assert found.balance == sum(p.amount for p in given_ones)
