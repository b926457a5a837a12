"""Building the demo with the product's own use cases: months are read, matched and sealed, not faked."""

from __future__ import annotations

import shutil
from calendar import monthrange
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

from netnaught.core.ledger import AccountKind, BankAccountKind, BookEntry
from netnaught.core.money import currency
from netnaught.core.settling import ItemKind
from netnaught.core.statement import LineKind, StatementHead, StatementLine
from netnaught.demo.events import Month, OperatingMonth, Teller, numbered
from netnaught.demo.files import bai2_file, card_csv, mt940_file
from netnaught.formats import ReadLine, ReadStatement, write_bank_book, write_camt053, write_ofx, write_xlsx
from netnaught.services import bank_book, coding, deciding, open_items, reading, recording, sealing, setup, spine
from netnaught.services import starting as starting_books
from netnaught.services.access import Context, Role
from netnaught.services.errors import Refused
from netnaught.services.starting import Start
from netnaught.standins.bank import BankBooks, load_books, save_books
from netnaught.standins.paper import statement_pdf
from netnaught.store import companies, connections
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.coding import Party
from netnaught.store.companies import Company
from netnaught.store.database import DATABASE, Connection, atomic, connect, migrate

DEMO_PASSWORD = "quiet-harbor-26"  # noqa: S105  printed for everyone who runs the demo
DEMO_USERS = (
    ("iris.hale@skerryline.example", "Iris Hale", Role.OWNER),
    ("tam.rowe@skerryline.example", "Tam Rowe", Role.PREPARER),
    ("vera.lund@skerryline.example", "Vera Lund", Role.VIEWER),
)
MARKER = "DEMO"
BANK_FILE = "bank.json"
USD = currency("USD")

CHART = (
    ("1010", "Operating account", AccountKind.ASSET),
    ("1020", "Payroll account", AccountKind.ASSET),
    ("1025", "Transfers between accounts", AccountKind.ASSET),
    ("1030", "Ticket-card clearing", AccountKind.ASSET),
    ("1035", "Card takings on their way", AccountKind.ASSET),
    ("1040", "Quay cash box", AccountKind.ASSET),
    ("1050", "Canadian-dollar account", AccountKind.ASSET),
    ("1090", "Suspense", AccountKind.ASSET),
    ("1200", "Receivables", AccountKind.ASSET),
    ("2010", "Fuel card", AccountKind.LIABILITY),
    ("2100", "Payables", AccountKind.LIABILITY),
    ("2200", "Sales tax", AccountKind.LIABILITY),
    ("3000", "Owners' equity", AccountKind.EQUITY),
    ("4100", "Fares", AccountKind.INCOME),
    ("4200", "Charters", AccountKind.INCOME),
    ("4300", "Freight", AccountKind.INCOME),
    ("4900", "Interest received", AccountKind.INCOME),
    ("5100", "Fuel", AccountKind.EXPENSE),
    ("5200", "Harbor dues", AccountKind.EXPENSE),
    ("5210", "Slip repairs", AccountKind.EXPENSE),
    ("5300", "Galley and crew", AccountKind.EXPENSE),
    ("5350", "Crew pay", AccountKind.EXPENSE),
    ("5400", "Office and utilities", AccountKind.EXPENSE),
    ("5500", "Insurance", AccountKind.EXPENSE),
    ("5900", "Bank charges", AccountKind.EXPENSE),
)
TRUST_CHART = (
    ("1010", "Checking account", AccountKind.ASSET),
    ("3000", "Trust funds", AccountKind.EQUITY),
    ("4100", "Visitor tickets", AccountKind.INCOME),
    ("4200", "Grants", AccountKind.INCOME),
    ("5100", "Dome upkeep", AccountKind.EXPENSE),
    ("5900", "Bank charges", AccountKind.EXPENSE),
)


# Six months are sealed; October is open.
MONTHS = tuple((date(2026, month, 1), date(2026, month, monthrange(2026, month)[1])) for month in range(4, 11))
OPEN_MONTH = 10
CYCLES = tuple((date(2026, month - 1, 21), date(2026, month, 20)) for month in range(4, 11))
STARTS = date(2026, 3, 31)
# The months before this one have dice of their own, so that they change nothing about the later ones.
_OWN_DICE_FROM = 9


