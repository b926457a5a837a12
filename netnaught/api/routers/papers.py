"""Papers: the reconciliation report on screen and as PDF."""

from __future__ import annotations

from fastapi import APIRouter, Response
from pydantic import BaseModel

from netnaught.api.deps import Ctx, Id
from netnaught.services import reporting

router = APIRouter(prefix="/api/companies/{company_id}/reconciliations/{reconciliation_id}/report", tags=["papers"])


class FigureOut(BaseModel):
    """A line of an equation, minor units."""

    label: str
    amount: int
    total: bool


class ItemOut(BaseModel):
    """A cleared or outstanding item, minor units."""

    date: str
    bank_date: str
    reference: str
    text: str
    amount: int
    note: str


class ReportOut(BaseModel):
    """The reconciliation report: as sealed, or as it stands."""

    company: str
    account: str
    bank: str
    number: str
    currency: str
    start: str
    end: str
    sealed: bool
    prepared_by: str
    prepared_at: str
    statement_equation: list[FigureOut]
    bank_side: list[FigureOut]
    book_side: list[FigureOut]
    gl_balance: int | None
    gl_account: str
    cleared: list[ItemOut]
    outstanding: list[ItemOut]
    files: list[str]
    fingerprint: str
    seal_number: int
    previous_fingerprint: str


@router.get("", operation_id="report")
def get_report(ctx: Ctx, company_id: Id, reconciliation_id: Id) -> ReportOut:
    """The report of a reconciliation; of a sealed one, as it was sealed."""
    return ReportOut.model_validate(reporting.report(ctx, company_id, reconciliation_id))


@router.get("/report.pdf", operation_id="reportPdf", response_class=Response)
def get_pdf(ctx: Ctx, company_id: Id, reconciliation_id: Id) -> Response:
    """The same as PDF; of a sealed one, the very bytes that were sealed."""
    content = reporting.report_pdf(ctx, company_id, reconciliation_id)
    headers = {"Content-Disposition": 'inline; filename="reconciliation.pdf"'}
    return Response(content, media_type="application/pdf", headers=headers)
