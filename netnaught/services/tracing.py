"""The opening trace of an account: its findings, their history, what mended them, and the bank gap's cause."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

from netnaught.core.money import currency
from netnaught.core.reconciliation import DecisionKind
from netnaught.core.seal import (
    BankGap,
    DisturbanceKind,
    Finding,
    Item,
    SealedEntry,
    SealedPeriod,
    Staircase,
    bank_gap,
    findings,
    read_content,
    sealed_entry,
    sealed_line,
    staircase,
)
from netnaught.core.statement import Join
from netnaught.core.wording import Wording
from netnaught.formats import Unreadable, read_statements
from netnaught.services.access import Context, Desk, account_for
from netnaught.services.sealed_ledger import MovedLedger, moved_ledger
from netnaught.services.workbench import Chain, anchors_of, chain_of, load_bench, period_start
from netnaught.services.writing import wording
from netnaught.store import audit, bank_accounts, disturbances, reconciliations, statements
from netnaught.store.audit import AuditEvent
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.companies import Company
from netnaught.store.database import Connection
from netnaught.store.reconciliations import Reconciliation
from netnaught.store.seals import Seal

_BANK_ALONE = {DecisionKind.BANK_ERROR.value, DecisionKind.BANK_CORRECTION.value}


@dataclass(frozen=True, slots=True)
class Mended:
    """A disturbance that is no more: the item stands as sealed again."""

    reconciliation_id: int
    entry_id: int
    kind: DisturbanceKind
    values: SealedEntry
    how: str
    person: str
    at: str


@dataclass(frozen=True, slots=True)
class Trace:
    """The staircase with what it stands on. `seals` and `closings` by reconciliation."""

    company: Company
    account: BankAccount
    stairs: Staircase
    counted_today: int
    mended: tuple[Mended, ...]
    bank_gap: BankGap | None
    seals: dict[int, Seal]
    closings: dict[int, date]
    open_reconciliation: Reconciliation | None
    ledger: tuple[MovedLedger, ...] = ()


def period_of(seal: Seal) -> SealedPeriod:
    """What a seal says, item by item."""
    content = read_content(seal.content)
    counted = {Item(False, e["id"]): sealed_entry(e) for e in content["cleared"]}
    counted |= {Item(True, line.id): line for line in _bank_alone(content)}
    listed = {Item(False, e["id"]): sealed_entry(e) for e in content["outstanding"]}
    return SealedPeriod(seal.reconciliation_id, seal.bank_account_id, counted, listed)


def _bank_alone(content: dict[str, Any]) -> Iterable[SealedEntry]:
    alone = {line for d in content["decisions"] if d["kind"] in _BANK_ALONE for line in d["lines"]}
    for line in map(sealed_line, content["lines"]):
        if line.id in alone:
            yield SealedEntry(line.id, line.date, line.amount, line.reference, line.description, "")


class Comparing:
    """How items of an account stand now, ready to be held against one seal after another."""

    def __init__(self, db: Connection, account: BankAccount, among: set[Item]) -> None:
        self.db, self.account, self.among = db, account, among
        self.now = disturbances.present(db, account.company_id, among)
        self.counting: dict[int, list[Item]] = {}
        for item, present in self.now.items():
            if present.counts_in is not None:
                self.counting.setdefault(present.counts_in, []).append(item)

    def with_seal(self, seal: Seal) -> list[Finding]:
        """The findings of one sealed period."""
        period, at = period_of(seal), seal.reconciliation_id
        mine = {*period.counted, *period.outstanding, *self.counting.get(at, [])} & self.among
        order = sorted(mine, key=lambda item: (item.is_line, item.id))
        return findings(period, self.now, order, disturbances.acceptances(self.db, self.account.company_id, at))


def findings_of(
    db: Connection, account: BankAccount, chain: Chain, among: set[Item] | None = None
) -> dict[int, list[Finding]]:
    """The findings of an account by sealed reconciliation; `among`: all that were touched, unless given."""
    if among is None:
        among = disturbances.touched(db, account.company_id, account.id)
    if not among:
        return {}
    comparing = Comparing(db, account, among)
    found = {seal.reconciliation_id: comparing.with_seal(seal) for seal in chain.holding}
    return {at: here for at, here in found.items() if here}


def trace(ctx: Context, company_id: int, account_id: int) -> Trace:
    """The whole trace of an account, with what was mended, the bank gap's cause, and where the ledger moved."""
    company, account = account_for(ctx, company_id, account_id)
    found = load_trace(ctx, company, account)
    mended = tuple(_mended(ctx, account, found))
    chain = chain_of(ctx.db, account)
    moved = tuple(moved_ledger(ctx.db, account, chain))
    return replace(found, mended=mended, bank_gap=_bank_gap(ctx, company, account, chain), ledger=moved)


