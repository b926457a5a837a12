"""Evidence: what stays with a line, an entry or a reconciliation; and originals made viewable."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from io import BytesIO

import pypdfium2

from netnaught.formats import Unreadable, grid_of
from netnaught.formats.reading import LARGEST_FILE
from netnaught.services.access import Context, Right, account_for, company_for, reconciliation_for, record_event
from netnaught.services.errors import BadInput, NotFound
from netnaught.services.reading import original
from netnaught.store import bank_book, evidence, statements
from netnaught.store.bank_accounts import BankAccount
from netnaught.store.database import atomic
from netnaught.store.evidence import Evidence

# Shown inside the page; anything else is only downloaded.
MEDIA = {b"\x89PNG\r\n\x1a\n": "image/png", b"\xff\xd8\xff": "image/jpeg", b"%PDF-": "application/pdf"}
ENTITIES = ("line", "entry", "reconciliation")
# Pixels per point at which pages are drawn: readable on a screen twice as dense.
SCALE = 2


@dataclass(frozen=True, slots=True)
class Original:
    """An original as it is shown: its text, or the number of its pages."""

    name: str
    sha256: str
    text: str | None
    pages: int


def media_type_of(content: bytes) -> str:
    """What a file is, by its content; octet-stream for what is not shown."""
    return next((media for mark, media in MEDIA.items() if content.startswith(mark)), "application/octet-stream")


def _require(ctx: Context, company_id: int, entity: str, entity_id: int, right: Right) -> None:
    """The thing that evidence belongs to, in this company."""
    company_for(ctx, company_id, right)
    if entity == "reconciliation":
        reconciliation_for(ctx, company_id, entity_id, right)
        return
    if entity == "line":
        line = statements.stored_line(ctx.db, company_id, entity_id)
        found = statements.statement(ctx.db, company_id, line.statement_id) if line else None
        account_id = found.bank_account_id if found else None
    else:
        entry = bank_book.stored_entry(ctx.db, company_id, entity_id)
        account_id = entry.bank_account_id if entry else None
    if account_id is None:
        raise NotFound(f"There is no such {entity}.")
    account_for(ctx, company_id, account_id, right)


def attach(
    ctx: Context, company_id: int, entity: str, entity_id: int, name: str, content: bytes | None, note: str
) -> int:
    """Keep a file, byte for byte, or a note with a line, an entry or a reconciliation; also with sealed ones."""
    _require(ctx, company_id, entity, entity_id, Right.PREPARE)
    if content is None and not note.strip():
        raise BadInput("A note has a text.", field="note")
    if content is not None and (not content or len(content) > LARGEST_FILE):
        raise BadInput("The file is empty or too large. Nothing was stored.", file=name)
    digest = hashlib.sha256(content).hexdigest() if content is not None else None
    with atomic(ctx.db):
        found = evidence.add_evidence(
            ctx.db,
            company_id,
            entity,
            entity_id,
            name=name if content is not None else "note",
            media_type=media_type_of(content) if content is not None else "text/plain",
            sha256=digest,
            content=content,
            note=note.strip(),
            user_id=ctx.user.id,
            now=ctx.stamp,
        )
        record_event(ctx, company_id, "evidence kept", entity, entity_id, after={"name": name, "sha256": digest})
    return found


def lines_with_evidence(ctx: Context, account: BankAccount) -> set[int]:
    """Ids of an account's lines that hold evidence."""
    return evidence.with_evidence(ctx.db, account.company_id, "line", account.id)


def list_evidence(ctx: Context, company_id: int, entity: str, entity_id: int) -> list[Evidence]:
    """What is kept with one thing, oldest first."""
    _require(ctx, company_id, entity, entity_id, Right.READ)
    return evidence.evidence_of(ctx.db, company_id, entity, [entity_id])


def open_evidence(ctx: Context, company_id: int, evidence_id: int) -> tuple[Evidence, bytes]:
    """One piece with its bytes."""
    company_for(ctx, company_id)
    found = evidence.evidence(ctx.db, company_id, evidence_id)
    if found is None:
        raise NotFound("There is no such evidence.")
    return found


def set_aside(ctx: Context, company_id: int, evidence_id: int) -> None:
    """Take a piece out of sight; its row and bytes stay."""
    company_for(ctx, company_id, Right.PREPARE)
    found, _ = open_evidence(ctx, company_id, evidence_id)
    with atomic(ctx.db):
        evidence.set_aside(ctx.db, company_id, evidence_id, ctx.stamp)
        record_event(ctx, company_id, "evidence set aside", found.entity, found.entity_id, before={"name": found.name})


def view_original(ctx: Context, company_id: int, statement_id: int) -> Original:
    """The original of a statement as it is shown: PDF by its pages, tables and text formats as text."""
    file = original(ctx, company_id, statement_id)
    if file.content.startswith(b"%PDF-"):
        return Original(file.name, file.sha256, None, _pages(file.content))
    if file.content.startswith(b"PK"):
        try:
            grid = grid_of(file.content)
        except Unreadable:
            grid = None
        text = "\n".join("\t".join(row.cells) for row in grid.rows) if grid else ""
        return Original(file.name, file.sha256, text, 0)
    try:
        text = file.content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = file.content.decode("cp1252", "replace")
    return Original(file.name, file.sha256, text, 0)


def _pages(content: bytes) -> int:
    try:
        document = pypdfium2.PdfDocument(BytesIO(content))
    except pypdfium2.PdfiumError:
        return 0
    with document:
        return len(document)


def original_page(ctx: Context, company_id: int, statement_id: int, number: int) -> bytes:
    """A page of a PDF original, drawn as PNG."""
    file = original(ctx, company_id, statement_id)
    if not file.content.startswith(b"%PDF-"):
        raise NotFound("This original has no pages.")
    with pypdfium2.PdfDocument(BytesIO(file.content)) as document:
        if not 1 <= number <= len(document):
            raise NotFound(f"This original has {len(document)} pages.")
        out = BytesIO()
        document[number - 1].render(scale=SCALE).to_pil().save(out, "PNG")
    return out.getvalue()
