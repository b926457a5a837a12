"""Everything a reconciliation is computed from, loaded in a fixed number of queries."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta

from netnaught.core.completion import Blocker, blockers
from netnaught.core.reconciliation import BookFooting, Past, Standing, Work, books_gap, standing
from netnaught.core.statement import (
    ControlTotals,
    Join,
    Notice,
    NoticeKind,
    continuity,
    footing,
    footing_notices,
    opening_of,
)
from netnaught.core.wording import Wording
from netnaught.services.access import Context, Desk
from netnaught.services.writing import wording
from netnaught.store import audit, bank_book, ledger, reconciliations, seals, statements
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.database import Connection
from netnaught.store.reconciliations import Reconciliation, StoredDecision
from netnaught.store.seals import Seal
from netnaught.store.statements import FEED, StoredLine, StoredStatement


@dataclass(frozen=True, slots=True)
class Chain:
    """An account's reconciliations and seals, and what each reconciliation counts today.

    `seals`: all links of the chain; `holding`: of each sealed reconciliation its newest, by closing date.
    """

    reconciliations: tuple[Reconciliation, ...]
    seals: tuple[Seal, ...]
    holding: tuple[Seal, ...]
    counted: dict[int, int]

    @property
    def head(self) -> Seal | None:
        """The newest link of the chain."""
        return self.seals[-1] if self.seals else None

    @property
    def last_seal(self) -> Seal | None:
        """The seal of the latest sealed period."""
        return self.holding[-1] if self.holding else None

    def shifts(self) -> dict[int, int]:
        """Counted now − counted in the seal, by sealed reconciliation; minor units."""
        return {s.reconciliation_id: self.counted[s.reconciliation_id] - (s.closing - s.opening) for s in self.holding}


@dataclass(frozen=True, slots=True)
class Bench:
    """One reconciliation, loaded. `gl_balance` is None where the ledger is kept elsewhere."""

    desk: Desk
    work: Work
    standing: Standing
    book_footing: BookFooting
    gl_balance: int | None
    lines: tuple[StoredLine, ...]
    decisions: tuple[StoredDecision, ...]
    statements: tuple[StoredStatement, ...]
    notices: tuple[Notice, ...]
    earlier_open: Reconciliation | None
    say: Wording

    def blockers(self) -> tuple[Blocker, ...]:
        """What stands in the way of sealing."""
        earlier = self.say.day(self.earlier_open.closing_date) if self.earlier_open else None
        return blockers(self.standing, self.notices, earlier, self.say)


def chain_of(db: Connection, account: BankAccount, *, counting: bool = True) -> Chain:
    """Load an account's chain; without `counting` for who does not ask what is counted today."""
    found = reconciliations.reconciliations(db, account.company_id, account.id)
    rows = reconciliations.counted_now(db, account.company_id, account.id) if counting else []
    counted = {row.reconciliation_id: row.counted for row in rows}
    links = seals.seals(db, account.company_id, account.id)
    newest = {seal.reconciliation_id: seal for seal in links}
    holding = tuple(newest[r.id] for r in found if r.sealed and r.id in newest)
    return Chain(tuple(found), tuple(links), holding, counted)


def anchors_of(db: Connection, account: BankAccount) -> dict[str, int]:
    """The audit event of each seal of an account, by its fingerprint: what came after it has a higher id."""
    events = audit.events_of(db, account.company_id, "bank_account", account.id)
    return {str((event.after or {}).get("sha256")): event.id for event in events if event.what == "sealed"}


def books_gap_of(chain: Chain) -> int:
    """The account's books gap over all sealed periods, minor units."""
    return books_gap(chain.shifts().values())


def closing_of(covered: list[StoredStatement] | tuple[StoredStatement, ...]) -> int | None:
    """The closing balance of the last of some statements."""
    told = [s for s in covered if s.format != FEED]
    return max(told, key=lambda s: (s.head.end, s.id)).head.closing if told else None


