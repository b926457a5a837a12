"""Verifying: every seal chain, every sealed paper, everything sealed against how it stands, and the audit trail.

A deviation that the audit trail accounts for is a disturbance; one without an event is tampering, reported with
table, row and kind.
"""

from __future__ import annotations

import gc
import hashlib
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from netnaught.core.money import currency, plain
from netnaught.core.seal import Finding as Disturbance
from netnaught.core.seal import Item, Link, not_as_sealed, read_content, verify_chain
from netnaught.core.wording import count
from netnaught.services.tracing import Comparing, events_since
from netnaught.services.workbench import Chain, chain_of
from netnaught.store import audit, bank_accounts, companies, disturbances, seals, standing_check
from netnaught.store.audit import AuditEvent
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.database import Connection
from netnaught.store.seals import Seal


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing that does not hold. `tampering`: no event of the audit trail accounts for it."""

    where: str
    what: str
    tampering: bool


@dataclass(frozen=True, slots=True)
class Verification:
    """What was walked, and what was found."""

    accounts: int
    seals: int
    findings: tuple[Finding, ...]


def verify(db: Connection) -> Verification:
    """Walk every chain of every company."""
    collecting = gc.isenabled()
    gc.disable()  # a seal's values are many and hold no cycles: looking for some takes longer than reading them
    try:
        return _verify(db)
    finally:
        if collecting:
            gc.enable()


def _verify(db: Connection) -> Verification:
    findings: list[Finding] = []
    walked = accounts = 0
    for event in audit.broken_links(db):
        findings.append(Finding(f"audit_event {event}", "it is not as it was written, or one before it is gone", True))
    for company in companies.companies(db):
        findings += _plain_tables(db, company.id, company.name)
        for account in bank_accounts.bank_accounts(db, company.id):
            accounts += 1
            where = f"{company.name}, {account.name}"
            chain = chain_of(db, account, counting=False)
            walked += len(chain.seals)
            broken = verify_chain(Link(s.number, s.content, s.previous, s.sha256) for s in chain.seals)
            findings += [Finding(f"{where}, seal {link.number}", link.what, True) for link in broken]
            findings += _anchored(db, where, account, chain)
            untrue = {link.number for link in broken if not link.content_holds}
            findings += _standing(db, where, account, chain, untrue)
    return Verification(accounts, walked, tuple(findings))


def _anchored(db: Connection, where: str, account: BankAccount, chain: Chain) -> Iterable[Finding]:
    """The anchors of the chain in the audit trail."""
    heads = [e for e in audit.events_of(db, account.company_id, "bank_account", account.id) if e.what == "sealed"]
    anchored = {str((e.after or {}).get("sha256")) for e in heads}
    gone = anchored - {seal.sha256 for seal in chain.seals}
    if gone:
        verb = "is" if len(gone) == 1 else "are"
        yield Finding(where, f"{count(len(gone), 'seal')} that the audit trail names {verb} gone", True)
    if {seal.sha256 for seal in chain.seals} - anchored:
        yield Finding(where, "there are seals that the audit trail does not name", True)


def _papers(db: Connection, where: str, account: BankAccount, seal: Seal) -> Iterable[Finding]:
    """The papers of a seal: there, and as they were."""
    papers = seals.papers(db, account.company_id, seal.id)
    for kind in sorted({"report.json", "report.pdf"} - {paper.kind for paper in papers}):
        yield Finding(f"{where}, seal {seal.number}", f"{kind} is gone", True)
    for paper in papers:
        if hashlib.sha256(paper.content).hexdigest() != paper.sha256:
            yield Finding(f"{where}, seal {seal.number}", f"{paper.kind} is not as it was sealed", True)


def _row(seal: Seal) -> Iterable[str]:
    """Columns of a seal's row against its content."""
    try:
        content = read_content(seal.content)
        if (int(content["opening"]), int(content["closing"])) != (seal.opening, seal.closing):
            yield "its balances are not those in its content"
    except (ValueError, KeyError, TypeError):
        yield "its content cannot be read"


def _states(db: Connection, where: str, account: BankAccount, chain: Chain) -> Iterable[Finding]:
    """A sealed period is open again only by breaking its seal; none is sealed without one."""
    newest = {seal.reconciliation_id: seal for seal in chain.seals}
    for at in chain.reconciliations:
        row = f"{where}, table reconciliation, row {at.id}"
        if at.sealed and at.id not in newest:
            yield Finding(row, "it is marked as sealed and has no seal", True)
        elif at.id in newest and not at.sealed:
            events = audit.events_of(db, account.company_id, "reconciliation", at.id)
            broken = [e for e in events if e.what == "seal broken"]
            if newest[at.id].sha256 not in {str((e.after or {}).get("sha256")) for e in broken}:
                yield Finding(row, "its seal was never broken, yet it is not sealed", True)


