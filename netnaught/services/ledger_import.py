"""The general ledger's detail, read in and read in again: compared with what is known, applied in one transaction."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

from netnaught.core.ledger import JournalEntry, JournalLine, Unbalanced
from netnaught.core.money import currency, plain
from netnaught.core.reimport import (
    Doubt,
    JournalComparison,
    JournalDifference,
    KnownJournal,
    RowChange,
    compare_journals,
)
from netnaught.formats import Columns, DetailLine, Table, Unreadable, read_detail
from netnaught.services.access import Context, Right, company_for, record_event
from netnaught.services.columns import keep_columns, read_table, require_whole
from netnaught.services.errors import BadInput, Refused
from netnaught.services.guards import refuse_locked
from netnaught.services.journals import written
from netnaught.services.reimport import READ_AGAIN, Answers, ask, refuse_altering
from netnaught.store import audit, bank_accounts, journals, ledger, reconciliations
from netnaught.store.companies import Company
from netnaught.store.database import atomic
from netnaught.store.journals import StoredJournal
from netnaught.store.layouts import TableAt, TableKind
from netnaught.store.ledger import GlAccount

_DELETED = "journal entry deleted"


@dataclass(frozen=True, slots=True)
class ReadLedger:
    """A file compared; `accounts`: the chart, by id. `comparison` is empty while its columns are not all told."""

    table: Table
    comparison: JournalComparison
    accounts: dict[int, GlAccount]


def preview(ctx: Context, company_id: int, name: str, data: bytes, stated: Columns | None = None) -> ReadLedger:
    """What a file of the ledger's detail says that is not known, by consequence; nothing is stored."""
    company = company_for(ctx, company_id, Right.PREPARE)
    table = read_table(ctx, _at(company), currency(company.currency), name, data, stated)
    if table.missing:
        return ReadLedger(table, JournalComparison(()), {})
    return _compare(ctx, company, name, table)


def apply(
    ctx: Context,
    company_id: int,
    name: str,
    data: bytes,
    answers: Answers | None = None,
    stated: Columns | None = None,
) -> ReadLedger:
    """Take a file's differences over, all or nothing.

    Refused, with its line: an unknown account, an entry that does not balance or has two dates; a closed account,
    locked days, turned signs. ConfirmationNeeded until it is said what becomes of entries it lacks. What stands in
    sealed days of a bank account changes only by someone with that right.
    """
    company = company_for(ctx, company_id, Right.PREPARE)
    table = read_table(ctx, _at(company), currency(company.currency), name, data, stated)
    require_whole(name, table)
    answers = answers or Answers()
    with atomic(ctx.db):
        read = _compare(ctx, company, name, table)
        found = read.comparison
        if Doubt.TURNED_SIGNS in found.doubts:
            raise Refused(
                f"In {name} the journal entries known here have the opposite signs: debits must be positive. "
                "Nothing was changed: export it again with the signs of the ledger."
            )
        gone, outside = len(found.of(RowChange.GONE)), len(found.of(RowChange.OUTSIDE))
        ask(gone, outside, answers, "journal entry", "journal entries")
        taken = [x for x in found.differences if answers.take(x.change)]
        refuse_altering(ctx, company, sum(x.alters for x in taken))
        reason = f"{READ_AGAIN} {name}"
        for item in taken:
            work = replace(ctx, reason=reason) if item.alters else ctx
            _take(work, reason, company, read.accounts, item)
        keep_columns(ctx, _at(company), table, stated)
        counts: dict[str, object] = {change.value: len(found.of(change)) for change in RowChange}
        record_event(ctx, company_id, "ledger imported", "company", company_id, after={"file": name, **counts})
        reconciliations.note_company_change(ctx.db, company_id)
    return read


def _at(company: Company) -> TableAt:
    return TableAt(company.id, TableKind.DETAIL)


# Comparing ------------------------------------------------------------------------------------------


