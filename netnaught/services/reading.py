"""Statements in: what a file holds, compared with what is known, and storing it once confirmed."""

from __future__ import annotations

import hashlib
import sqlite3
from collections import Counter
from dataclasses import dataclass, replace
from datetime import date

from netnaught.core.ledger import BankAccountKind
from netnaught.core.statement import (
    Delivered,
    Footing,
    Join,
    Notice,
    NoticeKind,
    StatementHead,
    StatementLine,
    continuity,
    delivered,
    footing,
    footing_notices,
    opening_of,
)
from netnaught.core.wording import Wording, count
from netnaught.formats import Problem, ReadLine, ReadStatement, in_steps
from netnaught.services.access import Context, Desk, Right, account_for, company_for, reconciliation_for, record_event
from netnaught.services.errors import BadInput, ConfirmationNeeded, Conflict, NotFound, Refused
from netnaught.services.incoming import How, Incoming, InFile, RawTable, TableReading, open_file, raw_table
from netnaught.services.workbench import Chain, chain_of
from netnaught.services.writing import wording
from netnaught.store import layouts, reconciliations, statements
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.database import atomic
from netnaught.store.reconciliations import Reconciliation
from netnaught.store.statements import FEED, ON_PAPER, StoredStatement


@dataclass(frozen=True, slots=True)
class HeadGiven:
    """What a person states of a statement's head; None leaves what the file says. Minor units."""

    start: date | None = None
    end: date | None = None
    opening: int | None = None
    closing: int | None = None

    def over(self, head: StatementHead) -> StatementHead:
        """The file's head with what was stated in its place."""
        return replace(
            head,
            start=self.start or head.start,
            end=self.end or head.end,
            opening=head.opening if self.opening is None else self.opening,
            closing=head.closing if self.closing is None else self.closing,
            dates_stated=head.dates_stated or bool(self.start and self.end),
        )


@dataclass(frozen=True, slots=True)
class IncomingLine:
    """A line of the file. `known`: it is stored already and will not be stored again."""

    line: StatementLine
    position: int
    bank_id: str | None
    known: bool


@dataclass(frozen=True, slots=True)
class Reading:
    """What was understood of a statement, before anything is stored."""

    format: str
    bank: str
    account: str
    currency: str
    head: StatementHead
    lines: tuple[IncomingLine, ...]
    delivered: Delivered
    footing: Footing
    opening: int | None
    opening_derived: bool
    notices: tuple[Notice, ...]
    problems: tuple[Problem, ...]
    before: Join
    closes: date
    joins_open: bool

    @property
    def new(self) -> list[IncomingLine]:
        """The lines that storing would add."""
        return [line for line in self.lines if not line.known]


@dataclass(frozen=True, slots=True)
class FileReading:
    """What was understood of a file: the statement meant, the others in it, the table behind it."""

    reading: Reading
    place: int
    in_file: tuple[InFile, ...]
    table: TableReading | None
    nothing_new: bool


def read_file(
    ctx: Context,
    company_id: int,
    account_id: int,
    name: str,
    data: bytes,
    given: HeadGiven | None = None,
    how: How | None = None,
) -> FileReading:
    """Read a file for an account and compare it with what is stored; nothing is changed."""
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    how = how or How()
    found = open_file(ctx, account, name, data, how)
    say = wording(account.currency, company.locale)
    understood = _compare_incoming(ctx, account, found, given or HeadGiven(), say)
    known = bool(understood.lines) and not understood.new
    nothing_new = known and _delivered_before(ctx, account, understood.head)
    return FileReading(understood, found.place, found.in_file, found.table, nothing_new)


def table_in(
    ctx: Context,
    company_id: int,
    account_id: int,
    name: str,
    data: bytes,
    *,
    delimiter: str,
    encoding: str,
    heading: int | None,
) -> RawTable:
    """The rows of a file's table, for a person to point at its heading; BadInput where it holds none."""
    account_for(ctx, company_id, account_id, Right.PREPARE)
    found = raw_table(name, data, delimiter, encoding, heading)
    if found is None:
        raise BadInput(f"{name} holds no table whose heading could be pointed at.", file=name)
    return found


