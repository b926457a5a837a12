"""The Board: bank accounts by months and their states, and what is next to do, largest consequence first."""

from __future__ import annotations

import calendar
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from babel.dates import format_date

from netnaught.core.ledger import BankAccountKind, BookEntry
from netnaught.core.outstanding import Age, OutstandingKind, age, kind_of
from netnaught.core.ring import Ring, RingState, ring_of, sealed_ring
from netnaught.core.statement import NoticeKind
from netnaught.core.wording import Wording, count
from netnaught.services.access import Context, Desk, account_for
from netnaught.services.sealed_ledger import moved_last
from netnaught.services.setup import my_companies
from netnaught.services.tracing import findings_of
from netnaught.services.workbench import Bench, books_gap_of, chain_of, load_bench
from netnaught.services.writing import wording
from netnaught.store import bank_accounts, bank_book, reconciliations, statements
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.companies import Company
from netnaught.store.reconciliations import Reconciliation

MONTHS = 6


class TodoKind(StrEnum):
    """What may be next to do, in the order of consequence."""

    BOOKS_GAP = "books gap"
    RELABELLED = "relabelled"
    STATEMENT_TROUBLE = "statement trouble"
    STATEMENT_MISSING = "statement missing"
    IN_REVIEW = "in review"
    READY_TO_SEAL = "ready to seal"
    GO_ON = "go on"
    STALE = "stale"
    LEDGER_MOVED = "ledger moved"
    LEDGER_DISAGREES = "ledger disagrees"


@dataclass(frozen=True, slots=True)
class Cell:
    """One ring on the Board. `difference` is None where there is none to tell; minor units."""

    month: str
    ring: Ring
    reconciliation_id: int | None = None
    closing_date: date | None = None
    difference: int | None = None


@dataclass(frozen=True, slots=True)
class AccountRow:
    """An account and its rings."""

    account: BankAccount
    cells: tuple[Cell, ...]


@dataclass(frozen=True, slots=True)
class Todo:
    """One thing to do: what, why, and where it is done. Of one kind, the heavier comes first."""

    kind: TodoKind
    company_id: int
    account_id: int
    reconciliation_id: int | None
    title: str
    text: str
    action: str
    ring: Ring
    weight: int = 0


@dataclass(frozen=True, slots=True)
class CompanyBoard:
    """A company's accounts."""

    company: Company
    role: str
    accounts: tuple[AccountRow, ...]


@dataclass(frozen=True, slots=True)
class Board:
    """The Board of one person."""

    months: tuple[str, ...]
    companies: tuple[CompanyBoard, ...]
    todo: tuple[Todo, ...]


def board(ctx: Context) -> Board:
    """The Board over all companies of the person at work."""
    loaded = [
        (m, [_Account(ctx, m.company, a) for a in bank_accounts.bank_accounts(ctx.db, m.company.id)])
        for m in my_companies(ctx)
    ]
    last = max((item.last_month for _, items in loaded for item in items), default=f"{ctx.now:%Y-%m}")
    months = tuple(_months_to(last))
    todo: list[Todo] = []
    companies: list[CompanyBoard] = []
    for member, items in loaded:
        rows: list[AccountRow] = []
        for item in items:
            cells, found = item.cells(months)
            rows.append(AccountRow(item.account, cells))
            todo += found
        companies.append(CompanyBoard(member.company, member.role, tuple(rows)))
    order = list(TodoKind)
    return Board(months, tuple(companies), tuple(sorted(todo, key=lambda t: (order.index(t.kind), -t.weight, t.title))))


def reconciliations_of(ctx: Context, company_id: int, account_id: int) -> list[Reconciliation]:
    """All reconciliations of an account, oldest first."""
    account_for(ctx, company_id, account_id)
    return reconciliations.reconciliations(ctx.db, company_id, account_id)


def _months_to(last: str) -> list[str]:
    year, month = int(last[:4]), int(last[5:])
    found: list[str] = []
    for back in range(MONTHS - 1, -1, -1):
        number = year * 12 + month - 1 - back
        found.append(f"{number // 12:04d}-{number % 12 + 1:02d}")
    return found


def _month(day: date) -> str:
    return f"{day:%Y-%m}"