def _past(db: Connection, account: BankAccount, at: Reconciliation, chain: Chain) -> Past:
    earlier = [r for r in chain.reconciliations if r.closing_date < at.closing_date]
    sealed = {seal.reconciliation_id: seal for seal in chain.holding}
    shifts = chain.shifts()
    opening, unfinished = account.starting_balance, 0
    for item in earlier:
        if item.id in sealed:
            # A period opened again before it may have come to another end: what the two differ is unfinished.
            unfinished += sealed[item.id].opening - opening
            opening = sealed[item.id].closing
        else:
            closing = closing_of(statements.statements_of(db, account.company_id, item.id))
            provisional = opening + chain.counted[item.id] if closing is None else closing
            unfinished += provisional - opening - chain.counted[item.id]
            opening = provisional
    company = account.company_id
    return Past(
        opening=opening,
        books_gap=books_gap(shifts[item.id] for item in earlier if item.id in shifts),
        late=reconciliations.cleared_before_dated_after(db, company, account.id, at.closing_date),
        bank_errors=reconciliations.bank_errors_before(db, company, account.id, at.closing_date),
        unfinished=unfinished,
    )


def _totals(covered: list[StoredStatement]) -> ControlTotals:
    heads = [s.head.totals for s in covered]
    if len(heads) == 1:
        return heads[0]
    return ControlTotals()


def period_start(account: BankAccount, chain: Chain, at: Reconciliation) -> Join:
    """The last day before a reconciliation's period; its closing is filled in by the past."""
    earlier = [r.closing_date for r in chain.reconciliations if r.closing_date < at.closing_date]
    return Join(max(earlier, default=account.starting_date), None)


def open_notices(
    covered: list[StoredStatement], before: Join, lines: list[StoredLine], foots_in_all: bool, say: Wording
) -> tuple[Notice, ...]:
    """What is still wrong with the statements of a reconciliation, in the order of their periods.

    An overlap is settled when the later statement added nothing inside the earlier one's
    days, or when opening and all lines make the closing: then nothing is doubled.
    """
    found: list[Notice] = []
    for item in covered:
        if item.format == FEED:
            continue
        own = [line.line.date for line in lines if line.statement_id == item.id]
        opening = opening_of(item.head, item.delivered)
        for notice in continuity(item.head, opening, before):
            settled = foots_in_all or not any(day <= before.end for day in own)
            if notice.kind is not NoticeKind.OVERLAP or not settled:
                found.append(notice)
        found += footing_notices(item.head, footing(item.head, item.delivered), say)
        if item.head.end >= before.end:
            before = Join(item.head.end, item.head.closing)
    return tuple(found)


def load_bench(ctx: Context, desk: Desk) -> Bench:
    """Load a reconciliation and compute its figures."""
    db, account, at = ctx.db, desk.account, desk.reconciliation
    company = account.company_id
    chain = chain_of(db, account)
    covered = statements.statements_of(db, company, at.id)
    lines = statements.lines_of(db, company, at.id)
    entries = bank_book.open_entries(db, company, account.id, at.closing_date)
    decided = reconciliations.decisions(db, company, at.id)
    past = _past(db, account, at, chain)
    work = Work(
        end=at.closing_date,
        closing=closing_of(covered),
        past=past,
        lines=tuple(line.line for line in lines),
        entries=tuple(entry for entry, _ in entries),
        decisions=tuple(d.decision for d in decided),
        totals=_totals(covered),
        cleared_later=frozenset(entry.id for entry, later in entries if later),
    )
    say = wording(account.currency, desk.company.locale)
    start = period_start(account, chain, at)
    came_in, went_out = bank_book.movements(db, company, account.id, start.end, at.closing_date)
    books = BookFooting(
        start=account.starting_balance + bank_book.balance(db, company, account.id, start.end),
        came_in=came_in,
        went_out=went_out,
        end=account.starting_balance + bank_book.balance(db, company, account.id, at.closing_date),
    )
    total = sum(line.amount for line in work.lines)
    foots_in_all = work.closing is not None and past.opening + total == work.closing
    earlier_open = next((r for r in chain.reconciliations if r.closing_date < at.closing_date and not r.sealed), None)
    notices = open_notices(covered, Join(start.end, past.opening), lines, foots_in_all, say)
    return Bench(
        desk,
        work,
        standing(work),
        books,
        ledger.gl_balance(db, company, account.gl_account_id, at.closing_date)
        if ledger.has_postings(db, company, account.gl_account_id)
        else None,
        tuple(lines),
        tuple(decided),
        tuple(covered),
        () if at.sealed else notices,
        earlier_open,
        say,
    )


def first_day(bench_start: Join) -> str:
    """The first day of the period, ISO."""
    return (bench_start.end + timedelta(days=1)).isoformat()
