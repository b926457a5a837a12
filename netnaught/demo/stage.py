"""What the demo accounts are made with: a stage to stand on, months to play, reading and sealing as a person does."""

from __future__ import annotations

from calendar import monthrange
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date, datetime
from pathlib import Path

from netnaught.core.ledger import AccountKind, BankAccountKind, BookEntry
from netnaught.core.money import currency
from netnaught.core.statement import LineKind, StatementHead, StatementLine
from netnaught.demo.events import Month, Teller
from netnaught.formats import ReadLine, ReadStatement, write_bank_book
from netnaught.services import bank_book, deciding, reading, recording, reimport, sealing, setup, spine
from netnaught.services import starting as starting_books
from netnaught.services.access import Context
from netnaught.services.errors import Refused
from netnaught.services.starting import Start
from netnaught.standins.bank import BankBooks, load_books, save_books
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.companies import Company

BANK_FILE = "bank.json"
USD = currency("USD")
# Six months are sealed; October is open.
MONTHS = tuple((date(2026, month, 1), date(2026, month, monthrange(2026, month)[1])) for month in range(4, 11))
OPEN_MONTH = 10
CYCLES = tuple((date(2026, month - 1, 21), date(2026, month, 20)) for month in range(4, 11))
STARTS = date(2026, 3, 31)
# The months before this one have dice of their own, so that they change nothing about the later ones.
_OWN_DICE_FROM = 9


@dataclass(frozen=True, slots=True)
class Stage:
    """A company being built: whose hands, which accounts."""

    ctx: Context
    company: Company
    gl: dict[str, int]

    def at(self, when: datetime) -> Stage:
        """The same at another time."""
        return replace(self, ctx=replace(self.ctx, now=when))


def tellers_of(seed: int, prefix: str, check: int = 2224) -> Callable[[date], Teller]:
    """The teller of each month: earlier months have one of their own."""
    early, late = Teller(seed + 1000, f"{prefix}E"), Teller(seed, prefix)
    early.check, late.check = check - 100, check
    return lambda first: late if first.month >= _OWN_DICE_FROM else early


def stage_of(ctx: Context, company: Company, chart: tuple[tuple[str, str, AccountKind], ...]) -> Stage:
    for number, name, kind in chart:
        setup.add_gl_account(ctx, company.id, number, name, kind)
    return Stage(ctx, company, {a.number: a.id for a in setup.chart_of_accounts(ctx, company.id)})


def open_account(
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


def import_month(stage: Stage, account: BankAccount, month: Month) -> None:
    """The month's entries, one import for each other account; "" where the ledger is kept elsewhere."""
    of = currency(account.currency)
    for number in sorted({number for number, _ in month.entries}):
        rows = [entry for gl, entry in month.entries if gl == number]
        name = f"book-{number or 'elsewhere'}-{month.first:%Y-%m}.csv"
        other = stage.gl[number] if number else None
        reimport.apply(stage.ctx, stage.company.id, account.id, name, write_bank_book(rows, of), other)


def statement_of(
    bank: str, account: str, code: str, month: Month, lines: tuple[StatementLine, ...], opening: int
) -> ReadStatement:
    """The bank's statement of a month, with both balances."""
    head = StatementHead(month.first, month.last, opening, opening + sum(x.amount for x in lines))
    return ReadStatement("", bank, account, code, head, tuple(ReadLine(x, str(x.id)) for x in lines))


def leave(files: Path, name: str, data: bytes, first: date) -> None:
    """Leave the files of the last two months in the folder; earlier ones lie with their statements."""
    if first.month >= OPEN_MONTH - 1:
        (files / name).write_bytes(data)


def read_and_seal(stage: Stage, account: BankAccount, name: str, data: bytes, fees: str = "5900") -> None:
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


def checks_of(stage: Stage, account: BankAccount) -> dict[str, dict[str, str]]:
    """Payee and memo of every check that was written: what the bank's images show."""
    book = [row.stored.entry for row in bank_book.read_book(stage.ctx, stage.company.id, account.id)]
    return {e.reference: {"payee": e.payee, "memo": e.memo} for e in book if e.reference.isdigit()}


def bank_books(
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


def serve_at_bank(files: Path, books: BankBooks) -> None:
    """Add an account to what the stand-in bank serves."""
    file = files.parent / BANK_FILE
    save_books(file, [*(load_books(file) if file.exists() else []), books])
