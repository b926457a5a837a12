"""A clearing account up to a day: what is settled, what is owed, what was paid without cause."""

from __future__ import annotations

from datetime import date

from netnaught.core.clearing import Cleared, settle
from netnaught.services.access import Context, company_for
from netnaught.services.errors import NotFound
from netnaught.store import ledger
from netnaught.store.ledger import GlAccount


def cleared(ctx: Context, company_id: int, gl_account_id: int, on: date) -> tuple[GlAccount, Cleared]:
    """The account and its groups, all postings up to `on` among them."""
    company_for(ctx, company_id)
    account = ledger.gl_account(ctx.db, company_id, gl_account_id)
    if account is None:
        raise NotFound("There is no such ledger account in this company.")
    return account, settle(ledger.postings(ctx.db, company_id, gl_account_id, on))
