"""Statements: reading a file, storing it, typing one from paper, correcting its head."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Form, Query, Response, UploadFile
from pydantic import BaseModel

from netnaught.api.deps import Amount, Ctx, Day, Id
from netnaught.api.problems import Notice
from netnaught.core.statement import ControlTotals, NoticeKind, StatementHead, footing, opening_of
from netnaught.formats.tables import ENCODINGS, ColumnRole
from netnaught.services import overview, reading, writing_out
from netnaught.services.access import account_for
from netnaught.services.incoming import How, TableReading
from netnaught.services.reading import FileReading, HeadGiven
from netnaught.services.watching import progress_of, stop, watched
from netnaught.services.writing import wording
from netnaught.store.statements import StoredStatement

router = APIRouter(prefix="/api/companies/{company_id}", tags=["statements"])

# Shown in the preview; the counts tell of all lines.
SHOWN = 400


class IncomingLineOut(BaseModel):
    """A line of the file; `known` ones are stored already."""

    position: int
    date: Day
    amount: int
    reference: str
    description: str
    kind: str
    known: bool


class LayoutOut(BaseModel):
    """How a table is read. `roles`: what each column holds."""

    form: str
    heading: list[str]
    roles: list[ColumnRole]
    date_order: str
    decimal: str
    delimiter: str
    out_words: list[str]
    flip: bool
    owed: bool
    encoding: str = ""


class RawRow(BaseModel):
    """A row of a table and the line where it begins in the file."""

    line: int
    cells: list[str]


class RawTableOut(BaseModel):
    """A table as it stands in the file: its first rows, and a draft for the heading pointed at."""

    form: str
    delimiter: str
    encoding: str
    encodings: list[str]
    rows: list[RawRow]
    draft: LayoutOut | None


class ProgressOut(BaseModel):
    """How far a reading has come. `share`: 0 to 1 of the phase; null where none is under way."""

    phase: str
    share: float | None


class QuestionOut(BaseModel):
    """What a table leaves open: the setting, the question, its choices."""

    setting: str
    text: str
    choices: list[str]


class TableOut(BaseModel):
    """The table behind a reading: its layout, whether it was recognised, what is asked, its first rows."""

    layout: LayoutOut
    known: bool
    questions: list[QuestionOut]
    rows: list[list[str]]


class InFileOut(BaseModel):
    """A statement in the file, counted from 1, and the bank account it belongs to, where that is known."""

    place: int
    number: str
    bank: str
    currency: str | None
    start: Day
    end: Day
    lines: int
    bank_account_id: int | None


class ReadingOut(BaseModel):
    """What was understood of a file. `foots` is null where it cannot be told. Money in minor units."""

    format: str
    bank: str
    account: str
    currency: str
    start: Day
    end: Day
    dates_stated: bool
    opening: int | None
    opening_derived: bool
    closing: int | None
    total_in: int
    total_out: int
    count_in: int
    count_out: int
    foots: bool | None
    line_count: int
    new_count: int
    nothing_new: bool
    before_end: Day
    before_closing: int | None
    closes: Day
    joins_open: bool
    notices: list[Notice]
    problems: list[str]
    place: int
    in_file: list[InFileOut]
    table: TableOut | None
    lines: list[IncomingLineOut]


class HeadIn(BaseModel):
    """The head of a statement: dates, balances, printed totals (out is negative or zero)."""

    start: Day
    end: Day
    opening: Amount | None = None
    closing: Amount | None = None
    total_in: Amount | None = None
    total_out: Amount | None = None

    def head(self, stated: bool = True) -> StatementHead:
        totals = ControlTotals(self.total_in, self.total_out)
        return StatementHead(self.start, self.end, self.opening, self.closing, totals, dates_stated=stated)


class TypedIn(HeadIn):
    """A statement typed from paper, with the notices the person has confirmed."""

    confirmed: list[NoticeKind] = []


class StatementOut(BaseModel):
    """A stored statement."""

    id: int
    account_id: int
    reconciliation_id: int
    format: str
    start: Day
    end: Day
    opening: int | None
    opening_derived: bool
    closing: int | None
    total_in: int | None
    total_out: int | None
    line_count: int
    foots: bool | None
    file_name: str | None
    file_sha256: str | None
    created_by: str
    created_at: str

    @classmethod
    def of_statement(cls, s: StoredStatement) -> StatementOut:
        return cls(
            id=s.id,
            account_id=s.bank_account_id,
            reconciliation_id=s.reconciliation_id,
            format=s.format,
            start=s.head.start,
            end=s.head.end,
            opening=opening_of(s.head, s.delivered),
            opening_derived=s.head.opening is None,
            closing=s.head.closing,
            total_in=s.head.totals.total_in,
            total_out=s.head.totals.total_out,
            line_count=s.delivered.lines,
            foots=footing(s.head, s.delivered).foots,
            file_name=s.file_name,
            file_sha256=s.file_sha256,
            created_by=s.created_by,
            created_at=s.created_at,
        )


class Stored(BaseModel):
    """The reconciliation that a stored statement belongs to."""

    reconciliation_id: int


JobQuery = Annotated[str, Query(max_length=40)]
FileIn = Annotated[UploadFile, File()]
AmountForm = Annotated[Amount | None, Form()]
DayForm = Annotated[Day | None, Form()]
LayoutForm = Annotated[str, Form(max_length=20_000, description="a layout as JSON; empty: a known or proposed one")]
SettledForm = Annotated[str, Form(max_length=200, description="settings of the layout that a person stated, by commas")]
PlaceForm = Annotated[int | None, Form(ge=1, le=10_000, description="which statement of the file is meant, from 1")]
JobForm = Annotated[str, Form(max_length=40, description="a name of the caller's own, to ask how far the reading is")]


def _how(layout: str, settled: str, place: int | None) -> How:
    return How(layout, frozenset(name for name in settled.split(",") if name), place)


def _table(found: TableReading) -> TableOut:
    return TableOut(
        layout=LayoutOut.model_validate(found.layout.values()),
        known=found.known,
        questions=[QuestionOut(setting=q.setting, text=q.text, choices=list(q.choices)) for q in found.questions],
        rows=[list(row) for row in found.rows],
    )


def _reading(file: FileReading, ctx: Ctx, company_id: int, account_id: int) -> ReadingOut:
    company, account = account_for(ctx, company_id, account_id)
    found = file.reading
    say = wording(account.currency, company.locale)
    came, went = found.delivered.came_in, found.delivered.went_out
    return ReadingOut(
        format=found.format,
        bank=found.bank,
        account=found.account,
        currency=found.currency,
        start=found.head.start,
        end=found.head.end,
        dates_stated=found.head.dates_stated,
        opening=found.opening,
        opening_derived=found.opening_derived,
        closing=found.head.closing,
        total_in=came.total,
        total_out=went.total,
        count_in=came.lines,
        count_out=went.lines,
        foots=found.footing.foots,
        line_count=len(found.lines),
        new_count=len(found.new),
        nothing_new=file.nothing_new,
        before_end=found.before.end,
        before_closing=found.before.closing,
        closes=found.closes,
        joins_open=found.joins_open,
        notices=[Notice(kind=n.kind, text=n.sentence(say)) for n in found.notices],
        problems=[f"{p.where}: {p.what}" for p in found.problems],
        place=file.place,
        in_file=[InFileOut.model_validate(item, from_attributes=True) for item in file.in_file],
        table=_table(file.table) if file.table else None,
        lines=[
            IncomingLineOut(
                position=item.position,
                date=item.line.date,
                amount=item.line.amount,
                reference=item.line.reference,
                description=item.line.description,
                kind=item.line.kind,
                known=item.known,
            )
            for item in found.lines[:SHOWN]
        ],
    )


@router.post("/accounts/{account_id}/statements/preview", operation_id="previewStatement")
def post_preview(
    ctx: Ctx,
    company_id: Id,
    account_id: Id,
    file: FileIn,
    start: DayForm = None,
    end: DayForm = None,
    opening: AmountForm = None,
    closing: AmountForm = None,
    layout: LayoutForm = "",
    settled: SettledForm = "",
    place: PlaceForm = None,
    job: JobForm = "",
) -> ReadingOut:
    """Read a file and say what was understood; nothing is stored."""
    given, how = HeadGiven(start, end, opening, closing), _how(layout, settled, place)
    with watched(ctx, job):
        found = reading.read_file(ctx, company_id, account_id, file.filename or "file", file.file.read(), given, how)
    return _reading(found, ctx, company_id, account_id)


@router.post("/accounts/{account_id}/statements/table", operation_id="tableInFile")
def post_table(
    ctx: Ctx,
    company_id: Id,
    account_id: Id,
    file: FileIn,
    delimiter: Annotated[str, Form(max_length=1)] = "",
    encoding: Annotated[str, Form(max_length=20)] = "",
    heading: Annotated[int | None, Form(ge=0, le=1_000_000, description="its line; 0: there is none")] = None,
) -> RawTableOut:
    """The rows of a table as they stand in the file, for a person to point at its heading."""
    found = reading.table_in(
        ctx,
        company_id,
        account_id,
        file.filename or "file",
        file.file.read(),
        delimiter=delimiter,
        encoding=encoding,
        heading=heading,
    )
    return RawTableOut(
        form=found.form,
        delimiter=found.delimiter,
        encoding=found.encoding,
        encodings=list(ENCODINGS),
        rows=[RawRow(line=row.line, cells=list(row.cells)) for row in found.rows],
        draft=LayoutOut.model_validate(found.draft.values()) if found.draft else None,
    )


@router.get("/readings", operation_id="readingProgress")
def get_progress(ctx: Ctx, company_id: Id, job: JobQuery) -> ProgressOut:
    """How far a reading of the caller's has come."""
    found = progress_of(ctx, company_id, job)
    return ProgressOut(phase=found.phase if found else "", share=found.share if found else None)


