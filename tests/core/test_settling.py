"""Settling open items: found by number, party and exact sum, laid out to the cent, refused with the reason."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from netnaught.core.settling import ItemKind, OpenItem, SettlingRefused, lay_out, propose
from netnaught.core.statement import LineKind, StatementLine

DAY = date(2026, 10, 1)


def item(
    ident: int, owed: int, number: str = "", party: str = "Reef Stores", kind: ItemKind = ItemKind.BILL
) -> OpenItem:
    return OpenItem(ident, kind, party, number or f"R-{100 + ident}", DAY, DAY, owed, owed)


def line(amount: int, text: str = "TRANSFER") -> StatementLine:
    return StatementLine("L", DAY, amount, "", text, LineKind.TRANSFER)


@pytest.mark.parametrize(
    ("amount", "text", "items", "found", "off"),
    [
        # By the numbers in the text, with a fee short, or the first part of one.
        (-900, "PAY R-101 R-103", [item(1, 400), item(2, 500), item(3, 500)], [1, 3], 0),
        (-8_960, "PAY R-101", [item(1, 9_000)], [1], -40),
        (-300, "PAY R-101", [item(1, 9_000)], [1], -8_700),
        # A number inside a longer one is another number.
        (-400, "PAY XR-1012", [item(1, 400, party="")], [1], 0),
        (-400, "PAY R-1012", [item(1, 500, party="")], [], 0),
        # By party and the one exact sum; two ways of making it are a question for a person.
        (-900, "ACH REEF STORES", [item(1, 400), item(2, 500), item(3, 700)], [1, 2], 0),
        (-900, "ACH REEF STORES", [item(1, 400), item(2, 500), item(3, 400)], [], 0),
        # By the only amount; never the other kind.
        (-700, "X", [item(1, 400), item(3, 700)], [3], 0),
        (-700, "X", [item(1, 700), item(3, 700)], [], 0),
        (700, "X", [item(3, 700)], [], 0),
    ],
)
def test_what_a_line_most_likely_settles(
    amount: int, text: str, items: list[OpenItem], found: list[int], off: int
) -> None:
    proposal = propose(line(amount, text), items)
    assert ([i.id for i in proposal.items], proposal.off) == (found, off) if proposal else found == []


@given(st.integers(1, 10**6), st.lists(st.integers(1, 10**6), min_size=1, max_size=5), st.booleans())
def test_a_layout_makes_the_line_to_the_cent_or_is_refused(size: int, owed: list[int], write_off: bool) -> None:
    items = [item(n, amount) for n, amount in enumerate(owed)]
    try:
        layout = lay_out(-size, items, write_off=write_off)
    except SettlingRefused:
        return
    assert sum(p.amount for p in layout.paid) - layout.written + layout.on_account == size
    assert all(0 < p.amount <= p.item.open for p in layout.paid)
    assert not (layout.written and layout.on_account)


@pytest.mark.parametrize(
    ("amount", "items", "write_off", "reason"),
    [
        (-100, [], False, "no open item"),
        (-100, [item(1, 50), item(1, 50)], False, "named twice"),
        (100, [item(1, 50)], False, "R-101 is a bill, which money in cannot settle"),
        (-100, [item(1, 0)], False, "settled already"),
        (-100, [item(1, 100), item(2, 50)], False, "nothing is left for R-102"),
        (-100, [item(1, 100)], True, "nothing is short"),
        (-100, [item(1, 201)], True, "more would be written off than was paid"),
    ],
)
def test_what_cannot_be_settled_is_refused_with_the_reason(
    amount: int, items: list[OpenItem], write_off: bool, reason: str
) -> None:
    with pytest.raises(SettlingRefused, match=reason):
        lay_out(amount, items, write_off=write_off)
