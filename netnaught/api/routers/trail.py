"""The audit trail: a list with filters, and as a file."""

from __future__ import annotations

import json
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Response
from pydantic import BaseModel

from netnaught.api.deps import Ctx, Day, Id, Text
from netnaught.services import trail
from netnaught.store.audit import Wanted

router = APIRouter(prefix="/api/companies/{company_id}/trail", tags=["trail"])


class TrailEventOut(BaseModel):
    """One event: who, when, what, on which thing, before and after as JSON texts."""

    id: int
    at: str
    person: str
    what: str
    entity: str
    entity_id: int | None
    before: str
    after: str


class TrailOut(BaseModel):
    """A page of events, newest first, and what can be chosen from."""

    events: list[TrailEventOut]
    kinds: list[str]
    people: list[str]
    page: int


def _wanted(
    entity: Text = "",
    entity_id: Annotated[int | None, Query(ge=1, le=2**53)] = None,
    person: Text = "",
    what: Text = "",
    start: Day | None = None,
    end: Day | None = None,
    before: Annotated[int | None, Query(ge=1, le=2**53)] = None,
) -> Wanted:
    days = (start.isoformat() if start else "", end.isoformat() if end else "")
    return Wanted(entity, entity_id, person, what, *days, before)


Filter = Annotated[Wanted, Depends(_wanted)]


def _text(values: dict[str, object] | None) -> str:
    return "" if values is None else json.dumps(values, ensure_ascii=False)


@router.get("", operation_id="trail")
def get_trail(ctx: Ctx, company_id: Id, wanted: Filter) -> TrailOut:
    """The events asked for, newest first."""
    found = trail.events(ctx, company_id, wanted)
    kinds, people = trail.names(ctx, company_id)
    events = [
        TrailEventOut(
            id=e.id,
            at=e.at,
            person=e.user,
            what=e.what,
            entity=e.entity,
            entity_id=e.entity_id,
            before=_text(e.before),
            after=_text(e.after),
        )
        for e in found
    ]
    return TrailOut(events=events, kinds=kinds, people=people, page=trail.PAGE)


@router.get("/export.csv", operation_id="exportTrail", response_class=Response)
def get_export(ctx: Ctx, company_id: Id, wanted: Filter) -> Response:
    """All events asked for, oldest first, as CSV."""
    headers = {"Content-Disposition": 'attachment; filename="audit-trail.csv"'}
    return Response(trail.export(ctx, company_id, wanted), media_type="text/csv", headers=headers)
