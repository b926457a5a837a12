"""Automatic matching against pandas' outer merge on reference and amount."""

from __future__ import annotations

import random
from collections.abc import Iterator
from datetime import date, timedelta

import pandas as pd

from benchmarks.timing import best, row
from netnaught.core.ledger import BookEntry
from netnaught.core.matching import OpenItems, run_passes
from netnaught.core.statement import LineKind, StatementLine

FIRST = date(2026, 1, 1)


def month(number: int, seed: int = 7) -> OpenItems:
    """So many lines and entries: half with references, a tenth without a partner, amounts that collide."""
    pick = random.Random(seed)
    lines, entries = [], []
    for n in range(number):
        day, amount = FIRST + timedelta(days=pick.randrange(300)), -pick.randrange(100, 5_000_000)
        reference = str(100_000 + n) if n % 2 else ""
        booked = day - timedelta(days=pick.randrange(6))
        lines.append(
            StatementLine(f"L{n}", day, amount, reference.zfill(9) if reference else "", "TEXT", LineKind.OTHER)
        )
        other = amount if n % 10 else amount - 1
        entries.append(BookEntry(f"B{n}", booked, other, reference, "Payee"))
    return OpenItems(tuple(lines), tuple(entries))


def merge(items: OpenItems) -> pd.DataFrame:
    """The reference: an outer merge on reference and amount."""
    bank = pd.DataFrame(
        {"ref": [x.reference.lstrip("0") for x in items.lines], "amount": [x.amount for x in items.lines]}
    )
    books = pd.DataFrame({"ref": [e.reference for e in items.entries], "amount": [e.amount for e in items.entries]})
    return bank.merge(books, how="outer", on=["ref", "amount"], indicator=True)


def run() -> Iterator[str]:
    """100,000 by 100,000, and the growth from half of it."""
    items, half = month(100_000), month(50_000)
    ours, theirs = best(lambda: run_passes(items), 2), best(lambda: merge(items))
    yield row("matching 100,000 lines with 100,000 entries", ours, "pandas outer merge", theirs, "15x, 5 s")
    yield row("the same, doubled from 50,000", ours, "ours on 50,000", best(lambda: run_passes(half), 2), "2.3x")