def _content(seal: Seal) -> dict[str, Any] | None:
    """What a seal says; None where it cannot be read."""
    try:
        return read_content(seal.content)
    except ValueError:
        return None


def _standing(db: Connection, where: str, account: BankAccount, chain: Chain, untrue: set[int]) -> Iterable[Finding]:
    """Every seal with its papers; everything the holding ones say, item by item, against how it stands.

    `untrue`: the numbers of those whose fingerprint does not hold: what they say proves nothing.
    """
    lines = disturbances.all_lines(db, account.company_id, account.id)
    closings = {r.id: r.closing_date.isoformat() for r in chain.reconciliations}
    holding = {seal.id for seal in chain.holding}
    for seal in chain.seals:
        yield from _papers(db, where, account, seal)
        for what in _row(seal):
            yield Finding(f"{where}, seal {seal.number}, table seal, row {seal.id}", what, True)
        content = None if seal.number in untrue else _content(seal)
        if content is None or seal.id not in holding:
            continue
        if content.get("end") != closings[seal.reconciliation_id]:
            row = f"{where}, table reconciliation, row {seal.reconciliation_id}"
            yield Finding(row, "its closing date is not the sealed one", True)
        suspects = _suspects(db, account, seal, content) | lines
        for disturbance in Comparing(db, account, suspects).with_seal(seal) if suspects else ():
            if not disturbance.mended:
                yield _judged(db, where, account, seal, disturbance)
        yield from _sealed_statements(db, where, account, seal)
    yield from _states(db, where, account, chain)


def _suspects(db: Connection, account: BankAccount, seal: Seal, content: dict[str, Any]) -> set[Item]:
    at = (account.company_id, account.id, seal.reconciliation_id)
    listed = [entry["id"] for entry in content["outstanding"]]
    return not_as_sealed(content, disturbances.counting(db, *at), disturbances.not_counting(db, *at, listed))


def _judged(db: Connection, where: str, account: BankAccount, seal: Seal, found: Disturbance) -> Finding:
    told = _accounted(db, account, seal, found)
    table = "statement_line" if found.item.is_line else "book_entry"
    amount = plain(found.net, currency(account.currency))
    place = f"{where}, seal {seal.number}, table {table}, row {found.item.id}"
    fields = f" ({', '.join(found.fields)})" if found.fields else ""
    return Finding(place, f"{found.kind}{fields}, shift {amount}", not told)


def _accounted(db: Connection, account: BankAccount, seal: Seal, found: Disturbance) -> bool:
    """Whether the audit trail tells of the change, and of this very state."""
    if found.item.is_line:
        events = audit.events_of(db, account.company_id, "reconciliation", seal.reconciliation_id)
        return any(e.what in ("decisions withdrawn", "undone", "redone") for e in events)
    events = events_since(db, account, found.item.id, seal)
    if not events:
        return False
    last = _last_written(audit.events_of(db, account.company_id, "book_entry", found.item.id))
    if last is None or found.now is None:
        return found.now is not None
    names = ("date", "amount", "reference", "payee", "memo")
    return all(last.get(name) == getattr(found.now.values, name) for name in names)


def _last_written(events: list[AuditEvent]) -> dict[str, object] | None:
    """The values an entry was last given, by the audit trail."""
    for event in reversed(events):
        for values in (event.after, event.before if event.what == "entry deleted" else None):
            if values and "payee" in values:
                return values
    return None


def _sealed_statements(db: Connection, where: str, account: BankAccount, seal: Seal) -> Iterable[Finding]:
    """Lines, heads and original files of a sealed period: nothing may change them, so every change is tampering."""
    content = read_content(seal.content)
    for table, row, what in standing_check.statements_against(db, account.company_id, content):
        yield Finding(f"{where}, seal {seal.number}, table {table}, row {row}", what, True)
    for row, what in standing_check.decisions_against(db, account.company_id, seal.reconciliation_id, content):
        yield Finding(f"{where}, seal {seal.number}, table decision, row {row}", what, True)


def _plain_tables(db: Connection, company_id: int, name: str) -> Iterable[Finding]:
    """What must hold in every company whatever was sealed: journals balance, and agree with their bank book entries."""
    for table, row, what in standing_check.ledger_against_book(db, company_id):
        yield Finding(f"{name}, table {table}, row {row}", what, True)
