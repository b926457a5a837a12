"""A fresh export against what is known: every row and every entry in exactly one difference."""

from __future__ import annotations

from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.ledger import BookEntry
from netnaught.core.reimport import Comparison, Doubt, Known, RowChange, Touches, compare


def entry(ident: str, amount: int, day: int = 5, reference: str = "", payee: str = "P") -> BookEntry:
    return BookEntry(ident, date(2026, 10, day), amount, reference, payee)


def known(
    external: str | None, amount: int, day: int = 5, reference: str = "", touches: Touches = Touches.OPEN
) -> Known:
    return Known(entry(f"n{external}{amount}{reference}", amount, day, reference), external, touches)


def kinds(found: Comparison) -> list[tuple[RowChange, str, str]]:
    return [
        (x.change, str(x.row.id) if x.row else "", (x.known.external_id or "-") if x.known else "")
        for x in found.differences
    ]


def test_what_touches_sealed_periods_comes_first_and_carries_its_shift() -> None:
    have = [
        known("B1", -500),
        known("B2", -40, touches=Touches.SEALED),
        known("B3", 70, touches=Touches.SEALED),
        known("B4", 9),
    ]
    rows = [entry("B1", -510), entry("B2", -45), entry("B5", 3), entry("B4", 9)]
    found = compare(rows, have)
    assert kinds(found) == [
        (RowChange.CHANGED, "B2", "B2"),
        (RowChange.GONE, "", "B3"),
        (RowChange.CHANGED, "B1", "B1"),
        (RowChange.NEW, "B5", ""),
        (RowChange.SAME, "B4", "B4"),
    ]
    assert [x.shift for x in found.differences] == [-5, -70, -10, 3, 0]
    assert found.differences[0].fields == ("amount",)


def test_a_file_of_new_rows_only_says_nothing_of_what_it_lacks() -> None:
    assert kinds(compare([entry("C1", 6, 9)], [known("B1", 5, 9), known("B2", 7, 9)])) == [(RowChange.NEW, "C1", "")]


def test_fewer_days_than_known_are_not_taken_for_removals() -> None:
    found = compare([entry("B2", 7, 9)], [known("B1", 5, 1), known("B2", 7, 9)])
    assert kinds(found) == [(RowChange.OUTSIDE, "", "B1"), (RowChange.SAME, "B2", "B2")]
    assert found.differences[0].shift == 0


def test_what_was_recorded_here_is_recognised_when_it_comes_back() -> None:
    found = compare([entry("B9", -25, 7), entry("B1", 1)], [known(None, -25, 6, "F"), known("B1", 1)])
    assert kinds(found) == [
        (RowChange.NEW, "B9", ""),
        (RowChange.SAME, "B1", "B1"),
    ]  # a day off, and nothing else in common
    same_day = compare([entry("B9", -25, 6)], [known(None, -25, 6, "F")])
    assert kinds(same_day) == [(RowChange.RETURNED, "B9", "-")]
    assert same_day.differences[0].how == "another id, but the same date and amount"
    # Two that could be it: neither is taken.
    twice = compare([entry("B9", -25, 6)], [known(None, -25, 6, "F"), known(None, -25, 6, "G")])
    assert kinds(twice) == [(RowChange.NEW, "B9", "")]


def test_a_recurring_reference_of_another_month_is_not_taken_for_the_old_entry() -> None:
    rent = known("B1", -900, 1, "RENT")
    assert kinds(compare([entry("C1", -900, 30, "RENT")], [rent])) == [(RowChange.NEW, "C1", "")]


def test_turned_signs_and_another_accounts_file_are_noticed() -> None:
    have = [known(f"B{n}", 10 + n) for n in range(4)]
    turned = compare([entry(f"B{n}", -10 - n) for n in range(4)], have)
    assert turned.doubts == (Doubt.TURNED_SIGNS,)
    foreign = compare([entry("X1", 1), entry("X2", 2)], have, frozenset({"X1", "X2"}))
    assert foreign.doubts == (Doubt.OTHER_ACCOUNT,)


_amounts = st.sampled_from([-50, 50, 75])
_ids = st.sampled_from([f"B{n}" for n in range(6)])


@given(
    st.dictionaries(_ids, st.tuples(_amounts, st.integers(1, 4), st.sampled_from(["", "R"])), max_size=6),
    st.dictionaries(_ids, st.tuples(_amounts, st.integers(1, 4), st.sampled_from(["", "R"])), max_size=6),
    st.lists(_amounts, max_size=2),
)
def test_every_row_and_every_entry_is_in_one_difference(
    file: dict[str, tuple[int, int, str]], have: dict[str, tuple[int, int, str]], own: list[int]
) -> None:
    rows = [entry(i, *v) for i, v in file.items()]
    mine = [known(i, *v) for i, v in have.items()] + [
        Known(entry(f"own{n}", amount), None, Touches.OPEN) for n, amount in enumerate(own)
    ]
    found = compare(rows, mine)
    assert sorted(str(x.row.id) for x in found.differences if x.row) == sorted(file)
    met = [str(x.known.entry.id) for x in found.differences if x.known]
    assert len(met) == len(set(met))
    absent = {str(x.known.entry.id) for x in found.of(RowChange.OUTSIDE) if x.known}
    stay = sum(k.entry.amount for k in mine if str(k.entry.id) not in met or str(k.entry.id) in absent)
    after = sum(k.entry.amount for k in mine) + sum(x.shift for x in found.differences)
    assert after == stay + sum(row.amount for row in rows)