def _compare_incoming(ctx: Context, account: BankAccount, found: Incoming, given: HeadGiven, say: Wording) -> Reading:
    reading = _compare(ctx, account, found.statement, given, say)
    if not found.stranger:
        return reading
    detail = f"The file names account {found.statement.account}, {account.name} is {account.number}"
    stranger = Notice(NoticeKind.OTHER_ACCOUNT, reading.head.start, reading.head.end, detail=detail)
    return replace(reading, notices=(stranger, *reading.notices))


def _compare(ctx: Context, account: BankAccount, read: ReadStatement, given: HeadGiven, say: Wording) -> Reading:
    head = given.over(read.head)
    if head.end < head.start:
        raise BadInput("The period ends before it starts.", field="end", value=head.end.isoformat())
    lines = _known(ctx, account, read, say)
    sums = delivered(read.amounts, read.format not in ON_PAPER)
    judged = footing(head, sums)
    opening = opening_of(head, sums)
    chain = chain_of(ctx.db, account)
    before = _join_before(ctx, account, chain, head)
    overlaps = _overlaps(ctx, account, head, lines, say)
    joins = [n for n in continuity(head, opening, before) if n.kind is not NoticeKind.OVERLAP or not overlaps]
    notices = (*joins, *overlaps, *footing_notices(head, judged, say))
    goes_to = _reconciliation_for(ctx, account, chain, head)
    return Reading(
        read.format,
        read.bank,
        read.account,
        read.currency or account.currency,
        head,
        lines,
        sums,
        judged,
        opening,
        head.opening is None and opening is not None,
        notices,
        read.problems,
        before,
        max(head.end, goes_to.closing_date) if goes_to else head.end,
        goes_to is not None,
    )


def _known(ctx: Context, account: BankAccount, read: ReadStatement, say: Wording) -> tuple[IncomingLine, ...]:
    """Mark the lines that are stored already: by the bank's id, else by date, amount and text.

    Two truly equal lines of one day stay two: as many are known as are stored.
    """
    company, found = account.company_id, read.lines
    without_id: Counter[tuple[date, int, str, str]] = Counter()
    if any(item.bank_id is None for item in found):
        days = [item.line.date for item in found]
        for stored in statements.lines_between(ctx.db, company, account.id, min(days), max(days)):
            if stored.bank_id is None:
                without_id[_looks(stored.line)] += 1
    marked: list[IncomingLine] = []
    for position, item in enumerate(in_steps(found, "comparing it with what is stored"), 1):
        line = item.line
        if item.bank_id is None:
            known = without_id[_looks(line)] > 0
            without_id[_looks(line)] -= 1
        else:
            mine = statements.line_by_bank_id(ctx.db, company, account.id, item.bank_id)
            known = mine is not None
            if mine and (mine.line.date, mine.line.amount) != (line.date, line.amount):
                raise Refused(
                    f"The bank's id {item.bank_id} stands here for {say.amount(line.amount)} on {say.day(line.date)}; "
                    f"it is already stored for {say.amount(mine.line.amount)} on {say.day(mine.line.date)}. "
                    "Nothing was stored."
                )
        marked.append(IncomingLine(line, position, item.bank_id, known))
    return tuple(marked)


def _looks(line: StatementLine) -> tuple[date, int, str, str]:
    return line.date, line.amount, line.reference, line.description


def _join_before(ctx: Context, account: BankAccount, chain: Chain, head: StatementHead) -> Join:
    """What a statement has to join on: the last balance known before it starts."""
    join = Join(account.starting_date, account.starting_balance)
    ends = {r.id: r.closing_date for r in chain.reconciliations}
    known = [Join(ends[seal.reconciliation_id], seal.closing) for seal in chain.holding]
    for item in statements.statements(ctx.db, account.company_id, account.id):
        if item.head.end < head.start and item.format != FEED:
            known.append(Join(item.head.end, item.head.closing))
    for found in known:
        if join.end <= found.end < head.end:
            join = found
    return join