def _compare(ctx: Context, company: Company, name: str, table: Table) -> ReadLedger:
    try:
        lines = read_detail(table, currency(company.currency))
    except Unreadable as error:
        raise BadInput.of_file(name, error) from None
    chart = ledger.gl_accounts(ctx.db, company.id)
    by_number = {account.number: account for account in chart}
    rows = {ident: _entry(by_number, company, name, of) for ident, of in _by_journal(name, lines).items()}
    comparison = compare_journals(
        rows, _known(ctx, company), _sealed_to(ctx, company), with_memos=bool(table.columns.by_role.get("memo"))
    )
    return ReadLedger(table, comparison, {account.id: account for account in chart})


def _known(ctx: Context, company: Company) -> list[KnownJournal]:
    stored = journals.known_elsewhere(ctx.db, company.id)
    names = {account.id: account.name for account in bank_accounts.bank_accounts(ctx.db, company.id)}
    gone = audit.events_of_many(ctx.db, company.id, "journal_entry", [j.id for j in stored if j.deleted])
    return [
        KnownJournal(
            journal.id,
            journal.external_id,
            _as_entry(journal),
            journal.made_here,
            _belongs(journal, names),
            _deleted(gone.get(journal.id, [])) if journal.deleted else "",
        )
        for journal in stored
    ]


def _as_entry(journal: StoredJournal) -> JournalEntry:
    lines = (
        JournalLine(x.account.id, x.amount, x.base_amount, x.memo, x.tax_code_id, x.department_id, x.tags)
        for x in journal.lines
    )
    return JournalEntry(journal.date, journal.memo, tuple(lines))


def _belongs(journal: StoredJournal, names: Mapping[int, str]) -> str:
    if journal.opening:
        return "the opening balance of a bank account"
    account = names.get(journal.bank_account_id or 0)
    return f"an entry of {account}" if journal.entry_id is not None and account else ""


def _deleted(events: list[audit.AuditEvent]) -> str:
    """How an entry was deleted: by reading the ledger again, or by a person."""
    last = next((event for event in reversed(events) if event.what == _DELETED), None)
    reason = str((last.after or {}).get("reason", "")) if last else ""
    return "read again" if reason.startswith(READ_AGAIN) else "by hand"


def _sealed_to(ctx: Context, company: Company) -> dict[int, date]:
    """Every control account with the last sealed day of its bank account."""
    found: dict[int, date] = {}
    for account in bank_accounts.bank_accounts(ctx.db, company.id):
        periods = reconciliations.reconciliations(ctx.db, company.id, account.id)
        found[account.gl_account_id] = max((r.closing_date for r in periods if r.sealed), default=date.min)
    return found


def _by_journal(name: str, lines: tuple[DetailLine, ...]) -> dict[str, list[DetailLine]]:
    """The lines of each journal entry. They may stand apart, as where a file goes by account; but an id of which
    two blocks balance each for itself stands for two entries.
    """
    found: dict[str, list[DetailLine]] = {}
    before = ""
    for line in lines:
        if not line.journal:
            error = Unreadable("every line needs the id of its journal", line=line.line, column="journal", value="")
            raise BadInput.of_file(name, error)
        mine = found.setdefault(line.journal, [])
        if mine and before != line.journal and sum(x.amount for x in mine) == 0:
            what = f"this journal stood whole on lines {mine[0].line} to {mine[-1].line} already: its id is doubled"
            raise BadInput.of_file(name, Unreadable(what, line=line.line, column="journal", value=line.journal))
        mine.append(line)
        before = line.journal
    return found