@router.delete("/readings", operation_id="stopReading", status_code=204)
def delete_reading(ctx: Ctx, company_id: Id, job: JobQuery) -> None:
    """Stop a reading of the caller's; nothing of it is stored."""
    stop(ctx, company_id, job)


@router.post("/accounts/{account_id}/statements", operation_id="storeStatement", status_code=201)
def post_statement(
    ctx: Ctx,
    company_id: Id,
    account_id: Id,
    file: FileIn,
    start: DayForm = None,
    end: DayForm = None,
    opening: AmountForm = None,
    closing: AmountForm = None,
    layout: LayoutForm = "",
    settled: SettledForm = "",
    place: PlaceForm = None,
    job: JobForm = "",
    confirmed: Annotated[list[NoticeKind], Query()] = [],  # noqa: B006  FastAPI reads the default once
) -> Stored:
    """Store a file's new lines and the file itself; 428 while something odd is not confirmed."""
    given = HeadGiven(start, end, opening, closing)
    kinds = frozenset(kind.value for kind in confirmed)
    name, data = file.filename or "file", file.file.read()
    how = _how(layout, settled, place)
    with watched(ctx, job):
        return Stored(reconciliation_id=reading.store_file(ctx, company_id, account_id, name, data, given, kinds, how))


@router.post("/accounts/{account_id}/statements/typed", operation_id="typeStatement", status_code=201)
def post_typed(ctx: Ctx, company_id: Id, account_id: Id, body: TypedIn) -> Stored:
    """A statement typed from paper, or a cash box's counted balance."""
    kinds = frozenset(kind.value for kind in body.confirmed)
    return Stored(reconciliation_id=reading.store_typed(ctx, company_id, account_id, body.head(), kinds))