def _overlaps(
    ctx: Context, account: BankAccount, head: StatementHead, lines: tuple[IncomingLine, ...], say: Wording
) -> list[Notice]:
    """Earlier statements that cover some of the same days."""
    found: list[Notice] = []
    for item in statements.statements(ctx.db, account.company_id, account.id):
        start, end = max(item.head.start, head.start), min(item.head.end, head.end)
        if start <= end and item.format != FEED:
            inside = [line for line in lines if start <= line.line.date <= end]
            known = [line for line in inside if line.known]
            detail = (
                f"of {count(len(inside), 'line')} there, {len(known)} are known already, "
                f"{len(inside) - len(known)} are new, {say.amount(sum(i.line.amount for i in inside if not i.known))}"
            )
            found.append(Notice(NoticeKind.OVERLAP, start, end, detail=detail))
    return found


def _reconciliation_for(ctx: Context, account: BankAccount, chain: Chain, head: StatementHead) -> Reconciliation | None:
    """The open reconciliation a statement belongs to; None: it opens one of its own.

    It belongs to one that already covers its days, or to one of the same month.
    """
    for found in chain.reconciliations:
        if found.sealed:
            continue
        if found.closing_date >= head.end:
            covered = statements.statements_of(ctx.db, account.company_id, found.id)
            if any(item.head.start <= head.end for item in covered):
                return found
        if (found.closing_date.year, found.closing_date.month) == (head.end.year, head.end.month):
            return found
    return None


def store_file(
    ctx: Context,
    company_id: int,
    account_id: int,
    name: str,
    data: bytes,
    given: HeadGiven | None = None,
    confirmed: frozenset[str] = frozenset(),
    how: How | None = None,
) -> int:
    """Store a statement file: its new lines, and the file itself byte for byte; returns the reconciliation.

    ConfirmationNeeded while a gap, an overlap, a bank gap or a footing fault is not in
    `confirmed`. Refused when it brings nothing new or lies in a sealed period.
    """
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    how = how or How()
    say = wording(account.currency, company.locale)
    with atomic(ctx.db):
        incoming = open_file(ctx, account, name, data, how)
        if incoming.table and incoming.table.questions:
            asked = " ".join(question.text for question in incoming.table.questions)
            raise BadInput(f"{name} can be read in more than one way: {asked} Nothing was stored.", file=name)
        found = _compare_incoming(ctx, account, incoming, given or HeadGiven(), say)
        if found.lines and not found.new and _delivered_before(ctx, account, found.head):
            raise Refused(f"All {count(len(found.lines), 'line')} of {name} are known already. Nothing was stored.")
        digest = hashlib.sha256(data).hexdigest()
        file_id = statements.add_file(ctx.db, company.id, name, digest, data, ctx.stamp)
        at = _store(ctx, company.id, account, found, confirmed, say, file_id=file_id, origin=name)
        if incoming.stranger:
            layouts.remember_alias(ctx.db, company.id, incoming.statement.account, account.id)
        if incoming.table and not incoming.table.known:
            values = incoming.table.layout.values()
            layouts.keep_layout(ctx.db, company.id, account.id, values, ctx.user.id, ctx.stamp)
        return at


def _delivered_before(ctx: Context, account: BankAccount, head: StatementHead) -> bool:
    """Whether a statement, and not only the bank's service line by line, has covered these days."""
    return any(
        item.head.start <= head.end and head.start <= item.head.end and item.format != FEED
        for item in statements.statements(ctx.db, account.company_id, account.id)
    )


def store_feed(ctx: Context, account: BankAccount, lines: list[StatementLine]) -> tuple[int | None, int]:
    """Lines of the running month, as the bank's service hands them out, inside a transaction.

    They go to the period that is not closed yet, without a closing balance until its
    statement is there; known ones are not stored again: (the reconciliation, how many were new).
    """
    first, last = min(x.date for x in lines), max(x.date for x in lines)
    head = StatementHead(first.replace(day=1), last, None, None, dates_stated=False)
    reads = tuple(ReadLine(x, str(x.id)) for x in lines)
    company = company_for(ctx, account.company_id)
    say = wording(account.currency, company.locale)
    found = _compare(
        ctx, account, ReadStatement("feed", account.bank, "", account.currency, head, reads), HeadGiven(), say
    )
    if not found.new:
        return None, 0
    every = frozenset(kind.value for kind in NoticeKind)
    return _store(ctx, company.id, account, found, every, say, file_id=None, origin="the bank's service"), len(
        found.new
    )


