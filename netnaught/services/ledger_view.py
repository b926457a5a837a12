"""The general ledger as it stands: trial balance, the postings of an account, and moving one to another account."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from netnaught.core.clearing import Posting
from netnaught.services.access import Context, Right, company_for, record_event
from netnaught.services.errors import BadInput, NotFound, Refused
from netnaught.services.guards import refuse_locked
from netnaught.store import bank_accounts, ledger, reconciliations
from netnaught.store.database import atomic
from netnaught.store.ledger import GlAccount


@dataclass(frozen=True, slots=True)
class TrialBalance:
    """Accounts with their balances in the base currency, minor units; `control`: accounts a bank book stands behind."""

    rows: list[tuple[GlAccount, int]]
    control: frozenset[int]

    @property
    def total(self) -> int:
        """What all balances sum to: zero, always."""
        return sum(balance for _, balance in self.rows)


def trial_balance(ctx: Context, company_id: int, on: date) -> TrialBalance:
    """The trial balance at the end of a day."""
    company_for(ctx, company_id)
    control = frozenset(a.gl_account_id for a in bank_accounts.bank_accounts(ctx.db, company_id))
    return TrialBalance(ledger.trial_balance(ctx.db, company_id, on), control)


def postings(ctx: Context, company_id: int, account_id: int, on: date) -> list[Posting]:
    """The postings of an account up to a day, oldest first."""
    company_for(ctx, company_id)
    if ledger.gl_account(ctx.db, company_id, account_id) is None:
        raise NotFound("There is no such ledger account in this company.")
    return ledger.postings(ctx.db, company_id, account_id, on)


def reallocate(ctx: Context, company_id: int, line_id: int, account_id: int) -> None:
    """Post a line to another account, as from suspense to where it belongs; the bank side is not touched.

    Refused for the line of a control account, to a control account, and in locked books.
    """
    with atomic(ctx.db):
        company = company_for(ctx, company_id, Right.PREPARE)
        line = ledger.line_at(ctx.db, company_id, line_id)
        if line is None:
            raise NotFound("There is no such posting. Nothing was changed.")
        target = ledger.gl_account(ctx.db, company_id, account_id)
        if target is None:
            raise BadInput("There is no such ledger account in this company. Nothing was changed.", field="account_id")
        control = {a.gl_account_id for a in bank_accounts.bank_accounts(ctx.db, company_id)}
        if line.linked or line.gl_account_id in control:
            raise Refused("This is the bank's side of the entry: it stays on its control account. Nothing was changed.")
        if account_id in control:
            raise Refused(
                f"{target.number} {target.name} is the control account of a bank book: an entry there belongs into "
                "that book. Nothing was changed."
            )
        if account_id == line.gl_account_id:
            raise BadInput("It stands on this account already. Nothing was changed.", field="account_id")
        refuse_locked(ctx, company, company.currency, line.date)
        ledger.move_line(ctx.db, company_id, line_id, line.journal_entry_id, account_id)
        reconciliations.note_company_change(ctx.db, company_id)
        record_event(
            ctx,
            company_id,
            "posting moved",
            "journal_entry",
            line.journal_entry_id,
            before={"account": line.gl_account_id},
            after={"account": account_id, "line": line_id},
        )