class _Account:
    """One account while the Board is put together."""

    def __init__(self, ctx: Context, company: Company, account: BankAccount) -> None:
        self.ctx, self.company, self.account = ctx, company, account
        self.say: Wording = wording(account.currency, company.locale)
        self.chain = chain_of(ctx.db, account)
        self.findings = findings_of(ctx.db, account, self.chain)
        self.entry_months = bank_book.months(ctx.db, company.id, account.id)
        closing = [_month(r.closing_date) for r in self.chain.reconciliations]
        self.last_month = max([*closing, *self.entry_months, _month(account.starting_date)])

    def cells(self, months: tuple[str, ...]) -> tuple[tuple[Cell, ...], list[Todo]]:
        """The rings over some months, and what they ask for."""
        todo: list[Todo] = []
        cells: list[Cell] = []
        shifts = self.chain.shifts()
        for found in self.chain.reconciliations:
            if found.sealed:
                here = self.findings.get(found.id, [])
                disturbed = any(not f.mended for f in here)
                ring, difference = sealed_ring(disturbed, bool(here)), shifts.get(found.id, 0) or None
            else:
                bench = load_bench(self.ctx, Desk(self.company, self.account, found))
                ring, difference = ring_of(bench.standing, found.stage), bench.standing.difference
                todo += self._work(bench, ring)
            cells.append(Cell(_month(found.closing_date), ring, found.id, found.closing_date, difference))
        todo += self._gap() + self._stale() + self._ledger_moved()
        covered = self._covered()
        for month in months:
            first = _month(self.account.starting_date + timedelta(days=1))
            if month not in covered and first <= month <= self.last_month:
                cells.append(Cell(month, Ring(RingState.NO_STATEMENT)))
                todo += self._missing(month)
        return tuple(cell for cell in cells if cell.month in months), todo

    def _covered(self) -> set[str]:
        found = {_month(r.closing_date) for r in self.chain.reconciliations}
        for item in statements.statements(self.ctx.db, self.company.id, self.account.id):
            first, last = _month(item.head.start), _month(item.head.end)
            found |= {month for month in self.entry_months if first <= month <= last}
        return found

    def _todo(
        self,
        kind: TodoKind,
        text: str,
        action: str,
        ring: Ring,
        *,
        month: str = "",
        at: int | None = None,
        weight: int = 0,
    ) -> Todo:
        title = f"{self.account.name} · {month}" if month else self.account.name
        return Todo(kind, self.company.id, self.account.id, at, title, text, action, ring, weight)

    def _missing(self, month: str) -> list[Todo]:
        entries = self.entry_months.get(month, 0)
        text = f"No statement yet; {count(entries, 'entry', 'entries')} of the bank book wait for it"
        name = _month_name(month, self.company.locale)
        ring, counted = Ring(RingState.NO_STATEMENT), self.account.kind is BankAccountKind.CASH
        action = "count the box" if counted else "get the statement"
        return [self._todo(TodoKind.STATEMENT_MISSING, text, action, ring, month=name, weight=entries)]

    def _gap(self) -> list[Todo]:
        """What is disturbed in sealed periods: what it does to the opening, or that it moves no balance."""
        open_findings = [f for here in self.findings.values() for f in here if not f.mended]
        if not open_findings:
            return []
        at, ring = open_findings[0].reconciliation_id, Ring(RingState.DISTURBED)
        number = count(len({f.item for f in open_findings}), "sealed entry", "sealed entries")
        gap = books_gap_of(self.chain)
        if gap:
            side = "above" if gap > 0 else "below"
            text = f"{number} changed: the books start {self.say.amount(abs(gap))} {side} the seal"
            return [self._todo(TodoKind.BOOKS_GAP, text, "look at the trace", ring, at=at, weight=abs(gap))]
        text = f"{number} changed; the opening balance has not moved"
        return [self._todo(TodoKind.RELABELLED, text, "look at the trace", ring, at=at)]

    def _ledger_moved(self) -> list[Todo]:
        """The ledger at the last sealed date, moved by what is no change of a sealed entry: that one has its finding."""
        moved = moved_last(self.ctx.db, self.account, self.chain)
        if moved is None or not (moved.shift.added or moved.shift.straight):
            return []
        off = moved.shift.added + moved.shift.straight
        parts = {"entries that came since": moved.shift.added, "postings straight to it": moved.shift.straight}
        what = " and ".join(f"{self.say.amount(amount)} of {how}" for how, amount in parts.items() if amount)
        text = f"The ledger at {self.say.day(moved.closing_date)} is no longer as sealed: {what}"
        ring = Ring(RingState.SEALED)
        at = moved.reconciliation_id
        return [self._todo(TodoKind.LEDGER_MOVED, text, "look at the trace", ring, at=at, weight=abs(off))]

    def _stale(self) -> list[Todo]:
        """What lingers past its rule: checks at the end of the last month with anything in it, for time alone makes
        them stale; the rest at the last seal, up to which it is known what has reached the bank.
        """
        at = self.chain.reconciliations[-1].id if self.chain.reconciliations else None
        known_to = max((r.closing_date for r in self.chain.reconciliations if r.sealed), default=date.min)
        stale: dict[OutstandingKind, list[tuple[BookEntry, Age]]] = {}
        for entry in bank_book.uncleared(self.ctx.db, self.company.id, self.account.id):
            kind = kind_of(entry)
            day = _month_end(self.last_month) if kind is OutstandingKind.CHECK else known_to
            judged = age(entry, day, self.company.stale)
            if judged.stale:
                stale.setdefault(kind, []).append((entry, judged))
        return [
            self._todo(
                TodoKind.STALE,
                self._lingers(kind, found),
                f"past {found[0][1].stale} · decide",
                Ring(RingState.IN_WORK),
                at=at,
            )
            for kind, found in stale.items()
        ]

    def _lingers(self, kind: OutstandingKind, found: list[tuple[BookEntry, Age]]) -> str:
        """One item by name, several by number and sum."""
        if len(found) == 1:
            entry, judged = found[0]
            name = " ".join(word for word in (kind.capitalize(), entry.reference) if word)
            amount = self.say.amount(abs(entry.amount))
            return f"{name}, {entry.payee or entry.memo}, {amount}, is {judged.days} days old"
        amount = self.say.amount(abs(sum(entry.amount for entry, _ in found)))
        many = {OutstandingKind.DEPOSIT_IN_TRANSIT: "deposits in transit"}.get(kind, f"{kind}s")
        return f"{len(found)} {many} linger, {amount} together"

    def _work(self, bench: Bench, ring: Ring) -> list[Todo]:
        at, now = bench.desk.reconciliation, bench.standing
        month = _month_name(_month(at.closing_date), self.company.locale)
        found: list[Todo] = []
        trouble = [n for n in bench.notices if n.kind is not NoticeKind.OVERLAP or not now.complete]
        if trouble:
            found.append(
                self._todo(
                    TodoKind.STATEMENT_TROUBLE, trouble[0].sentence(self.say), "settle it", ring, month=month, at=at.id
                )
            )
        if at.stage == "in review":
            text = "Handed in and frozen: another person approves or returns it"
            found.append(self._todo(TodoKind.IN_REVIEW, text, "review", ring, month=month, at=at.id))
        elif not bench.blockers():
            text = "Everything is resolved and the difference is zero"
            found.append(self._todo(TodoKind.READY_TO_SEAL, text, "seal", ring, month=month, at=at.id))
        elif now.difference is not None:
            left = now.lines_total - now.lines_resolved
            what = f"{count(left, 'line')} left, " if left else ""
            if now.ticking:
                ticked = now.ticked_in.lines + now.ticked_out.lines
                what = f"{count(ticked, 'entry', 'entries')} ticked, "
            text = f"{what}difference {self.say.amount(now.difference)}"
            found.append(
                self._todo(TodoKind.GO_ON, text, "go on", ring, month=month, at=at.id, weight=abs(now.difference))
            )
        if now.complete and bench.gl_balance is not None and bench.gl_balance != bench.book_footing.end:
            text = f"Ledger {self.say.amount(bench.gl_balance)}, bank book {self.say.amount(bench.book_footing.end)}"
            found.append(self._todo(TodoKind.LEDGER_DISAGREES, text, "compare", ring, month=month, at=at.id))
        return found


def _month_end(month: str) -> date:
    year, number = int(month[:4]), int(month[5:])
    return date(year, number, calendar.monthrange(year, number)[1])


def _month_name(month: str, locale: str) -> str:
    return format_date(date(int(month[:4]), int(month[5:]), 1), format="LLLL yyyy", locale=locale)