def load_trace(ctx: Context, company: Company, account: BankAccount) -> Trace:
    """The findings alone, for who has come in already: nothing mended, no bank gap looked for."""
    chain = chain_of(ctx.db, account)
    found = findings_of(ctx.db, account, chain)
    order = [seal.reconciliation_id for seal in chain.holding]
    closing = chain.last_seal.closing if chain.last_seal else account.starting_balance
    return Trace(
        company,
        account,
        staircase(closing, order, found),
        closing + sum(chain.shifts().values()),
        (),
        None,
        {seal.reconciliation_id: seal for seal in chain.holding},
        {r.id: r.closing_date for r in chain.reconciliations},
        next((r for r in chain.reconciliations if not r.sealed), None),
    )


# Mended -------------------------------------------------------------------------------------------


def _mended(ctx: Context, account: BankAccount, trace: Trace) -> Iterable[Mended]:
    """What was disturbed after its seal and stands as sealed again, from the audit trail."""
    touched = [x for x in disturbances.touched(ctx.db, account.company_id, account.id) if not x.is_line]
    if not touched:
        return
    still = {(f.reconciliation_id, f.item) for period in trace.stairs.periods for f in period.findings}
    now = disturbances.present(ctx.db, account.company_id, touched)
    events = audit.events_of_many(ctx.db, account.company_id, "book_entry", [item.id for item in touched])
    anchors = anchors_of(ctx.db, account)
    for seal in trace.seals.values():
        period = period_of(seal)
        for item in sorted(touched, key=lambda item: item.id):
            if (seal.reconciliation_id, item) in still:
                continue
            since = [e for e in events.get(item.id, []) if e.id > anchors.get(seal.sha256, 0)]
            was = period.counted.get(item) or period.outstanding.get(item)
            mended = _mended_one(seal, item, since, was, now[item].values)
            if mended is not None:
                yield mended


def _mended_one(
    seal: Seal, item: Item, events: list[AuditEvent], was: SealedEntry | None, now: SealedEntry
) -> Mended | None:
    at = seal.reconciliation_id
    released = next(
        (e for e in reversed(events) if e.what == "released" and (e.after or {}).get("reconciliation") == at), None
    )
    if released is not None:
        kind = DisturbanceKind.SLIPPED_IN
        return Mended(at, item.id, kind, was or now, released.what, released.user, released.at)
    if was is None or not (len(events) > 1 or (events and events[-1].what in _RESTORING)):
        return None
    last = events[-1]
    return Mended(at, item.id, _kind_of(events[0], was), was, last.what, last.user, last.at)


_RESTORING = ("put back", "cleared again", "released", "entry brought back")


def events_since(db: Connection, account: BankAccount, entry_id: int, seal: Seal) -> list[AuditEvent]:
    """What was done to an entry after a seal, oldest first."""
    sealed = anchors_of(db, account).get(seal.sha256, 0)
    return [e for e in audit.events_of(db, account.company_id, "book_entry", entry_id) if e.id > sealed]


def _kind_of(event: AuditEvent, was: SealedEntry) -> DisturbanceKind:
    if event.what == "entry deleted":
        return DisturbanceKind.REMOVED
    if event.what == "entry moved":
        return DisturbanceKind.MOVED
    if event.what in ("entry unticked", "cleared again"):
        return DisturbanceKind.UNTICKED
    if event.what == "released":
        return DisturbanceKind.SLIPPED_IN
    amount = (event.after or {}).get("amount")
    return DisturbanceKind.RELABELLED if amount in (None, was.amount) else DisturbanceKind.AMENDED


# History ------------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class HistoryEvent:
    """One thing that happened to an entry, told to a person. `at`: ISO time."""

    at: str
    what: str
    person: str
    reason: str = ""
    disturbing: bool = False


