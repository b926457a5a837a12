"""Verifying: every seal chain, every sealed paper and the audit trail, walked from end to end."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

from netnaught.core.money import currency, plain
from netnaught.core.seal import Link, verify_chain
from netnaught.core.wording import count
from netnaught.services.workbench import books_gap_of, chain_of
from netnaught.store import audit, bank_accounts, companies, seals
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.database import Connection


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
    findings: list[Finding] = []
    walked = accounts = 0
    for event in audit.broken_links(db):
        findings.append(Finding(f"audit_event {event}", "it is not as it was written, or one before it is gone", True))
    for company in companies.companies(db):
        for account in bank_accounts.bank_accounts(db, company.id):
            accounts += 1
            where = f"{company.name}, {account.name}"
            chain = chain_of(db, account)
            walked += len(chain.seals)
            findings += _chain_findings(db, where, account, [s.number for s in chain.seals])
            gap = books_gap_of(chain)
            if gap:
                amount = plain(gap, currency(account.currency))
                findings.append(
                    Finding(where, f"the books count {amount} against the seal: sealed entries have changed", False)
                )
    return Verification(accounts, walked, tuple(findings))


def _chain_findings(db: Connection, where: str, account: BankAccount, numbers: list[int]) -> list[Finding]:
    found = seals.seals(db, account.company_id, account.id)
    links = [Link(s.number, s.content, s.previous, s.sha256) for s in found]
    broken = [Finding(f"{where}, seal {b.number}", b.what, True) for b in verify_chain(links)]
    for seal in found:
        for paper in seals.papers(db, account.company_id, seal.id):
            if hashlib.sha256(paper.content).hexdigest() != paper.sha256:
                broken.append(Finding(f"{where}, seal {seal.number}", f"{paper.kind} is not as it was sealed", True))
    heads = [e for e in audit.events_of(db, account.company_id, "bank_account", account.id) if e.what == "sealed"]
    anchored = {str((e.after or {}).get("sha256")) for e in heads}
    missing = anchored - {seal.sha256 for seal in found}
    if missing:
        broken.append(
            Finding(
                where,
                f"{count(len(missing), 'seal')} that the audit trail names {'is' if len(missing) == 1 else 'are'} gone",
                True,
            )
        )
    if len(anchored) < len(numbers):
        broken.append(Finding(where, "there are seals that the audit trail does not name", True))
    return broken
