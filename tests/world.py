"""A small company with its books in a real database: what service tests work on."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, timedelta
from functools import cache
from pathlib import Path

from netnaught.core.ledger import AccountKind, BankAccountKind
from netnaught.core.money import currency
from netnaught.core.statement import LineKind, StatementHead, StatementLine
from netnaught.formats import ReadLine, ReadStatement, write_ofx
from netnaught.services import bank_book, reading, setup, spine, starting
from netnaught.services.access import Context, Role
from netnaught.services.entries import EntryValues
from netnaught.services.sign_in import hash_password
from netnaught.services.spine import SpineView
from netnaught.services.starting import Start
from netnaught.store import companies, users
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.companies import Company
from netnaught.store.database import DATABASE, Connection, connect, migrate

USD = currency("USD")
PASSWORD = "kelp-and-granite"
NOW = datetime(2026, 11, 2, 9, 0, tzinfo=UTC)
STAMP = "2026-11-02T09:00:00Z"


@cache
def password_hash() -> str:
    """Argon2 is slow on purpose: one hash serves all test users."""
    return hash_password(PASSWORD)


@dataclass(slots=True)
class World:
    """One company, one bank account starting on Sep 30 at 1,000.00, and whoever is at work."""

    ctx: Context
    company: Company
    account: BankAccount
    gl: dict[str, int]
    serial: int = field(default=0)

    @property
    def db(self) -> Connection:
        return self.ctx.db

    def as_user(self, name: str, role: Role) -> Context:
        """Another member at work."""
        user = users.add_user(self.db, f"{name}@kelp.example", name, password_hash(), STAMP)
        companies.set_role(self.db, self.company.id, user.id, role)
        return replace(self.ctx, user=user)

    def entry(self, amount: int, day: str = "2026-10-05", reference: str = "", payee: str = "Payee") -> int:
        """A new entry of the bank book with its journal."""
        values = EntryValues(date.fromisoformat(day), amount, reference, payee, "memo", self.gl["5000"])
        return bank_book.add_entry(self.ctx, self.company.id, self.account.id, values)

    def line(self, amount: int, day: str = "2026-10-06", reference: str = "", text: str = "TEXT") -> StatementLine:
        """A line of the bank, with an id of its own."""
        self.serial += 1
        return StatementLine(f"F{self.serial}", date.fromisoformat(day), amount, reference, text, LineKind.OTHER)

    def ofx(self, *lines: StatementLine, opening: int = 100_000, first: str = "2026-10-01", off: int = 0) -> bytes:
        """A month's statement file that foots from `opening`, or is `off`."""
        start = date.fromisoformat(first)
        end = (start.replace(day=28) + timedelta(days=4)).replace(day=1) - timedelta(days=1)
        closing = opening + sum(x.amount for x in lines) + off
        head = StatementHead(start, end, None, closing)
        reads = tuple(ReadLine(x, str(x.id)) for x in lines)
        return write_ofx(ReadStatement("ofx", "Bank", self.account.number, "USD", head, reads), USD)

    def read(self, *lines: StatementLine, opening: int = 100_000, first: str = "2026-10-01") -> int:
        """Store a month's statement; the reconciliation it belongs to."""
        data = self.ofx(*lines, opening=opening, first=first)
        return reading.store_file(self.ctx, self.company.id, self.account.id, "statement.ofx", data)

    def view(self, reconciliation_id: int) -> SpineView:
        """The Spine."""
        return spine.view(self.ctx, self.company.id, reconciliation_id)

    def line_ids(self, reconciliation_id: int) -> dict[str, int]:
        """Stored ids by the bank's ids."""
        return {str(x.bank_id): x.id for x in self.view(reconciliation_id).bench.lines}


def found_world(folder: Path, number: str = "4410", name: str = "Kelp & Co") -> World:
    """A fresh world in a database file; a second call with the same folder adds a company to it."""
    folder.mkdir(parents=True, exist_ok=True)
    db = connect(folder / DATABASE)
    migrate(db)
    owner = users.user_by_email(db, f"owner@{number}.example") or users.add_user(
        db, f"owner@{number}.example", "Ona Owner", password_hash(), STAMP
    )
    company = setup.found_company(db, name, "USD", "en_US", STAMP)
    companies.set_role(db, company.id, owner.id, Role.OWNER)
    ctx = Context(db, owner, NOW)
    for code, title, kind in (
        ("1010", "Bank", AccountKind.ASSET),
        ("3000", "Equity", AccountKind.EQUITY),
        ("5000", "Costs", AccountKind.EXPENSE),
        ("5900", "Bank charges", AccountKind.EXPENSE),
    ):
        setup.add_gl_account(ctx, company.id, code, title, kind)
    gl = {a.number: a.id for a in setup.chart_of_accounts(ctx, company.id)}
    account = setup.open_bank_account(
        ctx,
        company.id,
        gl_account_id=gl["1010"],
        name="Main account",
        bank="Bank",
        number=number,
        kind=BankAccountKind.BANK,
        code="USD",
        starting_date=date(2026, 9, 30),
        starting_balance=100_000,
    )
    start = Start(account.starting_date, account.starting_balance, (), gl["3000"])
    starting.write_start(ctx, company.id, account.id, start)
    return World(ctx, company, account, gl)
