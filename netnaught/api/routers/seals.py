"""Seals of a reconciliation, breaking one, and review by a second person."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from netnaught.api.deps import Ctx, Id, ItemId, Text
from netnaught.api.routers.deciding import Sealed, sealed_out
from netnaught.services import reporting, reviewing, sealing

router = APIRouter(prefix="/api/companies/{company_id}", tags=["seals"])
ROOM = "/reconciliations/{reconciliation_id}"


class DifferenceOut(BaseModel):
    """What a seal says otherwise than the one it replaces."""

    where: str
    id: int | None
    was: str
    now: str


class SealToldOut(BaseModel):
    """A seal; `made`: sealed, sealed again, or chained again after an earlier period was."""

    number: int
    made: str
    sha256: str
    previous: str
    replaces: int | None
    sealed_by: str
    sealed_at: str
    differences: list[DifferenceOut]


class ReasonIn(BaseModel):
    """Why."""

    reason: Annotated[Text, Field(min_length=1)]


class NoteIn(BaseModel):
    """A review note, on a line, an entry, or (neither) the whole."""

    text: Annotated[Text, Field(min_length=1)]
    line: ItemId | None = None
    entry: ItemId | None = None


class ReviewNoteOut(BaseModel):
    """A review note; open while `closed_at` is null."""

    id: int
    line_id: int | None
    entry_id: int | None
    text: str
    person: str
    at: str
    closed_by: str
    closed_at: str | None


class ReviewIn(BaseModel):
    """Whether a second person approves."""

    review: bool


class NoteMade(BaseModel):
    """The id of a new note."""

    id: int


@router.get(ROOM + "/seals", operation_id="seals")
def get_seals(ctx: Ctx, company_id: Id, reconciliation_id: Id) -> list[SealToldOut]:
    """All seals a reconciliation has had, newest first."""
    return [
        SealToldOut(
            number=told.seal.number,
            made=told.seal.made,
            sha256=told.seal.sha256,
            previous=told.seal.previous,
            replaces=told.replaces,
            sealed_by=told.seal.sealed_by,
            sealed_at=told.seal.sealed_at,
            differences=[DifferenceOut.model_validate(d, from_attributes=True) for d in told.differences],
        )
        for told in sealing.seals_told(ctx, company_id, reconciliation_id)
    ]


@router.get(ROOM + "/seals/{number}/report.pdf", operation_id="sealedPdf", response_class=Response)
def get_sealed_pdf(ctx: Ctx, company_id: Id, reconciliation_id: Id, number: Id) -> Response:
    """The report of one seal, replaced or not: its very bytes."""
    content = reporting.sealed_pdf(ctx, company_id, reconciliation_id, number)
    return Response(content, media_type="application/pdf", headers={"Content-Disposition": "inline"})


@router.post(ROOM + "/break", operation_id="breakSeal", status_code=204)
def post_break(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: ReasonIn) -> None:
    """Open a sealed period again; its seal and papers stay readable."""
    sealing.break_seal(ctx, company_id, reconciliation_id, body.reason)


@router.post(ROOM + "/hand-in", operation_id="handIn", status_code=204)
def post_hand_in(ctx: Ctx, company_id: Id, reconciliation_id: Id) -> None:
    """Freeze a reconciliation at zero for review."""
    reviewing.hand_in(ctx, company_id, reconciliation_id)


@router.post(ROOM + "/approve", operation_id="approve")
def post_approve(ctx: Ctx, company_id: Id, reconciliation_id: Id) -> Sealed:
    """Approve what somebody else prepared: that seals it."""
    return sealed_out(reviewing.approve(ctx, company_id, reconciliation_id))


@router.post(ROOM + "/return", operation_id="sendBack", status_code=204)
def post_return(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: ReasonIn) -> None:
    """Return it to the preparer with a note."""
    reviewing.send_back(ctx, company_id, reconciliation_id, body.reason)


@router.get(ROOM + "/notes", operation_id="reviewNotes")
def get_notes(ctx: Ctx, company_id: Id, reconciliation_id: Id) -> list[ReviewNoteOut]:
    """The review notes, oldest first."""
    found = reviewing.notes(ctx, company_id, reconciliation_id)
    return [ReviewNoteOut.model_validate(note, from_attributes=True) for note in found]


@router.post(ROOM + "/notes", operation_id="addReviewNote", status_code=201)
def post_note(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: NoteIn) -> NoteMade:
    """A review note on an item or the whole."""
    return NoteMade(id=reviewing.add_note(ctx, company_id, reconciliation_id, body.line, body.entry, body.text))


@router.post("/notes/{note_id}/close", operation_id="closeReviewNote", status_code=204)
def post_close(ctx: Ctx, company_id: Id, note_id: Id) -> None:
    """A note is dealt with."""
    reviewing.close_note(ctx, company_id, note_id)


@router.put("/review", operation_id="setReview", status_code=204)
def put_review(ctx: Ctx, company_id: Id, body: ReviewIn) -> None:
    """Whether this company has its reconciliations approved by a second person."""
    reviewing.set_review(ctx, company_id, body.review)
