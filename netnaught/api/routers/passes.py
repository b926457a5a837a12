"""The passes of an account: their order, their windows, on or off."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from netnaught.api.deps import Ctx, Id
from netnaught.core.matching import PassName
from netnaught.services import passes
from netnaught.store.passes import PassSetting

router = APIRouter(prefix="/api/companies/{company_id}/accounts/{account_id}/passes", tags=["setup"])

Days = Annotated[int, Field(ge=0, le=passes.FURTHEST)]


class PassBody(BaseModel):
    """One pass in its place. `before`, `after`: days the entry may be dated before or after the bank's line."""

    name: PassName
    active: bool
    before: Days | None = None
    after: Days | None = None


class PassesBody(BaseModel):
    """Every pass, in the order in which they run."""

    passes: Annotated[list[PassBody], Field(max_length=20)]


@router.get("", operation_id="passSettings")
def get_settings(ctx: Ctx, company_id: Id, account_id: Id) -> PassesBody:
    """The passes of an account, in their order."""
    found = passes.settings_of(ctx, company_id, account_id)
    return PassesBody(passes=[PassBody.model_validate(s, from_attributes=True) for s in found])


@router.put("", operation_id="writePassSettings", status_code=204)
def put_settings(ctx: Ctx, company_id: Id, account_id: Id, body: PassesBody) -> None:
    """Set the passes of an account; they act at once on what is open."""
    settings = [PassSetting(p.name, p.active, p.before, p.after) for p in body.passes]
    passes.write_settings(ctx, company_id, account_id, settings)
