"""Writing one bank book entry with its journal: shared by the bank book, recording and undo."""

from __future__ import annotations

from dataclasses import asdict, dataclass, replace
from datetime import date
from typing import Any, cast

from netnaught.core.coding import Posting
from netnaught.core.ledger import BookEntry, bank_journal
from netnaught.services import transfers
from netnaught.services.access import Context, record_event
from netnaught.services.errors import BadInput, Conflict, NotFound, Refused
from netnaught.services.guards import refuse_cleared, refuse_listed, refuse_locked, refuse_sealed_days
from netnaught.store import bank_book, ledger
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


def _check(
    ctx: Context, company: Company, account: BankAccount, values: EntryValues, before: EntryValues | None = None
) -> None:
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
    transfers.check(ctx, company, account, postings)
    known = {posting.gl_account_id for posting in before.goes_to()} if before else set[int]()
    for posting in postings:
        found = ledger.gl_account(ctx.db, company.id, posting.gl_account_id)
        if found is None:
            raise BadInput("There is no such ledger account in this company.", field="other_account_id")
        if found.closed and found.id not in known:
            raise Refused(f"{found.number} {found.name} is closed. Nothing was changed: choose another account.")


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
    refuse_locked(ctx, company, account.currency, values.date)
    _check(ctx, company, account, values)
    transfers.refuse_circular(ctx, company, account, values.date, values.goes_to())
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
    if values.goes_to():
        transfers.follow(ctx, company, account, values.entry(stored[0]), values.goes_to())
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


def rewrite(ctx: Context, company: Company, account: BankAccount, entry_id: int, values: EntryValues) -> EntryValues:
    """Give an entry new values, its journal and the other side of a transfer following; returns what it was.

    The amount of a cleared entry stays; sealed ones, and those dated in a sealed period, stay as they are
    unless a reason is given by someone with the right.
    """
    stored = require_entry(ctx, company, account, entry_id)
    before = values_of(ctx, stored, company.id)
    refuse_cleared(ctx, company, account, entry_id, only_sealed=values.amount == before.amount)
    refuse_locked(ctx, company, account.currency, values.date, before.date)
    if (values.date, values.amount) != (before.date, before.amount):
        refuse_sealed_days(ctx, company, account, values.date, before.date)
    if before.other_account_id is None and values.other_account_id is not None:
        raise Refused("This entry came without a journal: its ledger is kept elsewhere.")
    values = _kept_split(values, before)
    _check(ctx, company, account, values, before)
    main = main_side(ctx, company, stored)
    if main is None:
        restate(ctx, company, account, stored, values)
    else:
        _rewrite_other_side(ctx, company, account, stored, main, values)
    record_event(
        ctx, company.id, "entry changed", "book_entry", entry_id, before=before.stored(), after=values.stored()
    )
    return before


def restate(ctx: Context, company: Company, account: BankAccount, stored: StoredEntry, values: EntryValues) -> None:
    """Write an entry's values and its journal, without asking whether it may be."""
    bank_book.write_values(ctx.db, company.id, values.entry(stored.id))
    if stored.journal_line_id is None or not values.goes_to():
        return
    transfers.let_go(ctx, company, stored, values.goes_to())
    journal_id = ledger.journal_of_line(ctx.db, company.id, stored.journal_line_id)
    journal = bank_journal(values.date, _journal_memo(values), account.gl_account_id, values.goes_to())
    ledger.rewrite_journal(ctx.db, company.id, journal_id, journal)
    transfers.follow(ctx, company, account, values.entry(stored.id), values.goes_to())


