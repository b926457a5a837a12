"""Transfers between two own accounts: one journal entry with a bank book entry on either side.

What is recorded on one account waits on the other as an entry of its bank book, tied to its own line of
the same journal, until the other bank's statement brings it. The two sides change and go together.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date

from netnaught.core.coding import Posting
from netnaught.core.ledger import BookEntry
from netnaught.core.seal import read_content
from netnaught.services.access import Context, record_event, require_account
from netnaught.services.errors import BadInput, Refused
from netnaught.services.guards import refuse_cleared, refuse_listed, refuse_sealed_days
from netnaught.services.writing import wording
from netnaught.store import bank_accounts, bank_book, ledger, seals
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.bank_book import StoredEntry
from netnaught.store.companies import Company

# A transfer announced on the other account is taken for the same one this many days around.
SAME_TRANSFER_DAYS = 10


def books_by_control(ctx: Context, company: Company) -> dict[int, BankAccount]:
    """The company's bank accounts by their control account."""
    return {account.gl_account_id: account for account in bank_accounts.bank_accounts(ctx.db, company.id)}


def check(ctx: Context, company: Company, account: BankAccount, postings: Sequence[Posting]) -> None:
    """Refuse postings to the account itself, to an account of another currency, twice to one account."""
    books = books_by_control(ctx, company)
    seen: set[int] = set()
    for posting in postings:
        other = books.get(posting.gl_account_id)
        if other is None:
            continue
        if other.id == account.id:
            raise BadInput(
                f"A transfer from {account.name} to itself moves nothing: the other account is its own control account. "
                "Nothing was changed.",
                field="other_account_id",
            )
        if other.currency != company.currency:
            raise Refused(
                f"{other.name} is kept in {other.currency}, the ledger in {company.currency}: a transfer there needs a "
                "rate, which cannot be given yet. Nothing was changed: record it against an account for transfers."
            )
        if other.id in seen:
            raise BadInput(f"Two parts go to {other.name}; one transfer is one part. Nothing was changed.")
        seen.add(other.id)


def refuse_circular(ctx: Context, company: Company, account: BankAccount, day: date, parts: Sequence[Posting]) -> None:
    """Refused when the other account has recorded this very transfer: its other side waits here to be matched."""
    books = books_by_control(ctx, company)
    say = wording(account.currency, company.locale)
    for part in parts:
        other = books.get(part.gl_account_id)
        for waiting in bank_book.waiting_transfers(ctx.db, company.id, account.id, other.id) if other else []:
            if other and waiting.amount == part.amount and abs((waiting.date - day).days) <= SAME_TRANSFER_DAYS:
                raise Refused(
                    f"{other.name} has recorded this transfer already: its other side of {say.amount(waiting.amount)} "
                    f"waits here since {say.day(waiting.date)}. Nothing was changed: match the line with it, or the "
                    "money would go around in a circle."
                )


def sides_of(ctx: Context, company_id: int, stored: StoredEntry) -> list[StoredEntry]:
    """The entries on other accounts that share an entry's journal."""
    if stored.journal_line_id is None:
        return []
    journal = ledger.journal_of_line(ctx.db, company_id, stored.journal_line_id)
    return [side for side in bank_book.entries_of_journal(ctx.db, company_id, journal) if side.id != stored.id]


def account_of(ctx: Context, company: Company, stored: StoredEntry) -> BankAccount:
    """The bank account an entry stands on."""
    return require_account(ctx, company.id, stored.bank_account_id)


def guard(ctx: Context, company: Company, side: StoredEntry, *, only_texts: bool = False) -> None:
    """Refuse when the other side is cleared, or stands in what is sealed there."""
    other = account_of(ctx, company, side)
    refuse_cleared(ctx, company, other, side.id, only_sealed=only_texts)
    refuse_listed(ctx, company, other, side)