class NotADemo(RuntimeError):
    """The directory holds a database that is not a demo: it is left alone."""


@dataclass(frozen=True, slots=True)
class Stage:
    """A company being built: whose hands, which accounts."""

    ctx: Context
    company: Company
    gl: dict[str, int]

    def at(self, when: datetime) -> Stage:
        """The same at another time."""
        return replace(self, ctx=replace(self.ctx, now=when))


def build_demo(data: Path, bank_address: str = "http://127.0.0.1:8027") -> Path:
    """Build the demo afresh in a directory; returns the folder with the files to read in.

    `bank_address`: where the stand-in bank will be served.

    NotADemo when the directory holds a database that this did not build.
    """
    if (data / DATABASE).exists() and not (data / MARKER).exists():
        raise NotADemo(f"{data / DATABASE} is no demo; it is left as it is")
    for old in data.glob(f"{DATABASE}*"):
        old.unlink()
    shutil.rmtree(data / "files", ignore_errors=True)
    (data / BANK_FILE).unlink(missing_ok=True)
    files = data / "files"
    files.mkdir(parents=True)
    (data / MARKER).write_text("This directory is built afresh by `netnaught demo`.\n")
    db = connect(data / DATABASE)
    try:
        migrate(db)
        with atomic(db):
            _build(db, files, bank_address)
    finally:
        db.close()
    return files


def _build(db: Connection, files: Path, bank_address: str) -> None:
    began = datetime(2026, 3, 31, 9, 0, tzinfo=UTC)
    stamp = began.isoformat(timespec="seconds").replace("+00:00", "Z")
    people = [setup.add_user(db, email, name, DEMO_PASSWORD, stamp) for email, name, _ in DEMO_USERS]
    skerry = setup.found_company(db, "Skerry Line", "USD", "en_US", stamp)
    trust = setup.found_company(db, "Fernhollow Observatory Trust", "USD", "en_US", stamp)
    for user, (_, _, role) in zip(people, DEMO_USERS, strict=True):
        companies.set_role(db, skerry.id, user.id, role)
    companies.set_role(db, trust.id, people[0].id, Role.OWNER)
    ctx = Context(db, people[0], began)
    stage = _stage(ctx, skerry, CHART)
    build_coding(stage)
    build_open_items(stage, files)
    operating = build_operating(stage, files)
    build_cash_box(_stage(ctx, skerry, ()))
    payroll = build_payroll(_stage(ctx, skerry, ()), files)
    for account, remote in ((operating, "operating"), (payroll, "payroll")):
        connections.connect_account(db, skerry.id, account.id, bank_address, remote, people[0].id, stamp)
    build_card_clearing(_stage(ctx, skerry, ()), files)
    build_fuel_card(_stage(ctx, skerry, ()), files)
    build_canadian(_stage(ctx, skerry, ()), files)
    build_trust(_stage(ctx, trust, TRUST_CHART), files)


def _tellers(seed: int, prefix: str, check: int = 2224) -> Callable[[date], Teller]:
    """The teller of each month: earlier months have one of their own."""
    early, late = Teller(seed + 1000, f"{prefix}E"), Teller(seed, prefix)
    early.check, late.check = check - 100, check
    return lambda first: late if first.month >= _OWN_DICE_FROM else early


def _stage(ctx: Context, company: Company, chart: tuple[tuple[str, str, AccountKind], ...]) -> Stage:
    for number, name, kind in chart:
        setup.add_gl_account(ctx, company.id, number, name, kind)
    return Stage(ctx, company, {a.number: a.id for a in setup.chart_of_accounts(ctx, company.id)})


def _open(
    stage: Stage,
    gl: str,
    name: str,
    bank: str,
    number: str,
    kind: BankAccountKind,
    starting: tuple[date, int],
    outstanding: tuple[BookEntry, ...] = (),
    code: str = "USD",
) -> BankAccount:
    account = setup.open_bank_account(
        stage.ctx,
        stage.company.id,
        gl_account_id=stage.gl[gl],
        name=name,
        bank=bank,
        number=number,
        kind=kind,
        code=code,
        starting_date=starting[0],
        starting_balance=starting[1],
    )
    elsewhere = code != stage.company.currency
    start = Start(starting[0], starting[1], outstanding, None if elsewhere else stage.gl["3000"])
    starting_books.write_start(stage.ctx, stage.company.id, account.id, start)
    return account


