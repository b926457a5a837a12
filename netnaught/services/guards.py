"""What stands still: sealed entries, entries of sealed lists, locked books.

Each guard refuses, unless the person has the right to alter and gave a reason (`Context.reason`):
then the change is made, recorded with that reason, and shows as a disturbance.
"""

from __future__ import annotations

from datetime import date

from netnaught.core.wording import Wording
from netnaught.services.access import Context, Right, company_for
from netnaught.services.errors import Conflict, Refused
from netnaught.services.writing import wording
from netnaught.store import reconciliations, seals
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.bank_book import StoredEntry
from netnaught.store.companies import Company

_WAY_OUT = "who has the right to alter sealed entries may do it with a reason"


def altering(ctx: Context, company: Company) -> bool:
    """Whether something sealed or locked is to be altered: a reason was given. Forbidden without the right."""
    if not ctx.reason.strip():
        return False
    company_for(ctx, company.id, Right.ALTER)
    return True


def refuse_locked(ctx: Context, company: Company, code: str, *days: date) -> None:
    """Refused when one of these days is on or before the company's lock date."""
    if company.lock_date and min(days) <= company.lock_date and not altering(ctx, company):
        say = wording(code, company.locale)
        raise Refused(
            f"The books of {company.name} are locked to {say.day(company.lock_date)}; {say.day(min(days))} lies before. "
            "Nothing was changed: date it later, or have an owner move the lock."
        )


def refuse_sealed_days(ctx: Context, company: Company, account: BankAccount, *days: date) -> None:
    """Refused when one of these days lies in a sealed period: its outstanding list and balance stand as sealed."""
    sealed = [r.closing_date for r in reconciliations.reconciliations(ctx.db, company.id, account.id) if r.sealed]
    if sealed and min(days) <= max(sealed) and not altering(ctx, company):
        say = wording(account.currency, company.locale)
        raise Refused(
            f"{account.name} is sealed to {say.day(max(sealed))}; an entry dated {say.day(min(days))} stands in what "
            f"was sealed then. Nothing was changed: post an adjusting entry in the open period instead, or {_WAY_OUT}."
        )


def refuse_listed(ctx: Context, company: Company, account: BankAccount, stored: StoredEntry) -> None:
    """Refused when a seal lists the entry as outstanding: the list stands as sealed."""
    at = {r.id: r.closing_date for r in reconciliations.reconciliations(ctx.db, company.id, account.id) if r.sealed}
    lists = [
        at[seal.reconciliation_id]
        for seal in seals.holding(ctx.db, company.id, account.id)
        if seal.reconciliation_id in at
        and at[seal.reconciliation_id] >= stored.entry.date
        and seal.sealed_at >= stored.created_at
    ]
    if lists and not altering(ctx, company):
        say = wording(account.currency, company.locale)
        raise Refused(
            f"This entry stands in the outstanding list sealed to {say.day(max(lists))}. Nothing was changed: reverse it "
            f"in the open period instead, or {_WAY_OUT}."
        )


def refuse_cleared(
    ctx: Context, company: Company, account: BankAccount, entry_id: int, *, only_sealed: bool = False
) -> None:
    """Conflict when the entry is cleared: it stands as the bank confirmed it. `only_sealed`: where that is sealed."""
    decided = reconciliations.decision_on(ctx.db, company.id, entry=entry_id)
    if decided is None:
        return
    at = reconciliations.reconciliation(ctx.db, company.id, decided.reconciliation_id)
    say: Wording = wording(account.currency, company.locale)
    until = say.day(at.closing_date) if at else ""
    if at and at.sealed:
        if altering(ctx, company):
            return
        raise Conflict(
            f"This entry is cleared in the sealed reconciliation to {until}; nothing was changed: {_WAY_OUT}."
        )
    if only_sealed:
        return
    raise Conflict(f"This entry is cleared in the reconciliation to {until}. Unmatch it first; nothing was changed.")
