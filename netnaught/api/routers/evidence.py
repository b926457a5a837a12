"""Evidence: files and notes that stay with lines, entries and reconciliations; originals made viewable."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated

from fastapi import APIRouter, File, Form, Query, Response, UploadFile
from pydantic import BaseModel

from netnaught.api.deps import Ctx, Id
from netnaught.services import evidence
from netnaught.store.evidence import Evidence

router = APIRouter(prefix="/api/companies/{company_id}", tags=["evidence"])


class Entity(StrEnum):
    """What evidence may belong to."""

    LINE = "line"
    ENTRY = "entry"
    RECONCILIATION = "reconciliation"


class EvidenceOut(BaseModel):
    """A piece of evidence; a note has no fingerprint."""

    id: int
    entity: Entity
    entity_id: int
    name: str
    media_type: str
    sha256: str | None
    note: str
    created_by: str
    created_at: str

    @classmethod
    def of_evidence(cls, found: Evidence) -> EvidenceOut:
        return cls.model_validate(found, from_attributes=True)


class Kept(BaseModel):
    """The id of a new piece of evidence."""

    id: int


class OriginalOut(BaseModel):
    """An original as it is shown: text, or a number of pages."""

    name: str
    sha256: str
    text: str | None
    pages: int


EntityQuery = Annotated[Entity, Query()]
EntityIdQuery = Annotated[int, Query(ge=1, le=2**53)]


@router.get("/evidence", operation_id="evidence")
def get_evidence(ctx: Ctx, company_id: Id, entity: EntityQuery, entity_id: EntityIdQuery) -> list[EvidenceOut]:
    """What is kept with one line, entry or reconciliation, oldest first."""
    found = evidence.list_evidence(ctx, company_id, entity, entity_id)
    return [EvidenceOut.of_evidence(item) for item in found]


@router.post("/evidence", operation_id="keepEvidence", status_code=201)
def post_evidence(
    ctx: Ctx,
    company_id: Id,
    entity: EntityQuery,
    entity_id: EntityIdQuery,
    file: Annotated[UploadFile | None, File()] = None,
    note: Annotated[str, Form(max_length=2000)] = "",
) -> Kept:
    """Keep a file, byte for byte, or a note."""
    content = file.file.read() if file else None
    name = (file.filename or "file") if file else ""
    return Kept(id=evidence.attach(ctx, company_id, entity, entity_id, name, content, note))


@router.get("/evidence/{evidence_id}/content", operation_id="evidenceContent", response_class=Response)
def get_content(ctx: Ctx, company_id: Id, evidence_id: Id) -> Response:
    """The bytes of a piece; pictures and PDF are shown, everything else is a download that nothing will run."""
    found, content = evidence.open_evidence(ctx, company_id, evidence_id)
    shown = found.media_type in evidence.MEDIA.values()
    name = "".join(c if (c.isalnum() and c.isascii()) or c in "._-" else "_" for c in found.name)
    headers = {"Content-Disposition": f'{"inline" if shown else "attachment"}; filename="{name}"'}
    return Response(content, media_type=found.media_type if shown else "application/octet-stream", headers=headers)


@router.delete("/evidence/{evidence_id}", operation_id="setEvidenceAside", status_code=204)
def delete_evidence(ctx: Ctx, company_id: Id, evidence_id: Id) -> None:
    """Take a piece out of sight; its bytes stay."""
    evidence.set_aside(ctx, company_id, evidence_id)


@router.get("/statements/{statement_id}/original", operation_id="original")
def get_original(ctx: Ctx, company_id: Id, statement_id: Id) -> OriginalOut:
    """The original of a statement as it is shown."""
    found = evidence.view_original(ctx, company_id, statement_id)
    return OriginalOut.model_validate(found, from_attributes=True)


@router.get("/statements/{statement_id}/original/pages/{number}", operation_id="originalPage", response_class=Response)
def get_page(ctx: Ctx, company_id: Id, statement_id: Id, number: Id) -> Response:
    """A page of a PDF original as a picture."""
    return Response(evidence.original_page(ctx, company_id, statement_id, number), media_type="image/png")