def _import(stage: Stage, account: BankAccount, month: Month) -> None:
    """The month's entries, one import for each other account; "" where the ledger is kept elsewhere."""
    of = currency(account.currency)
    for number in sorted({number for number, _ in month.entries}):
        rows = [entry for gl, entry in month.entries if gl == number]
        name = f"book-{number or 'elsewhere'}-{month.first:%Y-%m}.csv"
        other = stage.gl[number] if number else None
        bank_book.import_book(stage.ctx, stage.company.id, account.id, name, write_bank_book(rows, of), other)


def _statement(
    bank: str, account: str, code: str, month: Month, lines: tuple[StatementLine, ...], opening: int
) -> ReadStatement:
    """The bank's statement of a month, with both balances."""
    head = StatementHead(month.first, month.last, opening, opening + sum(x.amount for x in lines))
    return ReadStatement("", bank, account, code, head, tuple(ReadLine(x, str(x.id)) for x in lines))


def _leave(files: Path, name: str, data: bytes, first: date) -> None:
    """Leave the files of the last two months in the folder; earlier ones lie with their statements."""
    if first.month >= OPEN_MONTH - 1:
        (files / name).write_bytes(data)


def _sealed(stage: Stage, account: BankAccount, name: str, data: bytes, fees: str = "5900") -> None:
    """Read, match, record fees and interest, and seal."""
    at = reading.store_file(stage.ctx, stage.company.id, account.id, name, data)
    deciding.apply_passes(stage.ctx, stage.company.id, at, frozenset())
    work = spine.view(stage.ctx, stage.company.id, at).bench.work
    resolved = {item for d in work.decisions for item in d.lines}
    for line in work.lines:
        if line.id not in resolved:
            _record(stage, at, account, line, fees)
    sealing.seal(stage.ctx, stage.company.id, at)


def _record(stage: Stage, at: int, account: BankAccount, line: StatementLine, fees: str) -> None:
    if line.kind not in (LineKind.FEE, LineKind.INTEREST):
        raise Refused(f"The demo leaves {line.description} of {account.name} open.")
    number, memo = (fees, "Service charge") if line.kind is LineKind.FEE else ("4900", "Interest")
    recording.record_line(
        stage.ctx,
        stage.company.id,
        at,
        int(line.id),
        other_account_id=stage.gl[number],
        payee=account.bank,
        memo=memo,
    )