def _entry(accounts: dict[str, GlAccount], company: Company, name: str, lines: list[DetailLine]) -> JournalEntry:
    """The journal entry that lines make, or what is wrong with them and where."""
    first = lines[0]
    for line in lines:
        account = accounts.get(line.account)
        if account is None:
            what = "is no account of the chart"
            raise BadInput.of_file(name, Unreadable(what, line=line.line, column="account", value=line.account))
        if line.date != first.date:
            what = f"journal {line.journal} has two dates"
            raise BadInput.of_file(name, Unreadable(what, line=line.line, column="date", value=line.date.isoformat()))
    made = tuple(JournalLine(accounts[x.account].id, x.amount, x.amount, x.memo) for x in lines)
    try:
        return JournalEntry(first.date, first.memo or f"Journal {first.journal}", made)
    except Unbalanced as error:
        off = plain(error.off, currency(company.currency))
        what = f"journal {first.journal} is out of balance by {off}"
        raise BadInput.of_file(name, Unreadable(what, line=first.line, column="amount", value=off)) from None
    except ValueError as error:
        raise BadInput.of_file(
            name, Unreadable(str(error), line=first.line, column="journal", value=first.journal)
        ) from None


# Applying -------------------------------------------------------------------------------------------


def _take(
    ctx: Context, reason: str, company: Company, accounts: Mapping[int, GlAccount], item: JournalDifference
) -> None:
    """Carry one difference into the ledger. `ctx` has a reason only where something sealed is altered."""
    row, known = item.row, item.known
    if row is None:
        if known is not None:
            refuse_locked(ctx, company, company.currency, known.entry.date)
            ledger.set_journal_deleted(ctx.db, company.id, known.id, ctx.stamp)
            _record(ctx, company, _DELETED, known, None, reason)
    elif known is None:
        _refuse_closed(accounts, row, ())
        refuse_locked(ctx, company, company.currency, row.date)
        made, _ = ledger.post_journal(ctx.db, company.id, row, ctx.user.id, ctx.stamp, item.row_id)
        record_event(ctx, company.id, "journal entry imported", "journal_entry", made, after=written(row))
    elif item.change in (RowChange.SAME, RowChange.RETURNED):
        if known.external_id != item.row_id:
            journals.adopt(ctx.db, company.id, known.id, item.row_id)
    else:
        _refuse_closed(accounts, row, known.entry.lines)
        refuse_locked(ctx, company, company.currency, row.date, known.entry.date)
        ledger.rewrite_journal(ctx.db, company.id, known.id, _with_divisions(row, known.entry))
        if item.change is RowChange.BACK:
            ledger.set_journal_deleted(ctx.db, company.id, known.id, None)
        what = "journal entry brought back" if item.change is RowChange.BACK else "journal entry changed"
        _record(ctx, company, what, known, row, reason)


def _refuse_closed(accounts: Mapping[int, GlAccount], row: JournalEntry, standing: Sequence[JournalLine]) -> None:
    """Nothing more is posted to a closed account; what stands on one may stay."""
    before = {line.gl_account_id for line in standing}
    for line in row.lines:
        account = accounts[line.gl_account_id]
        if account.closed and account.id not in before:
            raise Refused(
                f"{account.number} {account.name} is closed, and “{row.memo}” of {row.date.isoformat()} posts to it. "
                "Nothing was changed: open the account again, or post it elsewhere."
            )


def _with_divisions(row: JournalEntry, before: JournalEntry) -> JournalEntry:
    """The file does not tell departments, taxes and tags: a line that stays on its account keeps those it has."""
    left = list(before.lines)
    lines: list[JournalLine] = []
    for line in row.lines:
        was = next((x for x in left if x.gl_account_id == line.gl_account_id), None)
        if was is not None:
            left.remove(was)
            line = replace(line, tax_code_id=was.tax_code_id, department_id=was.department_id, tags=was.tags)
        lines.append(line)
    return replace(row, lines=tuple(lines))


def _record(
    ctx: Context, company: Company, what: str, known: KnownJournal, row: JournalEntry | None, reason: str
) -> None:
    after: dict[str, object] = {**(written(row) if row else {}), "reason": reason}
    before = None if known.deleted else written(known.entry)
    record_event(ctx, company.id, what, "journal_entry", known.id, before=before, after=after)