def restate_either(
    ctx: Context, company: Company, account: BankAccount, stored: StoredEntry, values: EntryValues
) -> None:
    """The same for whichever side of a transfer: the side that recorded it leads, for the journal is written from there.

    The leading side is guarded like every other side, unless it comes to stand as sealed.
    """
    main = main_side(ctx, company, stored)
    if main is None:
        restate(ctx, company, account, stored, values)
        return
    bank_book.write_values(ctx.db, company.id, values.entry(stored.id))
    if (values.date, values.amount) == (stored.entry.date, stored.entry.amount):
        return
    there, whole = transfers.account_of(ctx, company, main), values_of(ctx, main, company.id)
    parts = tuple(
        replace(part, amount=-values.amount) if part.gl_account_id == account.gl_account_id else part
        for part in whole.goes_to()
    )
    amount = sum(part.amount for part in parts)
    if not transfers.as_sealed(ctx, company, main, values.date, amount):
        transfers.guard(ctx, company, main)
    led = replace(whole, date=values.date, amount=amount, postings=parts if whole.postings else ())
    restate(ctx, company, there, main, led)


def main_side(ctx: Context, company: Company, stored: StoredEntry) -> StoredEntry | None:
    """The side of a transfer that recorded it; None when this entry is that side, or no transfer."""
    first = min([stored, *transfers.sides_of(ctx, company.id, stored)], key=lambda side: side.journal_line_id or 0)
    return None if first.id == stored.id else first


def _rewrite_other_side(
    ctx: Context, company: Company, account: BankAccount, stored: StoredEntry, main: StoredEntry, values: EntryValues
) -> None:
    """Change a transfer from the side that waits: the side that recorded it leads, its journal is the one there is."""
    there = transfers.account_of(ctx, company, main)
    whole = values_of(ctx, main, company.id)
    changed = (values.date, values.amount) != (stored.entry.date, stored.entry.amount)
    if values.other_account_id != there.gl_account_id or (changed and len(whole.goes_to()) > 1):
        raise Refused(
            f"This is the other side of an entry of {there.name}: change its account or its parts there. "
            "Nothing was changed."
        )
    bank_book.write_values(ctx.db, company.id, values.entry(stored.id))
    if changed:
        rewrite(ctx, company, there, main.id, replace(whole.with_amount(-values.amount), date=values.date))


def _kept_split(values: EntryValues, before: EntryValues) -> EntryValues:
    """New values keep the account or the split they had, unless they name another."""
    values = replace(values, other_account_id=values.other_account_id or before.other_account_id)
    if values.postings or not before.postings or values.other_account_id != before.other_account_id:
        return values
    return replace(values, postings=before.with_amount(values.amount).postings)


def set_deleted(ctx: Context, company: Company, account: BankAccount, entry_id: int, deleted: bool) -> None:
    """Delete an uncleared entry softly, or bring it back, its journal and the other side of a transfer with it."""
    stored = bank_book.stored_entry(ctx.db, company.id, entry_id)
    if stored is None or stored.bank_account_id != account.id:
        raise NotFound(f"{account.name} has no such entry.")
    if bool(stored.deleted_at) == deleted:
        raise Conflict(f"The entry is {'already deleted' if deleted else 'there already'}; nothing was changed.")
    refuse_locked(ctx, company, account.currency, stored.entry.date)
    refuse_cleared(ctx, company, account, entry_id)
    if deleted:
        refuse_listed(ctx, company, account, stored)
    sides = [side for side in transfers.sides_of(ctx, company.id, stored) if bool(side.deleted_at) != deleted]
    for side in sides:
        transfers.guard(ctx, company, side)
    for entry in (stored, *sides):
        put_away(ctx, company, entry, deleted)


def put_away(ctx: Context, company: Company, stored: StoredEntry, deleted: bool) -> None:
    """Delete one entry softly, or bring it back, its journal with it, without asking whether it may be."""
    at = ctx.stamp if deleted else None
    bank_book.set_deleted(ctx.db, company.id, stored.id, at)
    if stored.journal_line_id is not None:
        journal_id = ledger.journal_of_line(ctx.db, company.id, stored.journal_line_id)
        ledger.set_journal_deleted(ctx.db, company.id, journal_id, at)
    values = values_of(ctx, stored, company.id).stored()
    what = "entry deleted" if deleted else "entry brought back"
    record_event(ctx, company.id, what, "book_entry", stored.id, before=values if deleted else None)
