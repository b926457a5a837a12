"""Writing one bank book entry with its journal: shared by the bank book, recording and undo."""

from __future__ import annotations

from dataclasses import asdict, dataclass, replace
from datetime import date
from typing import Any, cast

from netnaught.core.coding import Posting
from netnaught.core.ledger import BookEntry, bank_journal
from netnaught.services.access import Context, record_event
from netnaught.services.errors import BadInput, Conflict, NotFound, Refused
from netnaught.services.writing import wording
from netnaught.store import bank_accounts, bank_book, ledger, reconciliations
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.bank_book import StoredEntry
from netnaught.store.companies import Company

Values = dict[str, object]


@dataclass(frozen=True, slots=True)
class EntryValues:
    """What a person enters. `amount`: minor units; `other_account_id`: None where the ledger is kept elsewhere."""

    date: date
    amount: int
    reference: str
    payee: str
    memo: str
    other_account_id: int | None
    postings: tuple[Posting, ...] = ()

    def stored(self) -> Values:
        """As kept in histories and steps."""
        return {
            "date": self.date.isoformat(),
            "amount": self.amount,
            "reference": self.reference,
            "payee": self.payee,
            "memo": self.memo,
            "other_account_id": self.other_account_id,
            **({"postings": [asdict(posting) for posting in self.postings]} if self.postings else {}),
        }

    def goes_to(self) -> tuple[Posting, ...]:
        """The other side: as split, else all of it to the one account; empty where the ledger is kept elsewhere."""
        if self.postings:
            return self.postings
        return (Posting(self.other_account_id, self.amount),) if self.other_account_id is not None else ()

    def with_amount(self, amount: int) -> EntryValues:
        """The same with another amount; of a split the largest part, the first of equals, takes the difference."""
        if not self.postings:
            return replace(self, amount=amount)
        largest = max(range(len(self.postings)), key=lambda n: (abs(self.postings[n].amount), -n))
        off = amount - self.amount
        changed = tuple(replace(p, amount=p.amount + off) if n == largest else p for n, p in enumerate(self.postings))
        return replace(self, amount=amount, postings=changed)

    @classmethod
    def from_stored(cls, values: Values) -> EntryValues:
        """The inverse of `stored`."""
        other = values["other_account_id"]
        return cls(
            date.fromisoformat(str(values["date"])),
            int(str(values["amount"])),
            str(values["reference"]),
            str(values["payee"]),
            str(values["memo"]),
            None if other is None else int(str(other)),
            tuple(_posting(item) for item in cast(list[dict[str, Any]], values.get("postings", []))),
        )

    def entry(self, entry_id: int) -> BookEntry:
        """As a bank book entry."""
        return BookEntry(entry_id, self.date, self.amount, self.reference, self.payee, self.memo)


def _posting(values: dict[str, Any]) -> Posting:
    return Posting(**{**values, "tags": tuple(values["tags"])})


def _check(ctx: Context, company: Company, account: BankAccount, values: EntryValues) -> None:
    if values.amount == 0:
        raise BadInput("An entry of zero moves no money.", field="amount", value="0")
    if values.date < date(1990, 1, 1) or values.date.year > ctx.now.year + 5:
        raise BadInput("The date lies outside any period of these books.", field="date", value=values.date.isoformat())
    postings = values.goes_to()
    if not postings:
        return
    if sum(posting.amount for posting in postings) != values.amount:
        raise BadInput("The parts do not make the amount. Nothing was changed.", field="parts")
    if account.currency != company.currency:
        raise Refused(
            f"{account.name} is kept in {account.currency}, the ledger in {company.currency}: "
            "an entry with its journal needs a rate, which cannot be given yet."
        )
    books = {other.gl_account_id: other for other in bank_accounts.bank_accounts(ctx.db, company.id)}
    for posting in postings:
        if posting.gl_account_id == account.gl_account_id:
            raise BadInput("The other account is the bank account's own control account.", field="other_account_id")
        if posting.gl_account_id in books:
            raise Refused(
                f"The other account is the control account of {books[posting.gl_account_id].name}: what is posted there "
                "belongs into its own bank book. Record a transfer on both sides against an account for transfers. "
                "Nothing was changed."
            )
        if ledger.gl_account(ctx.db, company.id, posting.gl_account_id) is None:
            raise BadInput("There is no such ledger account in this company.", field="other_account_id")


