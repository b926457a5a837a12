"""Generators for property tests, all in one place."""

from __future__ import annotations

from datetime import date, timedelta

from hypothesis import strategies as st

from netnaught.core.ledger import BookEntry
from netnaught.core.matching import OpenItems
from netnaught.core.reconciliation import Decision, DecisionKind, Past, Work
from netnaught.core.statement import LineKind, StatementLine

START = date(2026, 9, 1)

days = st.integers(0, 60).map(lambda n: START + timedelta(days=n))
amounts = st.integers(-200_000, 200_000).filter(bool)
# Few values, so that equal amounts and references collide as they do in real months.
colliding = st.sampled_from([-5000, -2500, 2500, 5000, 7500, -100])
references = st.sampled_from(["", "", "101", "0101", "Check 101", "102", "S-9", "S09", "TRACE 77"])


def lines(size: int = 12, of: st.SearchStrategy[int] = colliding) -> st.SearchStrategy[tuple[StatementLine, ...]]:
    """Statement lines with ids L1, L2, …"""
    row = st.tuples(days, of, references, st.sampled_from([LineKind.OTHER, LineKind.CHECK]))
    return st.lists(row, max_size=size).map(
        lambda rows: tuple(
            StatementLine(f"L{n}", day, a, ref, "text", kind) for n, (day, a, ref, kind) in enumerate(rows)
        )
    )


def entries(size: int = 12, of: st.SearchStrategy[int] = colliding) -> st.SearchStrategy[tuple[BookEntry, ...]]:
    """Book entries with ids B1, B2, …"""
    row = st.tuples(days, of, references)
    return st.lists(row, max_size=size).map(
        lambda rows: tuple(BookEntry(f"B{n}", day, a, ref, "payee") for n, (day, a, ref) in enumerate(rows))
    )


open_items = st.builds(OpenItems, lines(), entries())


@st.composite
def works(draw: st.DrawFn) -> Work:
    """A reconciliation in any state: some lines and entries matched, ticked, washed or taken as bank errors."""
    own, booked = draw(lines(of=amounts)), list(draw(entries(of=amounts)))
    decisions: list[Decision] = []
    for line in own:
        fate = draw(st.sampled_from(["open", "match", "error"]))
        if fate == "match":
            entry = BookEntry(f"M{line.id}", draw(days), line.amount)
            booked.append(entry)
            decisions.append(Decision(f"D{line.id}", DecisionKind.MATCH, (line.id,), (entry.id,)))
        elif fate == "error":
            decisions.append(Decision(f"D{line.id}", DecisionKind.BANK_ERROR, (line.id,)))
    if not own:
        for entry in list(booked):
            if draw(st.booleans()):
                decisions.append(Decision(f"T{entry.id}", DecisionKind.TICK, (), (entry.id,)))
    past = Past(opening=draw(amounts))
    closing = draw(st.one_of(st.none(), amounts))
    end = START + timedelta(days=draw(st.integers(0, 60)))
    return Work(end, closing, past, own, tuple(booked), tuple(decisions))
