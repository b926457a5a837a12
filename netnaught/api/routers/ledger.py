"""The general ledger: trial balance, postings, moving a posting, the lock date."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel

from netnaught.api.deps import Ctx, Day, Id, ItemId
from netnaught.api.routers.clearing import PostingOut
from netnaught.core.ledger import AccountKind
from netnaught.services import exporting, ledger_view, setup
from netnaught.services.access import company_for

router = APIRouter(prefix="/api/companies/{company_id}", tags=["books"])


class BalanceOut(BaseModel):
    """An account's balance in the base currency, minor units, positive = debit; `control`: a bank book stands behind."""

    id: int
    number: str
    name: str
    kind: AccountKind
    balance: int
    control: bool


class TrialBalanceOut(BaseModel):
    """All accounts; `total` is zero, always. `lock_date`: the books are locked to that day."""

    accounts: list[BalanceOut]
    total: int
    lock_date: Day | None


class MoveIn(BaseModel):
    """The account that a posting belongs on."""

    account_id: ItemId


class LockIn(BaseModel):
    """The last locked day; null opens the books."""

    date: Day | None


@router.get("/trial-balance", operation_id="trialBalance")
def get_trial_balance(ctx: Ctx, company_id: Id, on: Day) -> TrialBalanceOut:
    """Every account with its balance at the end of a day."""
    found = ledger_view.trial_balance(ctx, company_id, on)
    return TrialBalanceOut(
        accounts=[
            BalanceOut(
                id=account.id,
                number=account.number,
                name=account.name,
                kind=account.kind,
                balance=balance,
                control=account.id in found.control,
            )
            for account, balance in found.rows
        ],
        total=found.total,
        lock_date=company_for(ctx, company_id).lock_date,
    )


@router.get("/gl-accounts/{account_id}/postings", operation_id="postings")
def get_postings(ctx: Ctx, company_id: Id, account_id: Id, on: Day) -> list[PostingOut]:
    """The postings of an account up to a day, oldest first."""
    found = ledger_view.postings(ctx, company_id, account_id, on)
    return [PostingOut.model_validate(posting, from_attributes=True) for posting in found]


@router.post("/postings/{posting_id}/move", operation_id="movePosting", status_code=204)
def post_move(ctx: Ctx, company_id: Id, posting_id: Id, body: MoveIn) -> None:
    """Post a line to another account; the bank side is not touched."""
    ledger_view.reallocate(ctx, company_id, posting_id, body.account_id)


@router.put("/lock-date", operation_id="setLockDate", status_code=204)
def put_lock_date(ctx: Ctx, company_id: Id, body: LockIn) -> None:
    """Lock the books up to a day, or open them."""
    setup.set_lock_date(ctx, company_id, body.date)


class ExportIn(BaseModel):
    """The period whose recorded entries are exported."""

    start: Day
    end: Day


class BatchOut(BaseModel):
    """An export that was made: it can be had again."""

    id: int
    start: Day
    end: Day
    journals: int
    made_by: str
    made_at: str


@router.get("/exports", operation_id="exports")
def get_exports(ctx: Ctx, company_id: Id) -> list[BatchOut]:
    """All exports, newest first."""
    return [BatchOut.model_validate(batch, from_attributes=True) for batch in exporting.batches(ctx, company_id)]


@router.post("/exports", operation_id="exportJournals", status_code=201)
def post_export(ctx: Ctx, company_id: Id, body: ExportIn) -> BatchOut:
    """Export what was recorded here in a period and not exported before."""
    made = exporting.export(ctx, company_id, body.start, body.end)
    found = next(batch for batch in exporting.batches(ctx, company_id) if batch.id == made)
    return BatchOut.model_validate(found, from_attributes=True)


@router.get("/exports/{batch_id}", operation_id="exportFile", response_class=Response)
def get_export(
    ctx: Ctx, company_id: Id, batch_id: Id, form: Annotated[str, Query(alias="format", max_length=10)] = "csv"
) -> Response:
    """An export as csv or xlsx."""
    name, media, content = exporting.written(ctx, company_id, batch_id, form)
    return Response(content, media_type=media, headers={"Content-Disposition": f'attachment; filename="{name}"'})
