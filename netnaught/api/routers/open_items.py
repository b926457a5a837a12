"""Open items: unpaid invoices and bills, imported and settled."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Form, UploadFile
from pydantic import BaseModel, Field

from netnaught.api.deps import Ctx, Day, Id, ItemId
from netnaught.core.settling import ItemKind, OpenItem
from netnaught.services import open_items

router = APIRouter(prefix="/api/companies/{company_id}", tags=["open items"])


class OpenItemOut(BaseModel):
    """An unpaid invoice or bill. Minor units, positive; `open`: what is still owed."""

    id: int
    kind: ItemKind
    party: str
    number: str
    issued: Day
    due: Day
    amount: int
    open: int


class ImportedItems(BaseModel):
    """What importing did; `held`: known items that say otherwise now and were left as they are."""

    new: int
    known: int
    held: list[str]


class SettlingOut(BaseModel):
    """What a line could settle. `proposed`: the items it most likely does; `off`: the line less what they owe."""

    items: list[OpenItemOut]
    proposed: list[int]
    off: int
    why: str


class SettleIn(BaseModel):
    """The items a line settles, in their order; what is short is written off to an account, if one is named."""

    line: ItemId
    items: Annotated[list[ItemId], Field(min_length=1, max_length=200)]
    write_off_account_id: ItemId | None = None


def _items(found: list[OpenItem]) -> list[OpenItemOut]:
    return [OpenItemOut.model_validate(item, from_attributes=True) for item in found]


@router.get("/open-items", operation_id="openItems")
def get_items(ctx: Ctx, company_id: Id) -> list[OpenItemOut]:
    """All invoices and bills with what is still owed, by due date."""
    return _items([stored.item for stored in open_items.list_items(ctx, company_id)])


@router.post("/open-items", operation_id="importOpenItems", status_code=201)
def post_items(
    ctx: Ctx,
    company_id: Id,
    file: Annotated[UploadFile, File()],
    invoice_account_id: Annotated[ItemId | None, Form()] = None,
    bill_account_id: Annotated[ItemId | None, Form()] = None,
) -> ImportedItems:
    """Import the documented table; items known already are not doubled."""
    accounts = {ItemKind.INVOICE: invoice_account_id, ItemKind.BILL: bill_account_id}
    found = open_items.import_items(ctx, company_id, file.filename or "file", file.file.read(), accounts)
    return ImportedItems(new=found.new, known=found.known, held=list(found.held))


@router.get("/reconciliations/{reconciliation_id}/lines/{line_id}/open-items", operation_id="settling")
def get_settling(ctx: Ctx, company_id: Id, reconciliation_id: Id, line_id: Id) -> SettlingOut:
    """What a line could settle, and what it most likely does."""
    found = open_items.settling(ctx, company_id, reconciliation_id, line_id)
    offer = found.proposal
    return SettlingOut(
        items=_items(list(found.items)),
        proposed=[item.id for item in offer.items] if offer else [],
        off=offer.off if offer else 0,
        why=offer.why if offer else "",
    )


@router.post("/reconciliations/{reconciliation_id}/settle", operation_id="settle", status_code=204)
def post_settle(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: SettleIn) -> None:
    """Record a line as the payment of open items, and match the two, in one step."""
    open_items.settle(ctx, company_id, reconciliation_id, body.line, body.items, body.write_off_account_id)
