"""Skerry Line's operating account: six ordinary months, and October with its planted cases."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from pathlib import Path

from netnaught.core.ledger import BankAccountKind, BookEntry
from netnaught.core.statement import LineKind, StatementHead, StatementLine
from netnaught.demo.events import Month, OperatingMonth, Teller, numbered
from netnaught.demo.stage import (
    MONTHS,
    STARTS,
    USD,
    Stage,
    bank_books,
    checks_of,
    import_month,
    open_account,
    read_and_seal,
    serve_at_bank,
    statement_of,
)
from netnaught.formats import ReadLine, ReadStatement, write_bank_book, write_ofx
from netnaught.services import bank_book
from netnaught.store.bank_accounts import BankAccount


def build_operating(stage: Stage, files: Path) -> BankAccount:
    """Skerry Line's operating account: April to September sealed, October waiting for its statement."""
    early, late = Teller(2025, "SJ"), Teller(2026, "SK")
    early.check, early.slip = 2088, 11
    start = 3_904_210
    carried = (BookEntry(0, date(2026, 3, 27), -18_000, "2081", "Marram Stationery", "Tickets and paper"),)
    account = open_account(
        stage,
        "1010",
        "Operating account",
        "Lantern Mutual",
        "4410",
        BankAccountKind.BANK,
        (STARTS, start),
        carried,
    )
    balance, pending = start, list[StatementLine]()
    for first, last in MONTHS[:-1]:
        teller = early if first.month < 8 else late
        work = OperatingMonth(teller, first, last)
        work.ordinary(checks=30, receipts=18, keep_last=3)
        work.charges(2_750, {8: 388, 9: 401}.get(first.month, 340 + 9 * first.month))
        if first.month == 7:
            work.book("5210", date(2026, 7, 29), -64_310, "Coble Yard Slip", "Slip repairs", "2221")
            work.bank(date(2026, 8, 5), -64_310, "CHECK", LineKind.CHECK, "0002221")
        if first.month == 8:
            work.book("5400", date(2026, 8, 24), -120_000, "Whin Hill Water", "New tank and meter", "2287")
        balance, pending = _sealed_month(stage, account, work.month, pending, balance)
    _october(stage, account, late, pending, balance, files)
    return account


def _sealed_month(
    stage: Stage, account: BankAccount, month: Month, pending: list[StatementLine], balance: int
) -> tuple[int, list[StatementLine]]:
    """Read, match, record and seal one month; returns the closing balance and lines still to come."""
    lines = numbered(month.lines + [line for line in pending if line.date <= month.last], "LM")
    rest = [line for line in pending if line.date > month.last] + month.later
    closing = balance + sum(line.amount for line in lines)
    after = stage.at(datetime(month.last.year, month.last.month, month.last.day, 14, 5, tzinfo=UTC) + timedelta(days=2))
    import_month(after, account, month)
    data = _ofx(month, lines, closing)
    read_and_seal(after, account, f"lantern-mutual-{month.first:%Y-%m}.ofx", data)
    return closing, rest


def _ofx(month: Month, lines: tuple[StatementLine, ...], closing: int) -> bytes:
    head = StatementHead(month.first, month.last, None, closing)
    reads = tuple(ReadLine(x, str(x.id)) for x in lines)
    return write_ofx(ReadStatement("ofx", "Lantern Mutual", "7004104410", "USD", head, reads), USD, "091000019")


def _october(
    stage: Stage, account: BankAccount, teller: Teller, pending: list[StatementLine], balance: int, files: Path
) -> None:
    """The open month with its planted cases; its statement is left in the folder."""
    work = OperatingMonth(teller, date(2026, 10, 1), date(2026, 10, 31))
    teller.check, teller.slip = 2291, 131
    work.ordinary(checks=36, receipts=30, keep_last=3)
    work.charges(2_750, 412)
    # Two digits swapped: the check was written for 1,480.00.
    work.book("5210", date(2026, 10, 5), -184_000, "Coble Yard Slip", "New rudder bearing", "2290")
    work.bank(date(2026, 10, 8), -148_000, "CHECK", LineKind.CHECK, "0002290")
    # A check cashed late.
    work.bank(date(2026, 10, 19), -120_000, "CHECK", LineKind.CHECK, "0002287")
    # One deposit of two receipts.
    work.book("4200", date(2026, 10, 6), 150_000, "Eider Tours", "Charter balance", "S-118")
    work.book("4100", date(2026, 10, 6), 112_500, "Dunlin School Trips", "Group fares", "S-118")
    work.bank(date(2026, 10, 7), 262_500, "DEPOSIT", LineKind.DEPOSIT, "S0118")
    # Two bills in one transfer.
    work.book("5210", date(2026, 10, 20), -81_240, "Teasel Rope & Chain", "Anchor chain")
    work.book("5210", date(2026, 10, 20), -18_760, "Teasel Rope & Chain", "Shackles")
    work.bank(date(2026, 10, 21), -100_000, "TRANSFER TEASEL ROPE AND CHAIN", LineKind.TRANSFER)
    # Two equal receipts that nothing tells apart.
    for day in (12, 14):
        work.book("4200", date(2026, 10, day), 35_000, "Razorbill Charter", "Charter deposit")
        work.bank(date(2026, 10, day + 1), 35_000, "DEPOSIT", LineKind.DEPOSIT)
    # Recorded and taken back in the books; the bank never saw it.
    work.book("4300", date(2026, 10, 13), 45_000, "Plover Parcel", "Sent in error", "J-88")
    work.book("4300", date(2026, 10, 15), -45_000, "Plover Parcel", "Taken back", "J-88R")
    # On the last day: in transit.
    work.book("4200", date(2026, 10, 31), 54_000, "Avocet Wedding Hire", "Wedding charter", "S-170")
    month = work.month
    lines = numbered(month.lines + [line for line in pending if line.date <= month.last], "LM")
    closing = balance + sum(line.amount for line in lines)
    now = stage.at(datetime(2026, 11, 2, 8, 30, tzinfo=UTC))
    import_month(now, account, month)
    (files / "lantern-mutual-2026-10.ofx").write_bytes(_ofx(month, lines, closing))
    statement = statement_of("Lantern Mutual", "7004104410", "USD", month, lines, balance)
    later = [line for line in pending if line.date > month.last] + month.later
    serve_at_bank(files, bank_books("operating", statement, checks_of(now, account), numbered(later, "LM")))
    still_open = [
        row.stored.entry for row in bank_book.read_book(now.ctx, stage.company.id, account.id) if row.clearing is None
    ]
    (files / "operating-book-2026-10.csv").write_bytes(write_bank_book(still_open, USD))