def refuse_locked(company: Company, code: str, *days: date) -> None:
    """Refused when one of these days is on or before the company's lock date."""
    if company.lock_date and min(days) <= company.lock_date:
        say = wording(code, company.locale)
        raise Refused(
            f"The books of {company.name} are locked to {say.day(company.lock_date)}; {say.day(min(days))} lies before. "
            "Nothing was changed: date it later, or have an owner move the lock."
        )


def _journal_memo(values: EntryValues) -> str:
    return values.memo or values.payee or values.reference or "Bank book entry"


def create(
    ctx: Context,
    company: Company,
    account: BankAccount,
    values: EntryValues,
    *,
    origin: str,
    external_id: str | None = None,
) -> int:
    """Store an entry and, where it has another account, its balanced journal entry."""
    refuse_locked(company, account.currency, values.date)
    _check(ctx, company, account, values)
    journal_line: int | None = None
    if values.goes_to():
        journal = bank_journal(values.date, _journal_memo(values), account.gl_account_id, values.goes_to())
        _, line_ids = ledger.post_journal(ctx.db, company.id, journal, ctx.user.id, ctx.stamp)
        journal_line = line_ids[0]
    new = [(values.entry(0), external_id, journal_line)]
    stored = bank_book.add_entries(
        ctx.db, company.id, account.id, new, origin=origin, user_id=ctx.user.id, now=ctx.stamp
    )
    record_event(ctx, company.id, f"entry {origin}", "book_entry", stored[0], after=values.stored())
    return stored[0]


def values_of(ctx: Context, stored: StoredEntry, company_id: int) -> EntryValues:
    """The present values of a stored entry, its other account included."""
    other: int | None = None
    postings: tuple[Posting, ...] = ()
    if stored.journal_line_id is not None:
        journal = ledger.journal_of_line(ctx.db, company_id, stored.journal_line_id)
        others = [
            line for line in ledger.journal_lines(ctx.db, company_id, journal) if line.id != stored.journal_line_id
        ]
        other = others[0].account.id
        split = len(others) > 1 or any(x.tax_code_id or x.department_id or x.tags for x in others)
        postings = tuple(
            Posting(x.account.id, -x.amount, x.tax_code_id, x.department_id, x.tags, x.memo) for x in others if split
        )
    entry = stored.entry
    return EntryValues(entry.date, entry.amount, entry.reference, entry.payee, entry.memo, other, postings)


def require_entry(ctx: Context, company: Company, account: BankAccount, entry_id: int) -> StoredEntry:
    """A live entry of the account; NotFound otherwise."""
    stored = bank_book.stored_entry(ctx.db, company.id, entry_id)
    if stored is None or stored.bank_account_id != account.id or stored.deleted_at:
        raise NotFound(f"{account.name} has no such entry.")
    return stored


def refuse_sealed_days(ctx: Context, company: Company, account: BankAccount, *days: date) -> None:
    """Refused when one of these days lies in a sealed period: its outstanding list and balance stand as sealed."""
    sealed = [r.closing_date for r in reconciliations.reconciliations(ctx.db, company.id, account.id) if r.sealed]
    if sealed and min(days) <= max(sealed):
        say = wording(account.currency, company.locale)
        raise Refused(
            f"{account.name} is sealed to {say.day(max(sealed))}; an entry dated {say.day(min(days))} stands in what "
            "was sealed then. Nothing was changed: post an adjusting entry in the open period instead."
        )