@router.get("/accounts/{account_id}/statements", operation_id="statements")
def get_statements(ctx: Ctx, company_id: Id, account_id: Id) -> list[StatementOut]:
    """All statements of an account, by period."""
    return [StatementOut.of_statement(s) for s in reading.list_statements(ctx, company_id, account_id)]


@router.put("/statements/{statement_id}/head", operation_id="correctHead", status_code=204)
def put_head(ctx: Ctx, company_id: Id, statement_id: Id, body: HeadIn) -> None:
    """Correct the head of a statement that is not sealed."""
    reading.correct_head(ctx, company_id, statement_id, body.head())


@router.delete("/statements/{statement_id}", operation_id="withdrawStatement", status_code=204)
def delete_statement(ctx: Ctx, company_id: Id, statement_id: Id) -> None:
    """Take out a statement of which nothing is decided yet."""
    reading.withdraw(ctx, company_id, statement_id)


@router.get("/statements/{statement_id}/file", operation_id="statementFile", response_class=Response)
def get_file(ctx: Ctx, company_id: Id, statement_id: Id) -> Response:
    """The original file, byte for byte, as a download that nothing will run."""
    found = reading.original(ctx, company_id, statement_id)
    name = "".join(c if (c.isalnum() and c.isascii()) or c in "._-" else "_" for c in found.name)
    headers = {"Content-Disposition": f'attachment; filename="{name}"', "X-Content-Type-Options": "nosniff"}
    return Response(found.content, media_type="application/octet-stream", headers=headers)


class SlotOut(BaseModel):
    """A month of an account: its statement, or that it is missing."""

    month: str
    statement: StatementOut | None


class AccountStatementsOut(BaseModel):
    """All statements of one account by month, newest first, missing months among them."""

    account_id: int
    account_name: str
    bank: str
    number: str
    kind: str
    currency: str
    connected: bool
    slots: list[SlotOut]


@router.get("/statements", operation_id="allStatements")
def get_all(ctx: Ctx, company_id: Id) -> list[AccountStatementsOut]:
    """The statements of all accounts by period, and what is missing."""
    return [
        AccountStatementsOut(
            account_id=row.account.id,
            account_name=row.account.name,
            bank=row.account.bank,
            number=row.account.number,
            kind=row.account.kind,
            currency=row.account.currency,
            connected=row.connected,
            slots=[
                SlotOut(month=s.month, statement=StatementOut.of_statement(s.statement) if s.statement else None)
                for s in row.slots
            ],
        )
        for row in overview.statements_by_month(ctx, company_id)
    ]


@router.get("/statements/{statement_id}/write", operation_id="writeStatement", response_class=Response)
def get_written(
    ctx: Ctx, company_id: Id, statement_id: Id, form: Annotated[str, Query(alias="format", max_length=20)] = "csv"
) -> Response:
    """A stored statement as csv, ofx, camt.053 or xlsx."""
    name, media, content = writing_out.write_out(ctx, company_id, statement_id, form)
    return Response(content, media_type=media, headers={"Content-Disposition": f'attachment; filename="{name}"'})