def build_operating(stage: Stage, files: Path) -> BankAccount:
    """Skerry Line's operating account: April to September sealed, October waiting for its statement."""
    early, late = Teller(2025, "SJ"), Teller(2026, "SK")
    early.check, early.slip = 2088, 11
    start = 3_904_210
    carried = (BookEntry(0, date(2026, 3, 27), -18_000, "2081", "Marram Stationery", "Tickets and paper"),)
    account = _open(
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
    _import(after, account, month)
    data = _ofx(month, lines, closing)
    _sealed(after, account, f"lantern-mutual-{month.first:%Y-%m}.ofx", data)
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
    _import(now, account, month)
    (files / "lantern-mutual-2026-10.ofx").write_bytes(_ofx(month, lines, closing))
    statement = _statement("Lantern Mutual", "7004104410", "USD", month, lines, balance)
    later = [line for line in pending if line.date > month.last] + month.later
    _serve_at_bank(files, _bank_books("operating", statement, _checks(now, account), numbered(later, "LM")))
    still_open = [
        row.stored.entry for row in bank_book.read_book(now.ctx, stage.company.id, account.id) if row.clearing is None
    ]
    (files / "operating-book-2026-10.csv").write_bytes(write_bank_book(still_open, USD))


def build_coding(stage: Stage) -> None:
    """What Skerry Line codes with: departments, a tax, parties with their usual account, two rules."""
    args = (stage.ctx, stage.company.id)
    departments = {name: coding.add_department(*args, name) for name in ("Ferries", "Workboat", "Office")}
    coding.add_tax_code(*args, "ST", 62_500, stage.gl["2200"])
    for name, number, department in (
        ("Gannet Fuel Dock", "5100", "Ferries"),
        ("Coble Yard Slip", "5210", "Ferries"),
        ("Marram Stationery", "5400", "Office"),
    ):
        coding.write_party(*args, Party(0, name, stage.gl[number], None, departments[department]))
    for name, text, number, department, at_once in (
        ("Sent back by the cardholder", "sent back", "4100", "Ferries", False),
        ("Late fee of the card", "late fee", "5900", "Workboat", True),
    ):
        share = {"gl_account_id": stage.gl[number], "department_id": departments[department]}
        coding.add_rule(*args, {"name": name, "text": text, "at_once": at_once, "shares": [share]})


OPEN_ITEMS = """id,kind,party,number,date,due,amount,currency
B-901,bill,Reef Stores,RS-2207,2026-09-14,2026-10-14,412.60,USD
B-902,bill,Reef Stores,RS-2231,2026-09-21,2026-10-21,188.15,USD
B-903,bill,Reef Stores,RS-2254,2026-09-28,2026-10-28,96.40,USD
B-904,bill,Coble Yard Slip,CY-88,2026-10-20,2026-11-19,2480.00,USD
I-311,invoice,Turnstone Lodge,SL-1047,2026-10-02,2026-11-01,640.00,USD
I-312,invoice,Eider Tours,SL-1051,2026-10-18,2026-11-17,1320.00,USD
"""


def build_open_items(stage: Stage, files: Path) -> None:
    """Unpaid invoices and bills; October's card statement pays three bills at once, short by a fee."""
    (files / "open-items.csv").write_text(OPEN_ITEMS)
    accounts: dict[ItemKind, int | None] = {
        ItemKind.INVOICE: stage.gl["1200"],
        ItemKind.BILL: stage.gl["2100"],
    }
    open_items.import_items(stage.ctx, stage.company.id, "open-items.csv", OPEN_ITEMS.encode(), accounts)


def build_cash_box(stage: Stage) -> None:
    """The quay cash box: counted, no bank; six months sealed, October counted and being ticked."""
    tellers = _tellers(77, "QC")
    account = _open(stage, "1040", "Quay cash box", "", "", BankAccountKind.CASH, (STARTS, 15_000))
    balance = 15_000
    for first, last in MONTHS:
        teller = tellers(first)
        work = OperatingMonth(teller, first, last)
        for week in range(4):
            day = first + timedelta(days=5 + 7 * week)
            work.book(
                "4100",
                day,
                teller.amount(180, 420),
                "Quay ticket window",
                "Cash fares of the week",
                f"Q{first:%m}{week + 1}",
            )
            work.book("5300", day + timedelta(days=1), -teller.amount(20, 60), "Ebb Street Market", "Milk and coffee")
        banked = -sum(entry.amount for _, entry in work.month.entries) + teller.amount(10, 40)
        work.book("1090", last - timedelta(days=1), banked, "Banked at Lantern Mutual", "Takings carried to the bank")
        counted = balance + sum(entry.amount for _, entry in work.month.entries)
        now = stage.at(datetime(last.year, last.month, last.day, 17, 30, tzinfo=UTC))
        _import(now, account, work.month)
        head = StatementHead(first, last, None, counted)
        at = reading.store_typed(now.ctx, stage.company.id, account.id, head)
        entries = [int(entry.id) for entry in spine.view(now.ctx, stage.company.id, at).bench.work.entries]
        deciding.tick(now.ctx, stage.company.id, at, entries if first.month != OPEN_MONTH else entries[:5])
        if first.month != OPEN_MONTH:
            sealing.seal(now.ctx, stage.company.id, at)
        balance = counted


def build_trust(stage: Stage, files: Path) -> None:
    """Fernhollow Observatory Trust: six months sealed, October read in and half done."""
    tellers = _tellers(12, "FO")
    account = _open(
        stage,
        "1010",
        "Checking account",
        "Hollow Valley Bank",
        "8105",
        BankAccountKind.BANK,
        (STARTS, 640_250),
    )
    balance = 640_250
    for first, last in MONTHS:
        teller = tellers(first)
        work = OperatingMonth(teller, first, last)
        for week in range(4):
            day = first + timedelta(days=2 + 7 * week)
            amount = teller.amount(150, 600)
            work.book("4100", day, amount, "Visitor tickets", "Weekend visitors")
            work.bank(day + timedelta(days=2), amount, "DEPOSIT TICKETS", LineKind.DEPOSIT)
        repair = -teller.amount(90, 400)
        work.book(
            "5100",
            first + timedelta(days=9),
            repair,
            "Larch Roofing",
            "Dome upkeep",
            str(309 + first.month),
        )
        work.bank(first + timedelta(days=15), repair, "CHECK", LineKind.CHECK, str(309 + first.month))
        if first.month == 10:
            work.bank(date(2026, 10, 30), -1_620, "PAPER STATEMENT FEE", LineKind.FEE)
        lines = numbered(work.month.lines, "HV")
        balance += sum(line.amount for line in lines)
        now = stage.at(datetime(last.year, last.month, last.day, 19, 0, tzinfo=UTC) + timedelta(days=1))
        _import(now, account, work.month)
        name = f"hollow-valley-{first:%Y-%m}.pdf"
        opening = balance - sum(line.amount for line in lines)
        data = statement_pdf(_statement("Hollow Valley Bank", "88008105", "USD", work.month, lines, opening), USD)
        _leave(files, name, data, first)
        if first.month != OPEN_MONTH:
            _sealed(now, account, name, data)
        else:
            at = reading.store_file(now.ctx, stage.company.id, account.id, name, data)
            deciding.apply_passes(now.ctx, stage.company.id, at, frozenset())


def build_payroll(stage: Stage, files: Path) -> BankAccount:
    """Skerry Line's payroll account: six months sealed; October is fetched from the stand-in bank."""
    tellers = _tellers(31, "PR", check=701)
    start = 1_250_000
    account = _open(stage, "1020", "Payroll account", "Lantern Mutual", "4428", BankAccountKind.BANK, (STARTS, start))
    pending: list[StatementLine] = []
    for first, last in MONTHS:
        teller = tellers(first)
        work = OperatingMonth(teller, first, last)
        for run in (14, 28):
            on = teller.business_day(first + timedelta(days=run - 1))
            for name in CREW:
                amount = -teller.amount(980, 1_640)
                reference = str(teller.check)
                teller.check += 1
                work.book("5350", on, amount, name, "Crew pay", reference)
                work.bank(teller.business_day(on + teller.lag(0, 6)), amount, "CHECK", LineKind.CHECK, reference)
            paid = -sum(entry.amount for _, entry in work.month.entries[-len(CREW) :])
            work.book("1025", on, paid, "Operating account", "For the pay run", f"T{first:%m}{run}")
            work.bank(on, paid, "TRANSFER FROM 4410", LineKind.TRANSFER, f"T{first:%m}{run}")
        work.bank(first + timedelta(days=8), -1_200, "SERVICE CHARGE", LineKind.FEE)
        if first.month == OPEN_MONTH:
            _double(work)
        lines = numbered(work.month.lines + [x for x in pending if x.date <= last], "LP")
        pending = [x for x in pending if x.date > last] + work.month.later
        now = stage.at(datetime(last.year, last.month, last.day, 15, 0, tzinfo=UTC) + timedelta(days=2))
        _import(now, account, work.month)
        statement = _statement("Lantern Mutual", "7004104428", "USD", work.month, lines, start)
        if first.month != OPEN_MONTH:
            _sealed(now, account, f"lantern-mutual-4428-{first:%Y-%m}.ofx", write_ofx(statement, USD, "091000019"))
        start = statement.head.closing or 0
        books = _bank_books("payroll", statement, _checks(now, account), numbered(pending, "LP"))
    _serve_at_bank(files, books)
    return account


def _double(work: OperatingMonth) -> None:
    """Planted: a check that the bank posted twice and backed out, and one that the books have twice."""
    by_bank = next(x for x in work.month.lines if x.kind is LineKind.CHECK)
    for days, amount, text in ((1, by_bank.amount, "CHECK"), (3, -by_bank.amount, "CHECK POSTED IN ERROR BACKED OUT")):
        work.bank(by_bank.date + timedelta(days=days), amount, text, LineKind.CHECK, by_bank.reference)
    number, twice = next(item for item in reversed(work.month.entries) if item[1].reference.isdigit())
    work.book(number, twice.date, twice.amount, twice.payee, twice.memo, twice.reference)


CREW = ("Ann Petrel", "Bo Guillemot", "Cal Fulmar", "Dee Shearwater", "Eli Gannet", "Fay Kittiwake")


def _checks(stage: Stage, account: BankAccount) -> dict[str, dict[str, str]]:
    """Payee and memo of every check that was written: what the bank's images show."""
    book = [row.stored.entry for row in bank_book.read_book(stage.ctx, stage.company.id, account.id)]
    return {e.reference: {"payee": e.payee, "memo": e.memo} for e in book if e.reference.isdigit()}


def _bank_books(
    ident: str, statement: ReadStatement, checks: dict[str, dict[str, str]], later: tuple[StatementLine, ...]
) -> BankBooks:
    """What the stand-in bank knows of an account: the month that is complete, and what has come since."""
    head = statement.head
    lines = [read.line for read in statement.lines] + [x for x in later if x.date > head.end]
    return BankBooks(
        id=ident,
        number=statement.account,
        bank=statement.bank,
        bank_id="091000019",
        currency=statement.currency or "USD",
        opening=head.opening or 0,
        opened=head.start,
        complete_until=head.end,
        lines=lines,
        checks=checks,
    )


def _serve_at_bank(files: Path, books: BankBooks) -> None:
    """Add an account to what the stand-in bank serves."""
    file = files.parent / BANK_FILE
    save_books(file, [*(load_books(file) if file.exists() else []), books])


def build_card_clearing(stage: Stage, files: Path) -> None:
    """Takings by card at Bank of the Sound, settled with a monthly fee: six months sealed, October's BAI2 file waits."""
    tellers = _tellers(53, "CC")
    balance = 321_400
    account = _open(
        stage,
        "1030",
        "Ticket-card clearing",
        "Bank of the Sound",
        "0917",
        BankAccountKind.BANK,
        (STARTS, balance),
    )
    pending: list[StatementLine] = []
    for first, last in MONTHS:
        teller = tellers(first)
        work = OperatingMonth(teller, first, last)
        for number, day in enumerate(work.days()):
            amount, batch = teller.amount(190, 1_300), f"4{first:%m}{number + 1:02d}"
            work.book("4100", day, amount, "Ticket machines", f"Card fares of {day:%b %d}", batch)
            work.bank(day + timedelta(days=1), amount, f"CARD BATCH {batch}", LineKind.DEPOSIT, batch)
        sent = -teller.amount(8_000, 9_000)
        work.book("1035", last - timedelta(days=3), sent, "Lantern Mutual", "Takings sent on", f"W{first:%m}")
        work.bank(last - timedelta(days=2), sent, "WIRE TO LANTERN MUTUAL", LineKind.TRANSFER, f"W{first:%m}")
        work.bank(last, -teller.amount(90, 140), "CARD SERVICE FEE", LineKind.FEE)
        if first.month == OPEN_MONTH:
            _card_cases(work)
        lines = tuple(sorted([*pending, *work.month.lines], key=lambda x: x.date))
        pending = work.month.later
        statement = _statement("Bank of the Sound", "0917", "USD", work.month, lines, balance)
        now = stage.at(datetime(last.year, last.month, last.day, 16, 0, tzinfo=UTC) + timedelta(days=2))
        _import(now, account, work.month)
        name, data = f"bank-of-the-sound-{first:%Y-%m}.bai2", bai2_file(statement, receiver="SKERRY")
        if first.month != OPEN_MONTH:
            _sealed(now, account, name, data)
        _leave(files, name, data, first)
        balance = statement.head.closing or 0


def _card_cases(work: OperatingMonth) -> None:
    """Planted: three equal deposits of which the books know two, takings less a refund, a payment sent back."""
    for day in (6, 13, 20):
        work.bank(date(2026, 10, day), 25_000, "CARD DEPOSIT GROUP", LineKind.DEPOSIT)
    for day in (5, 12):
        work.book("4200", date(2026, 10, day), 25_000, "Group booking", "Deposit by card")
    work.book("4100", date(2026, 10, 15), 61_430, "Ticket machines", "Brand M takings", "B-77")
    work.book("4100", date(2026, 10, 15), -4_250, "Ticket machines", "Brand M refund", "B-77")
    work.bank(date(2026, 10, 16), 57_180, "CARD BRAND M", LineKind.DEPOSIT, "B77")
    work.bank(date(2026, 10, 27), -69_565, "TRANSFER REEF STORES RS-2207 RS-2231 RS-2254", LineKind.TRANSFER)
    work.bank(date(2026, 10, 22), -12_800, "PAYMENT SENT BACK BY CARDHOLDER", LineKind.OTHER)


def build_fuel_card(stage: Stage, files: Path) -> None:
    """The fuel card: what is owed is negative, a cycle ends on the 20th; the cycle to Oct 20 waits as a file."""
    tellers = _tellers(71, "FC")
    owed = 0
    account = _open(
        stage, "2010", "Fuel card", "Tern Card Services", "7730", BankAccountKind.CARD, (date(2026, 3, 20), 0)
    )
    for first, last in CYCLES:
        teller = tellers(last)
        work = OperatingMonth(teller, first, last)
        for week in range(4):
            day = first + timedelta(days=1 + 7 * week)
            for place in ("GANNET FUEL DOCK", "NORTHREACH MARINA FUEL"):
                amount = -teller.amount(160, 820)
                work.book("5100", day, amount, place.title(), "Fuel for the workboat")
                work.bank(day + timedelta(days=1), amount, place, LineKind.CARD)
        if owed:
            work.book("1025", first + timedelta(days=10), owed, "Tern Card Services", "Card paid off")
            work.bank(first + timedelta(days=12), owed, "PAYMENT THANK YOU", LineKind.PAYMENT)
        if first.month == 9:
            work.bank(last, -2_950, "LATE FEE", LineKind.FEE)
        lines = tuple(sorted(work.month.lines, key=lambda x: x.date))
        now = stage.at(datetime(last.year, last.month, last.day, 12, 0, tzinfo=UTC) + timedelta(days=3))
        _import(now, account, work.month)
        name, data = f"tern-card-{last:%Y-%m-%d}.csv", card_csv(lines, owed, "XXXX7730", (first, last), USD)
        owed -= sum(line.amount for line in lines)
        if last.month != OPEN_MONTH:
            _sealed(now, account, name, data)
        _leave(files, name, data, last)


def build_canadian(stage: Stage, files: Path) -> None:
    """The Canadian-dollar account at Northpassage Savings, its ledger kept elsewhere: October's camt.053 waits."""
    tellers = _tellers(97, "CA")
    of, balance = currency("CAD"), 840_000
    account = _open(
        stage,
        "1050",
        "Canadian-dollar account",
        "Northpassage Savings",
        "3302",
        BankAccountKind.BANK,
        (STARTS, balance),
        code="CAD",
    )
    for first, last in MONTHS:
        teller = tellers(first)
        work = OperatingMonth(teller, first, last)
        for week, party in enumerate(
            ("Cape Merrow Tours", "Whiteport Lodge", "Brant Island Freight", "Cape Merrow Tours")
        ):
            day, amount, number = (
                first + timedelta(days=2 + 7 * week),
                teller.amount(300, 1_900),
                f"I{first:%m}{week + 1}",
            )
            work.book("", day, amount, party, "Fares from the Canadian side", number)
            work.bank(day + timedelta(days=1), amount, f"{party} · invoice {number}", LineKind.DEPOSIT, number)
        dues = -teller.amount(400, 700)
        work.book("", first + timedelta(days=12), dues, "Port of Whiteport", "Berth", f"P{first:%m}")
        work.bank(first + timedelta(days=13), dues, "Port of Whiteport", LineKind.PAYMENT, f"P{first:%m}")
        lines = numbered(work.month.lines, "NP")
        statement = _statement("Northpassage Savings", "NPSACAT23302", "CAD", work.month, lines, balance)
        now = stage.at(datetime(last.year, last.month, last.day, 13, 0, tzinfo=UTC) + timedelta(days=2))
        _import(now, account, work.month)
        name, data = f"northpassage-{first:%Y-%m}.xml", write_camt053(statement, of)
        if first.month != OPEN_MONTH:
            _sealed(now, account, name, data)
        _leave(files, name, data, first)
        balance = statement.head.closing or 0
    (files / "samples").mkdir()
    (files / "samples" / "northpassage-2026-10.mt940").write_bytes(mt940_file(statement, of))
    (files / "samples" / "northpassage-2026-10.xlsx").write_bytes(write_xlsx(statement, of))