def as_sealed(ctx: Context, company: Company, side: StoredEntry, day: date, amount: int) -> bool:
    """Whether with these values an entry stands as every seal that knows it says: then nothing sealed is altered."""
    said = [
        (entry["date"], int(entry["amount"]))
        for seal in seals.holding(ctx.db, company.id, side.bank_account_id)
        for listed in ("cleared", "outstanding")
        for entry in read_content(seal.content)[listed]
        if entry["id"] == side.id
    ]
    return bool(said) and set(said) == {(day.isoformat(), amount)}


def follow(ctx: Context, company: Company, account: BankAccount, entry: BookEntry, parts: Sequence[Posting]) -> None:
    """Let the other sides of an entry follow its journal as it now stands: made, changed or taken away.

    `parts`: the entry's postings, in the order of the journal's lines after the first.
    """
    stored = bank_book.stored_entry(ctx.db, company.id, int(entry.id))
    if stored is None or stored.journal_line_id is None:
        return
    books = books_by_control(ctx, company)
    journal = ledger.journal_of_line(ctx.db, company.id, stored.journal_line_id)
    lines = [line for line in ledger.journal_lines(ctx.db, company.id, journal) if line.id != stored.journal_line_id]
    waiting = {side.journal_line_id: side for side in sides_of(ctx, company.id, stored)}
    for line, part in zip(lines, parts, strict=True):
        other = books.get(part.gl_account_id)
        side = waiting.get(line.id)
        if other is None:
            continue
        if side is None:
            _add(ctx, company, account, other, entry, line.id, -part.amount)
        elif (side.entry.date, side.entry.amount) != (entry.date, -part.amount):
            if not as_sealed(ctx, company, side, entry.date, -part.amount):
                guard(ctx, company, side)
                refuse_sealed_days(ctx, company, other, entry.date)
            now = replace(side.entry, date=entry.date, amount=-part.amount)
            bank_book.write_values(ctx.db, company.id, now)
            after = {**_written(now), "of": int(entry.id)}
            record_event(
                ctx, company.id, "other side changed", "book_entry", side.id, before=_written(side.entry), after=after
            )


def _written(entry: BookEntry) -> dict[str, object]:
    """As the audit trail keeps it."""
    values = {name: getattr(entry, name) for name in ("amount", "reference", "payee", "memo")}
    return {"date": entry.date.isoformat(), **values}


def _add(
    ctx: Context,
    company: Company,
    account: BankAccount,
    other: BankAccount,
    entry: BookEntry,
    line_id: int,
    amount: int,
) -> None:
    refuse_sealed_days(ctx, company, other, entry.date)
    way = "from" if amount > 0 else "to"
    side = BookEntry(0, entry.date, amount, entry.reference, f"Transfer {way} {account.name}", entry.memo)
    (made,) = bank_book.add_entries(
        ctx.db,
        company.id,
        other.id,
        [(side, None, line_id)],
        origin="recorded",
        user_id=ctx.user.id,
        now=ctx.stamp,
    )
    record_event(
        ctx, company.id, "other side of a transfer", "book_entry", made, after={**_written(side), "of": int(entry.id)}
    )


def let_go(ctx: Context, company: Company, stored: StoredEntry, parts: Sequence[Posting]) -> None:
    """Take away the other sides that an entry's new postings no longer reach, before its journal is rewritten."""
    if stored.journal_line_id is None:
        return
    books = books_by_control(ctx, company)
    journal = ledger.journal_of_line(ctx.db, company.id, stored.journal_line_id)
    lines = [line for line in ledger.journal_lines(ctx.db, company.id, journal) if line.id != stored.journal_line_id]
    reached = {
        line.id: books[part.gl_account_id].id
        for line, part in zip(lines, parts, strict=False)
        if part.gl_account_id in books
    }
    for side in sides_of(ctx, company.id, stored):
        if reached.get(side.journal_line_id or 0) != side.bank_account_id:
            guard(ctx, company, side)
            bank_book.set_deleted(ctx.db, company.id, side.id, ctx.stamp)
            bank_book.untie(ctx.db, company.id, side.id)
            record_event(ctx, company.id, "entry deleted", "book_entry", side.id, before={"of": stored.id})
