"""The journal: every entry of the general ledger, and general entries of several lines made by hand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from netnaught.core.ledger import JournalEntry, JournalLine, Unbalanced
from netnaught.services.access import Context, Right, company_for, record_event
from netnaught.services.errors import BadInput, NotFound, Refused
from netnaught.services.guards import refuse_locked
from netnaught.services.transfers import books_by_control
from netnaught.services.writing import wording
from netnaught.store import journals, ledger, reconciliations
from netnaught.store.companies import Company
from netnaught.store.database import atomic
from netnaught.store.journals import StoredJournal


@dataclass(frozen=True, slots=True)
class JournalPart:
    """A line of a general journal entry. `amount`: minor units of the base currency, positive = debit of the books."""

    gl_account_id: int
    amount: int
    memo: str = ""
    department_id: int | None = None
    tags: tuple[str, ...] = ()


def list_journals(ctx: Context, company_id: int, start: date, end: date) -> list[StoredJournal]:
    """The journal entries of some days, oldest first, each with its lines and the bank book entry it came from."""
    company_for(ctx, company_id)
    return journals.journals(ctx.db, company_id, start, end)


def _checked(ctx: Context, company: Company, day: date, memo: str, parts: Sequence[JournalPart]) -> JournalEntry:
    """The entry, or the reason why it cannot stand."""
    refuse_locked(ctx, company, company.currency, day)
    if not memo.strip():
        raise BadInput("Say what the entry is for: its memo. Nothing was changed.", field="memo")
    books, say = books_by_control(ctx, company), wording(company.currency, company.locale)
    for part in parts:
        account = ledger.gl_account(ctx.db, company.id, part.gl_account_id)
        if account is None:
            raise BadInput("There is no such ledger account in this company. Nothing was changed.", field="lines")
        if account.closed:
            raise Refused(f"{account.number} {account.name} is closed. Nothing was changed: choose another account.")
        if account.id in books:
            raise Refused(
                f"{account.number} {account.name} is the control account of {books[account.id].name}: posted straight "
                "to it, the bank book would lack the entry. Nothing was changed: add it in the bank book."
            )
        if part.amount == 0:
            raise BadInput("A line of zero posts nothing. Nothing was changed.", field="lines", value="0")
    if len(parts) < 2:
        raise BadInput("A journal entry has at least two lines. Nothing was changed.", field="lines")
    lines = (JournalLine(p.gl_account_id, p.amount, p.amount, p.memo, None, p.department_id, p.tags) for p in parts)
    try:
        return JournalEntry(day, memo.strip(), tuple(lines))
    except Unbalanced as error:
        side = "more debit than credit" if error.off > 0 else "more credit than debit"
        raise Refused(
            f"The entry is out of balance by {say.amount(abs(error.off))}: {side} in the books. Nothing was changed."
        ) from None


def add_journal(ctx: Context, company_id: int, day: date, memo: str, parts: Sequence[JournalPart]) -> int:
    """A general journal entry; returns its id."""
    company = company_for(ctx, company_id, Right.PREPARE)
    with atomic(ctx.db):
        journal = _checked(ctx, company, day, memo, parts)
        made, _ = ledger.post_journal(ctx.db, company_id, journal, ctx.user.id, ctx.stamp)
        _record(ctx, company_id, "journal entry made", made, journal)
        return made


def change_journal(
    ctx: Context, company_id: int, journal_id: int, day: date, memo: str, parts: Sequence[JournalPart]
) -> None:
    """Give a general journal entry new date, memo and lines."""
    company = company_for(ctx, company_id, Right.PREPARE)
    with atomic(ctx.db):
        before = _general(ctx, company, journal_id)
        ledger.rewrite_journal(ctx.db, company_id, journal_id, _checked(ctx, company, day, memo, parts))
        after = _general(ctx, company, journal_id)
        record_event(
            ctx,
            company_id,
            "journal entry changed",
            "journal_entry",
            journal_id,
            before=before.written(),
            after=after.written(),
        )
        reconciliations.note_company_change(ctx.db, company_id)


def remove_journal(ctx: Context, company_id: int, journal_id: int) -> None:
    """Delete a general journal entry softly."""
    company = company_for(ctx, company_id, Right.PREPARE)
    with atomic(ctx.db):
        before = _general(ctx, company, journal_id)
        ledger.set_journal_deleted(ctx.db, company_id, journal_id, ctx.stamp)
        record_event(ctx, company_id, "journal entry deleted", "journal_entry", journal_id, before=before.written())
        reconciliations.note_company_change(ctx.db, company_id)


def reverse_journal(ctx: Context, company_id: int, journal_id: int, day: date, reason: str) -> int:
    """Post the opposite of a general journal entry on a later day; returns the reversal's id."""
    company = company_for(ctx, company_id, Right.PREPARE)
    if not reason.strip():
        raise BadInput("Say why it is reversed: the reversal carries it. Nothing was changed.", field="reason")
    with atomic(ctx.db):
        found = journals.journal(ctx.db, company_id, journal_id)
        if found is None or found.entry_id is not None:
            raise NotFound("There is no such general journal entry. Nothing was changed.")
        if day < found.date:
            raise BadInput("A reversal is dated on the day of its entry or later. Nothing was changed.", field="date")
        parts = [JournalPart(x.account.id, -x.amount, x.memo, x.department_id, x.tags) for x in found.lines]
        journal = _checked(ctx, company, day, f"Reversal of journal {journal_id}: {reason.strip()}", parts)
        made, _ = ledger.post_journal(ctx.db, company_id, journal, ctx.user.id, ctx.stamp)
        _record(ctx, company_id, "journal entry reversed", made, journal)
        return made


def _general(ctx: Context, company: Company, journal_id: int) -> StoredJournal:
    """A general journal entry that may be changed; those of a bank book entry are changed there."""
    found = journals.journal(ctx.db, company.id, journal_id)
    if found is None:
        raise NotFound("There is no such journal entry. Nothing was changed.")
    if found.entry_id is not None or found.opening:
        where = "the opening balance of a bank account" if found.opening else "an entry of a bank book"
        raise Refused(f"This journal entry belongs to {where}: change it there. Nothing was changed.")
    refuse_locked(ctx, company, company.currency, found.date)
    return found


def written(journal: JournalEntry) -> dict[str, object]:
    """A journal entry as the audit trail keeps it, like `StoredJournal.written`."""
    lines = [[line.gl_account_id, line.amount] for line in journal.lines]
    return {"date": journal.date.isoformat(), "memo": journal.memo, "lines": lines}


def _record(ctx: Context, company_id: int, what: str, journal_id: int, journal: JournalEntry) -> None:
    record_event(ctx, company_id, what, "journal_entry", journal_id, after=written(journal))
    reconciliations.note_company_change(ctx.db, company_id)
