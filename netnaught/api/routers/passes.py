"""The passes of an account: their order, their windows, on or off."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from netnaught.api.deps import Ctx, Id, Text
from netnaught.core.matching import PassName, SameReference, SameText, Sign
from netnaught.core.statement import LineKind
from netnaught.services import passes
from netnaught.store.passes import PassSetting
from netnaught.store.taught import StoredComposed

router = APIRouter(prefix="/api/companies/{company_id}/accounts/{account_id}/passes", tags=["setup"])

Days = Annotated[int, Field(ge=0, le=passes.FURTHEST)]


class PassBody(BaseModel):
    """One pass in its place. `before`, `after`: days the entry may be dated before or after the bank's line."""

    name: PassName
    active: bool
    before: Days | None = None
    after: Days | None = None


class ComposedBody(BaseModel):
    """A pass that a person composed: what must agree beside the amount. `sentence` is given, never taken."""

    active: bool
    title: Annotated[Text, Field(min_length=1, max_length=60)]
    reference: SameReference = SameReference.NO_MATTER
    text: SameText = SameText.NO_MATTER
    before: Days = 30
    after: Days = 10
    sign: Sign = Sign.ANY
    kind: LineKind | None = None

    def stored(self) -> StoredComposed:
        return StoredComposed(self.active, self.model_dump(mode="json", exclude={"active"}))


class PassesBody(BaseModel):
    """Every fixed pass in the order in which they run (none: the usual ones), then the composed."""

    passes: Annotated[list[PassBody], Field(max_length=20)]
    composed: Annotated[list[ComposedBody], Field(max_length=40)] = []


class PassesOut(PassesBody):
    """`usual`: nobody has set them. `lags`: how many sealed matches their windows follow from; 0: none do."""

    usual: bool
    lags: int


@router.get("", operation_id="passSettings")
def get_settings(ctx: Ctx, company_id: Id, account_id: Id) -> PassesOut:
    """The passes of an account, in their order."""
    found = passes.settings_of(ctx, company_id, account_id)
    return PassesOut(
        passes=[PassBody.model_validate(s, from_attributes=True) for s in found.fixed],
        composed=[ComposedBody(active=item.active, **item.values) for item in found.composed],
        usual=found.usual,
        lags=found.lags,
    )


@router.put("", operation_id="writePassSettings", status_code=204)
def put_settings(ctx: Ctx, company_id: Id, account_id: Id, body: PassesBody) -> None:
    """Set the passes of an account; they act at once on what is open."""
    settings = [PassSetting(p.name, p.active, p.before, p.after) for p in body.passes]
    passes.write_settings(ctx, company_id, account_id, settings, [item.stored() for item in body.composed])