def store_typed(
    ctx: Context,
    company_id: int,
    account_id: int,
    head: StatementHead,
    confirmed: frozenset[str] = frozenset(),
) -> int:
    """A statement typed from paper, or a cash box's counted balance: no lines, entries are ticked."""
    company, account = account_for(ctx, company_id, account_id, Right.PREPARE)
    form = "counted" if account.kind is BankAccountKind.CASH else "typed"
    read = ReadStatement(form, account.bank, "", account.currency, head, ())
    say = wording(account.currency, company.locale)
    if head.closing is None:
        raise BadInput("The closing balance is needed: it is what the entries are ticked to.", field="closing")
    with atomic(ctx.db):
        found = _compare(ctx, account, read, HeadGiven(), say)
        return _store(ctx, company.id, account, found, confirmed, say, file_id=None, origin="paper")


def _store(
    ctx: Context,
    company_id: int,
    account: BankAccount,
    found: Reading,
    confirmed: frozenset[str],
    say: Wording,
    *,
    file_id: int | None,
    origin: str,
) -> int:
    chain = chain_of(ctx.db, account)
    sealed = [r.closing_date for r in chain.reconciliations if r.sealed]
    if sealed and found.head.end <= max(sealed):
        raise Refused(
            f"The statement ends {say.day(found.head.end)}; everything to {say.day(max(sealed))} is sealed. Nothing was stored."
        )
    if found.head.end <= account.starting_date:
        raise Refused(
            f"The statement ends {say.day(found.head.end)}, before the account starts on "
            f"{say.day(account.starting_date)}. Nothing was stored."
        )
    missing = [notice for notice in found.notices if notice.kind not in confirmed]
    if missing:
        listed = tuple((notice.kind.value, notice.sentence(say)) for notice in missing)
        raise ConfirmationNeeded("This needs your confirmation before it is stored.", listed)
    at = _reconciliation_for(ctx, account, chain, found.head)
    if at is None:
        at = reconciliations.add_reconciliation(ctx.db, company_id, account.id, found.head.end, ctx.stamp)
    elif found.head.end > at.closing_date:
        reconciliations.set_closing_date(ctx.db, company_id, at.id, found.head.end)
    _refuse_mixing(ctx, company_id, at, bool(found.lines))
    statement_id = statements.add_statement(
        ctx.db,
        company_id,
        account.id,
        at.id,
        head=found.head,
        lines=found.delivered,
        form=found.format,
        file_id=file_id,
        user_id=ctx.user.id,
        now=ctx.stamp,
    )
    new = [(item.position, item.line, item.bank_id) for item in found.new]
    statements.add_lines(ctx.db, company_id, account.id, statement_id, new)
    reconciliations.note_change(ctx.db, company_id, account.id)
    record_event(
        ctx,
        company_id,
        "statement stored",
        "statement",
        statement_id,
        after={"from": origin, "lines": len(new), "confirmed": sorted(notice.kind.value for notice in found.notices)},
    )
    return at.id


def _refuse_mixing(ctx: Context, company_id: int, at: Reconciliation, has_lines: bool) -> None:
    """Ticks exist only where there are no statement lines."""
    kinds = {found.decision.kind.value for found in reconciliations.decisions(ctx.db, company_id, at.id)}
    if has_lines and "tick" in kinds:
        raise Conflict(
            "Entries have been ticked in this period; with statement lines they are matched instead. "
            "Untick them first. Nothing was stored."
        )


