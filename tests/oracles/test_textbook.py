"""A worked textbook reconciliation, in the two-sided form.

Weygandt, Kimmel, Kieso, Accounting Principles, chapter on cash, the bank reconciliation of
W. A. Laird Company (figures from memory): balance per bank 15,907.45, deposit in transit
2,201.40, outstanding checks 3,000.00, 1,401.30, 1,502.70; balance per books 11,589.45, note
collected 1,035.00, error of 36.00 on a check of 1,226.00 entered as 1,262.00, returned check
425.60, service charge 30.00; adjusted on both sides 12,204.85.
"""

from __future__ import annotations

from datetime import date

from netnaught.core.alignment import RowKind, align
from netnaught.core.ledger import BookEntry
from netnaught.core.reconciliation import Decision, DecisionKind, Past, Work, standing
from netnaught.core.statement import LineKind, StatementLine

END = date(2026, 4, 30)
OPENING = 1_000_000
CLOSING, BOOKS, ADJUSTED = 1_590_745, 1_158_945, 1_220_485
OUTSTANDING = (("453", -300_000), ("457", -140_130), ("460", -150_270))
NOTE, RETURNED, CHARGE = 103_500, -42_560, -3_000


def entry(ident: str, amount: int, reference: str = "") -> BookEntry:
    return BookEntry(ident, END, amount, reference)


def line(ident: str, amount: int, reference: str = "") -> StatementLine:
    return StatementLine(ident, END, amount, reference, ident, LineKind.CHECK if reference else LineKind.OTHER)


def before_posting() -> Work:
    """The month as it stands: the check of 1,226.00 is in the books for 1,262.00."""
    items = [entry("deposit", 220_140), entry("443", -126_200, "443")]
    items += [entry(number, amount, number) for number, amount in OUTSTANDING]
    rest = BOOKS - OPENING - sum(e.amount for e in items)
    items.append(entry("the month", rest))
    lines = [line("the month", rest), line("443", -122_600, "443")]
    lines += [line("note", NOTE), line("returned check", RETURNED), line("service charge", CHARGE)]
    matched = Decision("d", DecisionKind.MATCH, ("the month",), ("the month",))
    return Work(END, CLOSING, Past(OPENING), tuple(lines), tuple(items), (matched,))


def test_the_month_as_given_ties_to_both_balances() -> None:
    work = before_posting()
    now = standing(work)
    assert OPENING + sum(x.amount for x in work.lines) == CLOSING
    assert now.book_balance == BOOKS
    assert now.difference == NOTE + RETURNED + CHARGE - 122_600


def test_the_slip_of_digits_is_proposed() -> None:
    offers = [row.proposal for row in align(before_posting()) if row.kind is RowKind.PROPOSAL]
    assert [offer.difference for offer in offers if offer] == [3_600]


def test_after_posting_both_sides_come_to_the_textbook_s_figure() -> None:
    work = before_posting()
    corrected = [entry("443", -122_600, "443") if e.id == "443" else e for e in work.entries]
    posted = [entry("note", NOTE), entry("returned check", RETURNED), entry("service charge", CHARGE)]
    names = ("443", "note", "returned check", "service charge")
    decisions = work.decisions + tuple(Decision(n, DecisionKind.MATCH, (n,), (n,)) for n in names)
    now = standing(Work(END, CLOSING, work.past, work.lines, (*corrected, *posted), decisions))
    assert now.complete
    assert (now.adjusted_balance, now.book_balance) == (ADJUSTED, ADJUSTED)
