"""Tables whose columns a person points out: the chart of accounts and the ledger's detail, imported."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Form, UploadFile
from pydantic import BaseModel, Field, ValidationError

from netnaught.api.deps import Ctx, Id, Text
from netnaught.formats import Columns, Table
from netnaught.services import ledger_import
from netnaught.services.errors import BadInput
from netnaught.services.ledger_import import Understood

router = APIRouter(prefix="/api/companies/{company_id}", tags=["books"])


class ColumnsIn(BaseModel):
    """Which column has which role; the order of dates (ymd, dmy, mdy) and the decimal sign; "" where not stated."""

    by_role: Annotated[dict[str, Text], Field(max_length=12)] = {}
    order: Annotated[str, Field(pattern="^(ymd|dmy|mdy)?$")] = ""
    decimal: Annotated[str, Field(pattern="^[.,]?$")] = ""


class BookTableOut(BaseModel):
    """A table with its columns as proposed or stated; `missing`: what must still be said before it is read."""

    roles: list[str]
    heading: list[str]
    sample: list[list[str]]
    by_role: dict[str, str]
    order: str
    decimal: str
    missing: list[str]

    @classmethod
    def of_table(cls, table: Table) -> BookTableOut:
        return cls(
            roles=list(table.roles),
            heading=list(table.heading),
            sample=[list(row.cells) for row in table.rows[:8]],
            by_role=dict(table.columns.by_role),
            order=table.columns.order,
            decimal=table.columns.decimal,
            missing=list(table.missing),
        )


def columns_of(text: str) -> Columns | None:
    """The columns as a form field gives them, JSON; None when it is empty."""
    if not text:
        return None
    try:
        given = ColumnsIn.model_validate_json(text)
    except ValidationError as error:
        raise BadInput("The columns cannot be read. Nothing was changed.", field="columns") from error
    return Columns(given.by_role, given.order, given.decimal)


class UnderstoodOut(BaseModel):
    """What a table holds: new ones, known ones, and known ones that say otherwise, which are left as they are."""

    table: BookTableOut
    new: int
    known: int
    returned: int
    held: list[str]
    stored: bool


def _understood(found: Understood, stored: bool) -> UnderstoodOut:
    table = BookTableOut.of_table(found.table)
    return UnderstoodOut(
        table=table, new=found.new, known=found.known, returned=found.returned, held=list(found.held), stored=stored
    )


@router.post("/chart/import", operation_id="importChart")
def post_chart(
    ctx: Ctx,
    company_id: Id,
    file: Annotated[UploadFile, File()],
    columns: Annotated[str, Form(max_length=4000)] = "",
    store: Annotated[bool, Form()] = False,
) -> UnderstoodOut:
    """Accounts of a table; nothing is stored without `store`."""
    name, data = file.filename or "file", file.file.read()
    found = ledger_import.read_chart(ctx, company_id, name, data, columns_of(columns), store=store)
    return _understood(found, store)


@router.post("/journal/import", operation_id="importLedger")
def post_ledger(
    ctx: Ctx,
    company_id: Id,
    file: Annotated[UploadFile, File()],
    columns: Annotated[str, Form(max_length=4000)] = "",
    store: Annotated[bool, Form()] = False,
) -> UnderstoodOut:
    """Journal entries of a ledger's detail; nothing is stored without `store`."""
    name, data = file.filename or "file", file.file.read()
    found = ledger_import.read_ledger(ctx, company_id, name, data, columns_of(columns), store=store)
    return _understood(found, store)