def require_statement(ctx: Context, company_id: int, statement_id: int, right: Right) -> tuple[Desk, StoredStatement]:
    """A statement and where it belongs; Conflict when it is sealed and `right` is more than reading."""
    company_for(ctx, company_id, right)
    found = statements.statement(ctx.db, company_id, statement_id)
    if found is None:
        raise NotFound("There is no such statement.")
    desk = reconciliation_for(ctx, company_id, found.reconciliation_id, right)
    if right is not Right.READ and desk.reconciliation.sealed:
        raise Conflict("This statement is sealed; nothing was changed.")
    return desk, found


def correct_head(ctx: Context, company_id: int, statement_id: int, head: StatementHead) -> None:
    """Correct dates, balances and totals of a statement that is not sealed."""
    with atomic(ctx.db):
        desk, found = require_statement(ctx, company_id, statement_id, Right.PREPARE)
        if head.end < head.start:
            raise BadInput("The period ends before it starts.", field="end", value=head.end.isoformat())
        sealed = [r.closing_date for r in chain_of(ctx.db, desk.account).reconciliations if r.sealed]
        say = wording(desk.account.currency, desk.company.locale)
        if sealed and head.end <= max(sealed):
            raise Refused(f"Everything to {say.day(max(sealed))} is sealed; the closing date must lie after it.")
        statements.write_head(ctx.db, company_id, statement_id, head)
        covered = statements.statements_of(ctx.db, company_id, desk.reconciliation.id)
        until = max(item.head.end for item in covered)
        try:
            reconciliations.set_closing_date(ctx.db, company_id, desk.reconciliation.id, until)
        except sqlite3.IntegrityError:
            raise Conflict(f"There is already a reconciliation to {say.day(until)}; nothing was changed.") from None
        reconciliations.note_change(ctx.db, company_id, desk.account.id)
        record_event(
            ctx,
            company_id,
            "statement head corrected",
            "statement",
            statement_id,
            before=_stored_head(found.head),
            after=_stored_head(head),
        )


def _stored_head(head: StatementHead) -> dict[str, object]:
    return {
        "start": head.start.isoformat(),
        "end": head.end.isoformat(),
        "opening": head.opening,
        "closing": head.closing,
        "total_in": head.totals.total_in,
        "total_out": head.totals.total_out,
    }


def withdraw(ctx: Context, company_id: int, statement_id: int) -> None:
    """Take out a statement that is not sealed and of which no line is decided."""
    with atomic(ctx.db):
        desk, _ = require_statement(ctx, company_id, statement_id, Right.PREPARE)
        at = desk.reconciliation
        own = {line.id for line in statements.lines_of(ctx.db, company_id, at.id) if line.statement_id == statement_id}
        decided = [d for d in reconciliations.decisions(ctx.db, company_id, at.id) if own & set(d.decision.lines)]
        others = [s for s in statements.statements_of(ctx.db, company_id, at.id) if s.id != statement_id]
        ticked = not others and reconciliations.decisions(ctx.db, company_id, at.id)
        if decided or ticked:
            number = len(decided) or len(reconciliations.decisions(ctx.db, company_id, at.id))
            raise Conflict(
                f"{count(number, 'decision')} rest on this statement. Withdraw them first; nothing was changed."
            )
        statements.set_withdrawn(ctx.db, company_id, statement_id, ctx.stamp)
        if others:
            reconciliations.set_closing_date(ctx.db, company_id, at.id, max(s.head.end for s in others))
        reconciliations.note_change(ctx.db, company_id, desk.account.id)
        record_event(ctx, company_id, "statement withdrawn", "statement", statement_id)


def list_statements(ctx: Context, company_id: int, account_id: int) -> list[StoredStatement]:
    """All statements of an account, by period."""
    account_for(ctx, company_id, account_id)
    return statements.statements(ctx.db, company_id, account_id)


def original(ctx: Context, company_id: int, statement_id: int) -> statements.StatementFile:
    """The file a statement was read from, byte for byte."""
    require_statement(ctx, company_id, statement_id, Right.READ)
    found = statements.statement_file(ctx.db, company_id, statement_id)
    if found is None:
        raise NotFound("This statement was typed from paper; there is no file.")
    return found
