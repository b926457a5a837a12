"""Large books in a database, written through the store, for the benchmarks that need them."""

from __future__ import annotations

from datetime import date, timedelta
from pathlib import Path

from benchmarks.clock import NOW, STAMP
from netnaught.core.ledger import AccountKind, BankAccountKind, BookEntry
from netnaught.core.statement import LineKind, StatementHead, StatementLine, delivered
from netnaught.services import setup
from netnaught.services.access import Context, Role
from netnaught.store import bank_book, companies, reconciliations, statements, users
from netnaught.store.database import DATABASE, atomic, connect, migrate


def large_month(folder: Path, number: int) -> tuple[Context, int, int]:
    """A month of so many lines and entries, nothing decided: (who, company, reconciliation)."""
    db = connect(folder / DATABASE)
    migrate(db)
    user = users.add_user(db, "a@b.example", "A", "x", STAMP)
    company = setup.found_company(db, "Large", "USD", "en_US", STAMP)
    companies.set_role(db, company.id, user.id, Role.OWNER)
    ctx = Context(db, user, NOW)
    gl = setup.add_gl_account(ctx, company.id, "1010", "Bank", AccountKind.ASSET)
    account = setup.open_bank_account(
        ctx,
        company.id,
        gl_account_id=gl.id,
        name="Main",
        bank="Bank",
        number="1",
        kind=BankAccountKind.BANK,
        code="USD",
        starting_date=date(2026, 9, 30),
        starting_balance=0,
    )
    days = [date(2026, 10, 1) + timedelta(days=n % 31) for n in range(number)]
    lines = [StatementLine(n, day, -100 - n, str(n), "CARD PURCHASE", LineKind.CARD) for n, day in enumerate(days)]
    entries = [(BookEntry(0, day, -100 - n, str(n), "Payee", "memo"), None, None) for n, day in enumerate(days)]
    with atomic(db):
        at = reconciliations.add_reconciliation(db, company.id, account.id, date(2026, 10, 31), STAMP)
        sums = delivered(x.amount for x in lines)
        head = StatementHead(date(2026, 10, 1), date(2026, 10, 31), 0, sums.total)
        statement = statements.add_statement(
            db,
            company.id,
            account.id,
            at.id,
            head=head,
            lines=sums,
            form="ofx",
            file_id=None,
            user_id=user.id,
            now=STAMP,
        )
        statements.add_lines(db, company.id, account.id, statement, [(n, x, f"F{n}") for n, x in enumerate(lines, 1)])
        bank_book.add_entries(db, company.id, account.id, entries, origin="imported", user_id=user.id, now=STAMP)
    return ctx, company.id, at.id
