"""The start of an account: its date, balance, and what was outstanding then."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from netnaught.api.deps import Amount, Ctx, Day, Id, ItemId, Text
from netnaught.core.ledger import BookEntry
from netnaught.services import starting
from netnaught.services.starting import Start

router = APIRouter(prefix="/api/companies/{company_id}/accounts/{account_id}/start", tags=["setup"])


class StartItem(BaseModel):
    """An item outstanding at the start; without an id it is new. Minor units."""

    id: ItemId | None = None
    date: Day
    amount: Amount
    reference: Text = ""
    payee: Text = ""
    memo: Text = ""


class StartBody(BaseModel):
    """The start of an account. `equity_account_id`: null where the ledger is kept elsewhere. Minor units."""

    date: Day
    balance: Amount
    equity_account_id: ItemId | None
    outstanding: Annotated[list[StartItem], Field(max_length=5000)]


@router.get("", operation_id="accountStart")
def get_start(ctx: Ctx, company_id: Id, account_id: Id) -> StartBody:
    """How an account starts."""
    found = starting.read_start(ctx, company_id, account_id)
    items = [
        StartItem(id=int(e.id), date=e.date, amount=e.amount, reference=e.reference, payee=e.payee, memo=e.memo)
        for e in found.outstanding
    ]
    return StartBody(date=found.on, balance=found.balance, equity_account_id=found.equity_account_id, outstanding=items)


@router.put("", operation_id="writeStart", status_code=204)
def put_start(ctx: Ctx, company_id: Id, account_id: Id, body: StartBody) -> None:
    """Say how an account starts, or correct it while nothing is sealed."""
    items = tuple(
        BookEntry(item.id or 0, item.date, item.amount, item.reference, item.payee, item.memo)
        for item in body.outstanding
    )
    start = Start(body.date, body.balance, items, body.equity_account_id)
    starting.write_start(ctx, company_id, account_id, start)