def history(
    ctx: Context, company_id: int, account_id: int, entry_id: int, reconciliation_id: int
) -> list[HistoryEvent]:
    """Everything that happened to an entry: written, cleared, sealed, changed, with person, time and reason."""
    company, account = account_for(ctx, company_id, account_id)
    say = wording(account.currency, company.locale)
    found: list[HistoryEvent] = []
    seal = next((s for s in chain_of(ctx.db, account).holding if s.reconciliation_id == reconciliation_id), None)
    since = {e.id for e in events_since(ctx.db, account, entry_id, seal)} if seal else set[int]()
    accounts = {a.id: a.name for a in bank_accounts.bank_accounts(ctx.db, company_id)}
    for event in audit.events_of(ctx.db, company_id, "book_entry", entry_id):
        told = _told(event, say, accounts)
        reason = str((event.after or {}).get("reason", ""))
        found.append(HistoryEvent(event.at, told, event.user, reason, event.id in since))
    for made in reconciliations.decisions_of_entry(ctx.db, company_id, entry_id):
        when = say.day(made.closing_date)
        found.append(HistoryEvent(made.at, f"cleared in the reconciliation to {when}: {made.why}", made.by))
        if made.withdrawn_at:
            found.append(HistoryEvent(made.withdrawn_at, f"no longer cleared in the one to {when}", made.withdrawn_by))
    if seal:
        found.append(HistoryEvent(seal.sealed_at, f"sealed, seal {seal.number} · {seal.sha256[:8]}", seal.sealed_by))
    return sorted(found, key=lambda event: event.at)


def _told(event: AuditEvent, say: Wording, accounts: dict[int, str]) -> str:
    before, after = event.before or {}, event.after or {}
    if event.what == "entry moved":
        return f"moved from {accounts.get(_id(before))} to {accounts.get(_id(after))}"
    if event.what in ("entry changed", "other side changed", "put back") and before and after:
        parts = [
            f"{name} was {_shown(say, name, before[name])}, now {_shown(say, name, after[name])}"
            for name in ("amount", "date", "reference", "payee", "memo")
            if name in before and name in after and before[name] != after[name]
        ]
        return ("put back: " if event.what == "put back" else "") + "; ".join(parts) if parts else event.what
    if "amount" in after and event.what.startswith("entry "):
        return f"{event.what.removeprefix('entry ')}, {say.amount(int(str(after['amount'])))}"
    return event.what


def _id(values: dict[str, object]) -> int:
    return int(str(values.get("account", 0)))


def _shown(say: Wording, name: str, value: object) -> str:
    if name == "amount":
        return say.amount(int(str(value)))
    if name == "date":
        return say.day(date.fromisoformat(str(value)))
    return f"“{value}”" if value else "empty"


# The bank gap --------------------------------------------------------------------------------------


def _bank_gap(ctx: Context, company: Company, account: BankAccount, chain: Chain) -> BankGap | None:
    """Why the first open statement does not open where the last seal closed; None where it does."""
    at = next((r for r in chain.reconciliations if not r.sealed), None)
    if at is None:
        return None
    bench, last = load_bench(ctx, Desk(company, account, at)), chain.last_seal
    before = Join(period_start(account, chain, at).end, last.closing if last else account.starting_balance)
    return bank_gap(
        bench.notices,
        before,
        first=last is None,
        stated=lambda: _stated_closing(ctx, account, last) if last else None,
        say=bench.say,
    )


def _stated_closing(ctx: Context, account: BankAccount, seal: Seal) -> int | None:
    """What the original file of the last sealed statement itself says; None where it has no file or no closing."""
    covered = statements.statements_of(ctx.db, account.company_id, seal.reconciliation_id)
    filed = [s for s in covered if s.file_sha256]
    if not filed:
        return None
    last = max(filed, key=lambda s: (s.head.end, s.id))
    file = statements.statement_file(ctx.db, account.company_id, last.id)
    if file is None:
        return None
    try:
        found = read_statements(file.content, currency(account.currency))
    except Unreadable:
        return None
    closings = [s.head.closing for s in found if s.head.end == last.head.end and s.head.closing is not None]
    return closings[0] if closings else None
