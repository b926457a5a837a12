"""The bank's service: connecting an account, fetching what the bank has."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel

from netnaught.api.deps import Ctx, Day, Id, Text
from netnaught.services import bank_service

router = APIRouter(prefix="/api/companies/{company_id}/accounts/{account_id}/bank", tags=["bank's service"])


class RemoteOut(BaseModel):
    """An account as the bank's service knows it."""

    id: str
    number: str
    bank: str
    currency: str
    complete_until: Day


class ConnectIn(BaseModel):
    """Where the bank is asked, and which of its accounts."""

    address: Text
    remote_id: Text


class ConnectionOut(BaseModel):
    """An account's connection to its bank."""

    address: str
    remote_id: str
    fetched_at: str | None


class FetchedOut(BaseModel):
    """What a fetch brought, in sentences; `needs_person`: something waits for a confirmation."""

    sentences: list[str]
    stored: int
    images: int
    needs_person: bool
    reconciliation_id: int | None


@router.get("", operation_id="bankConnection")
def get_connection(ctx: Ctx, company_id: Id, account_id: Id) -> ConnectionOut | None:
    """The connection of an account; null where it has none."""
    found = bank_service.connection_of(ctx, company_id, account_id)
    return (
        ConnectionOut(address=found.address, remote_id=found.remote_id, fetched_at=found.fetched_at) if found else None
    )


@router.get("/accounts", operation_id="remoteAccounts")
def get_remote(
    ctx: Ctx, company_id: Id, account_id: Id, address: Annotated[str, Query(max_length=300)]
) -> list[RemoteOut]:
    """The accounts that a bank's service offers."""
    found = bank_service.remote_accounts(ctx, company_id, account_id, address)
    return [RemoteOut.model_validate(item, from_attributes=True) for item in found]


@router.put("", operation_id="connectBank", status_code=204)
def put_connection(ctx: Ctx, company_id: Id, account_id: Id, body: ConnectIn) -> None:
    """Connect an account to its bank's service."""
    bank_service.connect(ctx, company_id, account_id, body.address, body.remote_id)


@router.delete("", operation_id="disconnectBank", status_code=204)
def delete_connection(ctx: Ctx, company_id: Id, account_id: Id) -> None:
    """Forget the connection; what was fetched stays."""
    bank_service.disconnect(ctx, company_id, account_id)


@router.post("/fetch", operation_id="fetchBank")
def post_fetch(ctx: Ctx, company_id: Id, account_id: Id) -> FetchedOut:
    """Fetch statements of complete months and new lines of the running one."""
    return FetchedOut.model_validate(bank_service.fetch(ctx, company_id, account_id), from_attributes=True)
