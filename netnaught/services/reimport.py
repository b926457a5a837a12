"""Reading a bank book in again: compared with what is known, listed by consequence, applied in one transaction."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from enum import StrEnum

from netnaught.core.ledger import BookEntry
from netnaught.core.money import currency
from netnaught.core.reimport import Comparison, Difference, Doubt, Known, RowChange, Touches, compare
from netnaught.core.wording import count
from netnaught.formats import BOOK_COLUMNS, Columns, Table, Unreadable, read_bank_book, read_book_table
from netnaught.services import entries
from netnaught.services.access import Context, Right, account_for, company_for, record_event
from netnaught.services.columns import keep_columns, read_table, require_whole
from netnaught.services.entries import EntryValues
from netnaught.services.errors import BadInput, ConfirmationNeeded, Forbidden, Refused
from netnaught.store import audit, bank_accounts, bank_book, reconciliations
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.bank_book import StoredEntry
from netnaught.store.companies import Company
from netnaught.store.database import atomic
from netnaught.store.layouts import TableAt, TableKind

READ_AGAIN = "read again from"


class Absent(StrEnum):
    """What becomes of entries that a fresh export lacks."""

    KEEP = "keep"
    REMOVE = "remove"


@dataclass(frozen=True, slots=True)
class Answers:
    """What a person said of the entries the file lacks: inside its days, and outside them; None: not asked yet."""

    gone: Absent | None = None
    outside: Absent | None = None

    def take(self, change: RowChange) -> bool:
        """Whether a difference is taken over: what the file lacks only where it was said that it is removed."""
        if change is RowChange.GONE:
            return self.gone is Absent.REMOVE
        if change is RowChange.OUTSIDE:
            return self.outside is Absent.REMOVE
        return change is not RowChange.HELD


@dataclass(frozen=True, slots=True)
class Read:
    """A file compared; `period`: the sealed or open reconciliation each known entry is cleared in, by entry id."""

    comparison: Comparison
    period: dict[int, date]
    table: Table | None = None


def preview(
    ctx: Context, company_id: int, account_id: int, name: str, data: bytes, stated: Columns | None = None
) -> Read:
    """What a file says that is not known, by consequence; nothing is stored.

    While its columns are not all told (`Read.table.missing`), nothing is compared yet.
    """
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    table = _table(ctx, account, name, data, stated)
    if table is not None and table.missing:
        return Read(Comparison(()), {}, table)
    return replace(_compare(ctx, company, account, _rows(account, name, data, table)), table=table)


def _table(ctx: Context, account: BankAccount, name: str, data: bytes, stated: Columns | None) -> Table | None:
    """The table with its columns as stated, or as they were last time; None for the documented one."""
    first = data[:400].decode("utf-8-sig", "replace").splitlines()[:1]
    if stated is None and first and set(BOOK_COLUMNS) <= {cell.strip().lower() for cell in first[0].split(",")}:
        return None
    return read_table(ctx, _at(account), currency(account.currency), name, data, stated)


def _at(account: BankAccount) -> TableAt:
    return TableAt(account.company_id, TableKind.BOOK, account.id)


def _rows(account: BankAccount, name: str, data: bytes, table: Table | None) -> tuple[BookEntry, ...]:
    of = currency(account.currency)
    try:
        if table is None:
            return read_bank_book(data, of)
        require_whole(name, table)
        return read_book_table(table, of)
    except Unreadable as error:
        raise BadInput.of_file(name, error) from None


def _compare(ctx: Context, company: Company, account: BankAccount, rows: tuple[BookEntry, ...]) -> Read:
    cleared = bank_book.clearings(ctx.db, company.id, account.id)

    sealed_to = max(
        (r.closing_date for r in reconciliations.reconciliations(ctx.db, company.id, account.id) if r.sealed),
        default=date.min,
    )

    def touches(stored: StoredEntry) -> Touches:
        """Sealed also where a seal only lists it as outstanding."""
        at = cleared.get(stored.id)
        if (at and at.sealed) or (at is None and stored.entry.date <= sealed_to):
            return Touches.SEALED
        return Touches.CLEARED if at else Touches.OPEN

    known = [
        Known(
            stored.entry,
            stored.external_id,
            touches(stored),
            _deleted(ctx, account, stored),
            stored.origin == "starting",
        )
        for stored in bank_book.everything(ctx.db, company.id, account.id)
        if stored.external_id is not None or not stored.deleted_at
    ]
    elsewhere = {
        external
        for other in bank_accounts.bank_accounts(ctx.db, company.id)
        if other.id != account.id
        for external in bank_book.by_external_id(ctx.db, company.id, other.id)
    }
    period = {entry: at.closing_date for entry, at in cleared.items()}
    return Read(compare(rows, known, frozenset(elsewhere)), period)


def _deleted(ctx: Context, account: BankAccount, stored: StoredEntry) -> str:
    """How an entry was deleted: by reading the books again, or by a person; "" when it stands."""
    if not stored.deleted_at:
        return ""
    events = [
        event
        for event in audit.events_of(ctx.db, account.company_id, "book_entry", stored.id)
        if event.what == "entry deleted"
    ]
    reason = str((events[-1].after or {}).get("reason", "")) if events else ""
    return "read again" if reason.startswith(READ_AGAIN) else "by hand"


def apply(
    ctx: Context,
    company_id: int,
    account_id: int,
    name: str,
    data: bytes,
    other_account_id: int | None,
    answers: Answers | None = None,
    stated: Columns | None = None,
) -> Comparison:
    """Take a file's differences over, all or nothing.

    Refused while the file is in doubt (another account's, turned signs); ConfirmationNeeded until it is
    said what becomes of entries it lacks. What is sealed changes only by someone with that right.
    `other_account_id`: the ledger account of new entries; None where the ledger is kept elsewhere.
    """
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    table = _table(ctx, account, name, data, stated)
    rows = _rows(account, name, data, table)
    answers = answers or Answers()
    with atomic(ctx.db):
        found = _compare(ctx, company, account, rows).comparison
        _refuse_doubts(ctx, company, account, name, found.doubts)
        gone, outside = len(found.of(RowChange.GONE)), len(found.of(RowChange.OUTSIDE))
        ask(gone, outside, answers, "entry", "entries")
        taken = [x for x in found.differences if answers.take(x.change)]
        refuse_altering(ctx, company, sum(x.alters for x in taken))
        if table is not None:
            keep_columns(ctx, _at(account), table, stated)
        work = replace(ctx, reason=f"{READ_AGAIN} {name}")
        for item in taken:
            _take(work if item.touches is Touches.SEALED else ctx, work, company, account, item, other_account_id)
        counts: dict[str, object] = {change.value: len(found.of(change)) for change in RowChange}
        record_event(ctx, company.id, "bank book imported", "bank_account", account.id, after={"file": name, **counts})
        reconciliations.note_change(ctx.db, company.id, account.id)
    return found


def _refuse_doubts(ctx: Context, company: Company, account: BankAccount, name: str, doubts: tuple[Doubt, ...]) -> None:
    if Doubt.OTHER_ACCOUNT in doubts:
        raise Refused(
            f"{name} holds entries of another bank account of {company.name}, none of {account.name}. Nothing was changed."
        )
    if Doubt.TURNED_SIGNS in doubts:
        raise Refused(
            f"In {name} the entries known here have the opposite sign: positive must be money in. Nothing was changed: "
            "export it again with the signs of the bank book."
        )


def ask(gone: int, outside: int, answers: Answers, noun: str, plural: str) -> None:
    """ConfirmationNeeded until it is said what becomes of what a fresh export lacks."""
    asked: list[tuple[str, str]] = []
    if gone and answers.gone is None:
        verb = "is" if gone == 1 else "are"
        asked.append(("gone", f"{count(gone, noun, plural)} known here {verb} no longer in the file."))
    if outside and answers.outside is None:
        asked.append(
            (
                "outside",
                f"The file covers fewer days than are known here: {count(outside, noun, plural)} outside them. "
                "Were they removed, or are they just not in the file?",
            )
        )
    if asked:
        raise ConfirmationNeeded("Say what becomes of what the file lacks. Nothing was changed.", tuple(asked))


def refuse_altering(ctx: Context, company: Company, sealed: int) -> None:
    """Forbidden without the right, where differences change what is sealed."""
    if not sealed:
        return
    try:
        company_for(ctx, company.id, Right.ALTER)
    except Forbidden as error:
        what = count(sealed, "difference changes", "differences change")
        raise Forbidden(f"{what} sealed entries. {error.message}") from None


def _take(
    ctx: Context, work: Context, company: Company, account: BankAccount, item: Difference, other: int | None
) -> None:
    """Carry one difference into the books. `work`: with the reason, for what the file itself removed."""
    row, known = item.row, item.known
    if item.change is RowChange.NEW and row:
        values = EntryValues(row.date, row.amount, row.reference, row.payee, row.memo, other)
        entries.create(ctx, company, account, values, origin="imported", external_id=str(row.id))
        return
    if known is None:
        return
    entry_id = int(known.entry.id)
    if row and str(row.id) != known.external_id:
        bank_book.adopt(ctx.db, company.id, entry_id, str(row.id))
        record_event(
            ctx, company.id, "entry recognised", "book_entry", entry_id, after={"id": str(row.id), "how": item.how}
        )
    if item.change in (RowChange.CHANGED, RowChange.BACK) and row:
        if item.change is RowChange.BACK:
            entries.set_deleted(work, company, account, entry_id, False)
        elif row.amount != known.entry.amount:
            _open_match(ctx, company, item, entry_id)
        before = entries.values_of(ctx, entries.require_entry(ctx, company, account, entry_id), company.id)
        texts = replace(before.with_amount(row.amount), date=row.date, reference=row.reference)
        values = replace(texts, payee=row.payee, memo=row.memo)
        if values != before:
            entries.rewrite(ctx, company, account, entry_id, values)
    elif item.change in (RowChange.GONE, RowChange.OUTSIDE):
        _open_match(ctx, company, item, entry_id)
        entries.set_deleted(work, company, account, entry_id, True)


def _open_match(ctx: Context, company: Company, item: Difference, entry_id: int) -> None:
    """Withdraw the match of an entry cleared in an open reconciliation: its amount will not be what was matched."""
    if item.touches is not Touches.CLEARED:
        return
    decided = reconciliations.decision_on(ctx.db, company.id, entry=entry_id)
    if decided:
        reconciliations.set_active(ctx.db, company.id, [decided.id], False, ctx.user.id, ctx.stamp)
        record_event(
            ctx,
            company.id,
            "decisions withdrawn",
            "reconciliation",
            decided.reconciliation_id,
            before={"decisions": [decided.id]},
        )
