"""A ledger's detail exported afresh: every entry once, and what applying it does to the control accounts."""

from __future__ import annotations

from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.ledger import JournalEntry, JournalLine
from netnaught.core.reimport import KnownJournal, RowChange, Touches, compare_journals
from tests.strategies import START, colliding, days

BANK, CARD, COSTS = 1, 2, 3
SEALED_TO = {BANK: START + timedelta(days=30), CARD: date.min}


def entry(day: date, amount: int, control: int = BANK, memo: str = "memo") -> JournalEntry:
    return JournalEntry(day, memo, (JournalLine(control, amount, amount), JournalLine(COSTS, -amount, -amount)))


entries = st.builds(entry, days, colliding, st.sampled_from([BANK, CARD]))
ids = st.sampled_from([f"J{n}" for n in range(8)])
deleted = st.sampled_from(["", "", "", "by hand", "read again"])


@st.composite
def known_journals(draw: st.DrawFn) -> list[KnownJournal]:
    named = draw(st.dictionaries(ids, st.tuples(entries, deleted)))
    exported = draw(st.lists(entries, max_size=3))
    stored = [KnownJournal(n, ident, of, deleted=how) for n, (ident, (of, how)) in enumerate(named.items())]
    return stored + [KnownJournal(100 + n, None, of, made_here=True) for n, of in enumerate(exported)]


def balance(found: list[JournalEntry]) -> dict[int, int]:
    return {
        account: sum(line.base_amount for of in found for line in of.lines if line.gl_account_id == account)
        for account in SEALED_TO
    }


@given(st.dictionaries(ids, entries, min_size=1), known_journals())
def test_every_entry_is_in_one_difference_and_the_shifts_are_what_applying_does(
    rows: dict[str, JournalEntry], known: list[KnownJournal]
) -> None:
    found = compare_journals(rows, known, SEALED_TO).differences
    assert sorted(x.row_id for x in found if x.row) == sorted(rows)
    met = [x.known.id for x in found if x.known]
    assert len(met) == len(set(met))
    standing = {k.id: k.entry for k in known if not k.deleted}
    before = balance(list(standing.values()))
    for n, x in enumerate(found):
        if x.change in (RowChange.GONE, RowChange.OUTSIDE) and x.known:
            del standing[x.known.id]
        elif x.change is RowChange.NEW and x.row:
            standing[1000 + n] = x.row
        elif x.change in (RowChange.CHANGED, RowChange.BACK) and x.row and x.known:
            standing[x.known.id] = x.row
        elif x.change in (RowChange.SAME, RowChange.RETURNED) and x.row and x.known:
            assert x.row.date == x.known.entry.date
    after = balance(list(standing.values()))
    shifts = {account: sum(n for x in found for a, n in x.shifts if a == account) for account in SEALED_TO}
    assert after == {account: before[account] + shifts[account] for account in SEALED_TO}


def test_differences_stand_by_consequence_sealed_days_first() -> None:
    late, early = START + timedelta(days=40), START
    known = [
        KnownJournal(1, "J1", entry(late, 100)),
        KnownJournal(2, "J2", entry(early, 200)),
        KnownJournal(3, "J3", entry(early, 300, CARD)),
        KnownJournal(4, "J4", entry(late, 500), belongs_to="an entry of Operating"),
    ]
    rows = {
        "J1": entry(late, 101),
        "J2": entry(late, 200),
        "J3": entry(early, 300, CARD, "another memo"),
        "J4": entry(late, 501),
        "J5": entry(early, 5),
    }
    found = compare_journals(rows, known, SEALED_TO)
    assert [(x.change, x.touches, x.row_id, x.fields) for x in found.differences] == [
        (RowChange.CHANGED, Touches.SEALED, "J2", ("date",)),
        (RowChange.NEW, Touches.SEALED, "J5", ()),
        (RowChange.CHANGED, Touches.OPEN, "J3", ("memo",)),
        (RowChange.CHANGED, Touches.OPEN, "J1", ("lines",)),
        (RowChange.HELD, Touches.OPEN, "J4", ("lines",)),
    ]
    assert [x.row_id for x in found.differences if x.alters] == ["J2"]
    assert compare_journals({"J3": rows["J3"]}, known[2:3], SEALED_TO, with_memos=False).of(RowChange.SAME)


def test_equal_entries_come_back_together_and_of_an_unequal_number_none_is_taken_for_another() -> None:
    here = [KnownJournal(n, None, entry(START, 100), made_here=True) for n in (1, 2)]
    both = compare_journals({"J1": entry(START, 100), "J2": entry(START, 100)}, here, SEALED_TO)
    assert {(x.change, x.row_id) for x in both.differences} == {(RowChange.RETURNED, "J1"), (RowChange.RETURNED, "J2")}
    (one,) = compare_journals({"J1": entry(START, 100)}, here, SEALED_TO).differences
    assert (one.change, one.how) == (RowChange.NEW, "others of the same day and postings were exported from here")
