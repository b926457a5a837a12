"""The chart of accounts and the general ledger's detail, imported from tables; nothing is stored on any error."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from netnaught.core.ledger import AccountKind, JournalEntry, JournalLine, Unbalanced
from netnaught.core.money import currency, plain
from netnaught.formats import CHART, DETAIL, Columns, DetailLine, Table, Unreadable, read_detail, table_of
from netnaught.services.access import Context, Right, company_for, record_event
from netnaught.services.errors import BadInput
from netnaught.services.guards import refuse_locked
from netnaught.store import journals, ledger, reconciliations
from netnaught.store.companies import Company
from netnaught.store.database import atomic
from netnaught.store.journals import StoredJournal
from netnaught.store.ledger import GlAccount


@dataclass(frozen=True, slots=True)
class Understood:
    """What a table holds: how many are new, known as they are, come back after an export; known ones that differ."""

    table: Table
    new: int = 0
    known: int = 0
    held: tuple[str, ...] = ()
    returned: int = 0


def _table(company: Company, name: str, data: bytes, roles: tuple[str, ...], stated: Columns | None) -> Table:
    try:
        return table_of(data, roles, currency(company.currency), stated)
    except Unreadable as error:
        raise BadInput.of_file(name, error) from None


def _require_whole(name: str, table: Table) -> None:
    if table.missing:
        what = table.missing[0]
        raise BadInput.of_file(name, Unreadable(f"it must still be said which column is {what}", line=1, column=what))


def read_chart(
    ctx: Context, company_id: int, name: str, data: bytes, stated: Columns | None = None, *, store: bool = False
) -> Understood:
    """Accounts of a table that are not known yet; with `store` they are added, all or none."""
    company = company_for(ctx, company_id, Right.MANAGE)
    table = _table(company, name, data, CHART, stated)
    if not store and table.missing:
        return Understood(table)
    _require_whole(name, table)
    with atomic(ctx.db):
        known = {account.number: account for account in ledger.gl_accounts(ctx.db, company_id)}
        new = same = 0
        held: list[str] = []
        seen: set[str] = set()
        for row in table.rows:
            number, title, kind = (table.cell(row, role) for role in CHART)
            if not number or number in seen or not title:
                what = (
                    "the number stands twice in the table" if number in seen else "an account needs a number and a name"
                )
                raise BadInput.of_file(name, Unreadable(what, line=row.line, column="number", value=number))
            seen.add(number)
            if kind.lower() not in set(AccountKind):
                kinds = ", ".join(AccountKind)
                raise BadInput.of_file(
                    name, Unreadable(f"is none of {kinds}", line=row.line, column="kind", value=kind)
                )
            mine = known.get(number)
            if mine is None:
                new += 1
                if store:
                    ledger.add_gl_account(ctx.db, company_id, number, title, AccountKind(kind.lower()))
            elif (mine.name, mine.kind) == (title, kind.lower()):
                same += 1
            else:
                held.append(f"{number} is {mine.name} ({mine.kind}) here")
        if store:
            record_event(ctx, company_id, "chart imported", "company", company_id, after={"file": name, "new": new})
    return Understood(table, new, same, tuple(held))


def read_ledger(
    ctx: Context, company_id: int, name: str, data: bytes, stated: Columns | None = None, *, store: bool = False
) -> Understood:
    """Journal entries of a general ledger's detail that are not known yet; with `store` they are posted, all or none.

    Refused, with its line: an unknown or closed account, an entry that does not balance or has two dates, locked days.
    """
    company = company_for(ctx, company_id, Right.PREPARE)
    table = _table(company, name, data, DETAIL, stated)
    if not store and table.missing:
        return Understood(table)
    _require_whole(name, table)
    try:
        lines = read_detail(table, currency(company.currency))
    except Unreadable as error:
        raise BadInput.of_file(name, error) from None
    with atomic(ctx.db):
        new = same = returned = 0
        held: list[str] = []
        known = journals.by_external_id(ctx.db, company_id)
        waiting = _exported(ctx, company_id)
        accounts = {account.number: account for account in ledger.gl_accounts(ctx.db, company_id)}
        for ident, of_entry in _by_journal(name, lines).items():
            journal = _entry(accounts, company, name, of_entry)
            mine = known.get(ident)
            back = waiting.get(_content(journal), []) if mine is None else []
            if len(back) == 1:
                returned += 1
                if store:
                    journals.adopt(ctx.db, company_id, back.pop(), ident)
            elif mine is None:
                new += 1
                refuse_locked(ctx, company, company.currency, journal.date)
                if store:
                    ledger.post_journal(ctx.db, company_id, journal, ctx.user.id, ctx.stamp, ident)
            elif _content(journal) == _stored_content(mine):
                same += 1
            else:
                held.append(f"journal {ident} says otherwise here")
        if store:
            record_event(ctx, company_id, "ledger imported", "company", company_id, after={"file": name, "new": new})
            reconciliations.note_company_change(ctx.db, company_id)
    return Understood(table, new, same, tuple(held), returned)


def _by_journal(name: str, lines: tuple[DetailLine, ...]) -> dict[str, list[DetailLine]]:
    found: dict[str, list[DetailLine]] = {}
    for line in lines:
        if not line.journal:
            error = Unreadable("every line needs the id of its journal", line=line.line, column="journal", value="")
            raise BadInput.of_file(name, error)
        found.setdefault(line.journal, []).append(line)
    return found


def _entry(accounts: dict[str, GlAccount], company: Company, name: str, lines: list[DetailLine]) -> JournalEntry:
    """The journal entry that lines make, or what is wrong with them and where."""
    first = lines[0]
    for line in lines:
        account = accounts.get(line.account)
        what = "is no account of the chart" if account is None else "is closed" if account.closed else ""
        if what:
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


_Content = tuple[date, tuple[tuple[int, int], ...]]


def _content(journal: JournalEntry) -> _Content:
    """What makes two journals the same: the day, and what is posted to which account."""
    return journal.date, tuple(sorted((line.gl_account_id, line.base_amount) for line in journal.lines))


def _stored_content(journal: StoredJournal) -> _Content:
    return journal.date, tuple(sorted((line.account.id, line.base_amount) for line in journal.lines))


def _exported(ctx: Context, company_id: int) -> dict[_Content, list[int]]:
    """Journals that were handed to the books kept elsewhere, by content: what comes back alike is not posted again."""
    found: dict[_Content, list[int]] = {}
    for journal in journals.exported(ctx.db, company_id):
        found.setdefault(_stored_content(journal), []).append(journal.id)
    return found
