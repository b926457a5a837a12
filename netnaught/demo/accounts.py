"""The other accounts of the demo, each with its bank, its format and its planted cases."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from pathlib import Path

from netnaught.core.ledger import BankAccountKind
from netnaught.core.money import currency
from netnaught.core.statement import LineKind, StatementHead, StatementLine
from netnaught.demo.events import OperatingMonth, numbered
from netnaught.demo.files import bai2_file, card_csv, mt940_file
from netnaught.demo.stage import (
    CYCLES,
    MONTHS,
    OPEN_MONTH,
    STARTS,
    USD,
    Stage,
    bank_books,
    checks_of,
    import_month,
    leave,
    open_account,
    read_and_seal,
    serve_at_bank,
    statement_of,
    tellers_of,
)
from netnaught.formats import write_camt053, write_ofx, write_xlsx
from netnaught.services import deciding, reading, sealing, spine
from netnaught.standins.paper import statement_pdf
from netnaught.store.bank_accounts import BankAccount

CREW = ("Ann Petrel", "Bo Guillemot", "Cal Fulmar", "Dee Shearwater", "Eli Gannet", "Fay Kittiwake")


def build_cash_box(stage: Stage) -> None:
    """The quay cash box: counted, no bank; six months sealed, October counted and being ticked."""
    tellers = tellers_of(77, "QC")
    account = open_account(stage, "1040", "Quay cash box", "", "", BankAccountKind.CASH, (STARTS, 15_000))
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
        import_month(now, account, work.month)
        head = StatementHead(first, last, None, counted)
        at = reading.store_typed(now.ctx, stage.company.id, account.id, head)
        entries = [int(entry.id) for entry in spine.view(now.ctx, stage.company.id, at).bench.work.entries]
        deciding.tick(now.ctx, stage.company.id, at, entries if first.month != OPEN_MONTH else entries[:5])
        if first.month != OPEN_MONTH:
            sealing.seal(now.ctx, stage.company.id, at)
        balance = counted


def build_trust(stage: Stage, files: Path) -> None:
    """Fernhollow Observatory Trust: six months sealed, October read in and half done."""
    tellers = tellers_of(12, "FO")
    account = open_account(
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
        import_month(now, account, work.month)
        name = f"hollow-valley-{first:%Y-%m}.pdf"
        opening = balance - sum(line.amount for line in lines)
        data = statement_pdf(statement_of("Hollow Valley Bank", "88008105", "USD", work.month, lines, opening), USD)
        leave(files, name, data, first)
        if first.month != OPEN_MONTH:
            read_and_seal(now, account, name, data)
        else:
            at = reading.store_file(now.ctx, stage.company.id, account.id, name, data)
            deciding.apply_passes(now.ctx, stage.company.id, at, frozenset())


def build_payroll(stage: Stage, files: Path) -> BankAccount:
    """Skerry Line's payroll account: six months sealed; October is fetched from the stand-in bank."""
    tellers = tellers_of(31, "PR", check=701)
    start = 1_250_000
    account = open_account(
        stage, "1020", "Payroll account", "Lantern Mutual", "4428", BankAccountKind.BANK, (STARTS, start)
    )
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
        import_month(now, account, work.month)
        statement = statement_of("Lantern Mutual", "7004104428", "USD", work.month, lines, start)
        if first.month != OPEN_MONTH:
            read_and_seal(
                now, account, f"lantern-mutual-4428-{first:%Y-%m}.ofx", write_ofx(statement, USD, "091000019")
            )
        start = statement.head.closing or 0
        books = bank_books("payroll", statement, checks_of(now, account), numbered(pending, "LP"))
    serve_at_bank(files, books)
    return account


def _double(work: OperatingMonth) -> None:
    """Planted: a check that the bank posted twice and backed out, and one that the books have twice."""
    by_bank = next(x for x in work.month.lines if x.kind is LineKind.CHECK)
    for days, amount, text in ((1, by_bank.amount, "CHECK"), (3, -by_bank.amount, "CHECK POSTED IN ERROR BACKED OUT")):
        work.bank(by_bank.date + timedelta(days=days), amount, text, LineKind.CHECK, by_bank.reference)
    number, twice = next(item for item in reversed(work.month.entries) if item[1].reference.isdigit())
    work.book(number, twice.date, twice.amount, twice.payee, twice.memo, twice.reference)


def build_card_clearing(stage: Stage, files: Path) -> None:
    """Takings by card at Bank of the Sound, settled with a monthly fee: six months sealed, October's BAI2 file waits."""
    tellers = tellers_of(53, "CC")
    balance = 321_400
    account = open_account(
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
        statement = statement_of("Bank of the Sound", "0917", "USD", work.month, lines, balance)
        now = stage.at(datetime(last.year, last.month, last.day, 16, 0, tzinfo=UTC) + timedelta(days=2))
        import_month(now, account, work.month)
        name, data = f"bank-of-the-sound-{first:%Y-%m}.bai2", bai2_file(statement, receiver="SKERRY")
        if first.month != OPEN_MONTH:
            read_and_seal(now, account, name, data)
        leave(files, name, data, first)
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
    tellers = tellers_of(71, "FC")
    owed = 0
    account = open_account(
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
        import_month(now, account, work.month)
        name, data = f"tern-card-{last:%Y-%m-%d}.csv", card_csv(lines, owed, "XXXX7730", (first, last), USD)
        owed -= sum(line.amount for line in lines)
        if last.month != OPEN_MONTH:
            read_and_seal(now, account, name, data)
        leave(files, name, data, last)


def build_canadian(stage: Stage, files: Path) -> None:
    """The Canadian-dollar account at Northpassage Savings, its ledger kept elsewhere: October's camt.053 waits."""
    tellers = tellers_of(97, "CA")
    of, balance = currency("CAD"), 840_000
    account = open_account(
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
        statement = statement_of("Northpassage Savings", "NPSACAT23302", "CAD", work.month, lines, balance)
        now = stage.at(datetime(last.year, last.month, last.day, 13, 0, tzinfo=UTC) + timedelta(days=2))
        import_month(now, account, work.month)
        name, data = f"northpassage-{first:%Y-%m}.xml", write_camt053(statement, of)
        if first.month != OPEN_MONTH:
            read_and_seal(now, account, name, data)
        leave(files, name, data, first)
        balance = statement.head.closing or 0
    (files / "samples").mkdir()
    (files / "samples" / "northpassage-2026-10.mt940").write_bytes(mt940_file(statement, of))
    (files / "samples" / "northpassage-2026-10.xlsx").write_bytes(write_xlsx(statement, of))