def refuse_cleared(
    ctx: Context, company: Company, account: BankAccount, entry_id: int, *, only_sealed: bool = False
) -> None:
    """Conflict when the entry is cleared: it stands as the bank confirmed it. `only_sealed`: where that is sealed."""
    decided = reconciliations.decision_on(ctx.db, company.id, entry=entry_id)
    if decided is None:
        return
    at = reconciliations.reconciliation(ctx.db, company.id, decided.reconciliation_id)
    say = wording(account.currency, company.locale)
    until = say.day(at.closing_date) if at else ""
    if at and at.sealed:
        raise Conflict(f"This entry is cleared in the sealed reconciliation to {until}; nothing was changed.")
    if only_sealed:
        return
    raise Conflict(f"This entry is cleared in the reconciliation to {until}. Unmatch it first; nothing was changed.")


def rewrite(ctx: Context, company: Company, account: BankAccount, entry_id: int, values: EntryValues) -> EntryValues:
    """Give an entry new values, its journal following; returns what it was.

    The amount of a cleared entry stays; sealed ones, and those dated in a sealed period, stay as they are.
    """
    stored = require_entry(ctx, company, account, entry_id)
    before = values_of(ctx, stored, company.id)
    refuse_cleared(ctx, company, account, entry_id, only_sealed=values.amount == before.amount)
    refuse_locked(company, account.currency, values.date, before.date)
    if (values.date, values.amount) != (before.date, before.amount):
        refuse_sealed_days(ctx, company, account, values.date, before.date)
    if before.other_account_id is None and values.other_account_id is not None:
        raise Refused("This entry came without a journal: its ledger is kept elsewhere.")
    values = _kept_split(values, before)
    _check(ctx, company, account, values)
    bank_book.write_values(ctx.db, company.id, values.entry(entry_id))
    if stored.journal_line_id is not None and values.goes_to():
        journal_id = ledger.journal_of_line(ctx.db, company.id, stored.journal_line_id)
        journal = bank_journal(values.date, _journal_memo(values), account.gl_account_id, values.goes_to())
        ledger.rewrite_journal(ctx.db, company.id, journal_id, journal)
    record_event(
        ctx, company.id, "entry changed", "book_entry", entry_id, before=before.stored(), after=values.stored()
    )
    return before


def _kept_split(values: EntryValues, before: EntryValues) -> EntryValues:
    """New values keep the account or the split they had, unless they name another."""
    values = replace(values, other_account_id=values.other_account_id or before.other_account_id)
    if values.postings or not before.postings or values.other_account_id != before.other_account_id:
        return values
    return replace(values, postings=before.with_amount(values.amount).postings)


def set_deleted(ctx: Context, company: Company, account: BankAccount, entry_id: int, deleted: bool) -> None:
    """Delete an uncleared entry softly, or bring it back, its journal with it."""
    stored = bank_book.stored_entry(ctx.db, company.id, entry_id)
    if stored is None or stored.bank_account_id != account.id:
        raise NotFound(f"{account.name} has no such entry.")
    if bool(stored.deleted_at) == deleted:
        raise Conflict(f"The entry is {'already deleted' if deleted else 'there already'}; nothing was changed.")
    refuse_cleared(ctx, company, account, entry_id)
    refuse_locked(company, account.currency, stored.entry.date)
    at = ctx.stamp if deleted else None
    bank_book.set_deleted(ctx.db, company.id, entry_id, at)
    if stored.journal_line_id is not None:
        journal_id = ledger.journal_of_line(ctx.db, company.id, stored.journal_line_id)
        ledger.set_journal_deleted(ctx.db, company.id, journal_id, at)
    values = values_of(ctx, stored, company.id).stored()
    what = "entry deleted" if deleted else "entry brought back"
    record_event(ctx, company.id, what, "book_entry", entry_id, before=values if deleted else None)
