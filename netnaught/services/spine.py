"""The Spine: one reconciliation as a person sees it, and what stands behind a single line or entry."""

from __future__ import annotations

from dataclasses import dataclass

from netnaught.core.alignment import Row, RowKind, align, residual
from netnaught.core.clues import Clue, Puzzle, find_clues
from netnaught.core.outstanding import Age, age
from netnaught.core.ring import Ring, ring_of, sealed_ring
from netnaught.core.seal import Finding, Item
from netnaught.core.settling import Proposal as Settles
from netnaught.core.statement import NoticeKind, StatementLine
from netnaught.services import entries
from netnaught.services.access import Context, Desk, account_for, company_for, reconciliation_for
from netnaught.services.coding import Suggestion, suggestions
from netnaught.services.errors import NotFound
from netnaught.services.open_items import hints
from netnaught.services.passes import passes_of
from netnaught.services.teaching import taught_of
from netnaught.services.tracing import findings_of
from netnaught.services.workbench import Bench, chain_of, load_bench
from netnaught.store import audit, bank_book, ledger, open_items, reconciliations, review, seals, statements
from netnaught.store.audit import AuditEvent
from netnaught.store.bank_book import EntryLink, StoredEntry
from netnaught.store.ledger import PostedLine
from netnaught.store.open_items import Settled
from netnaught.store.reconciliations import Reconciliation, StoredDecision
from netnaught.store.seals import Seal
from netnaught.store.statements import StoredLine, StoredStatement


@dataclass(frozen=True, slots=True)
class SpineView:
    """Everything the Spine shows. `ages`: by entry id, of entries not at the bank; `disturbed`: changed since sealing."""

    bench: Bench
    rows: tuple[Row, ...]
    ages: dict[int, Age]
    suggestions: dict[int, Suggestion]
    settles: dict[int, Settles]
    residual: int | None
    clues: tuple[Clue, ...]
    ring: Ring
    seal: Seal | None
    undo: str | None
    redo: str | None
    before: Reconciliation | None
    after: Reconciliation | None
    notes_open: int = 0
    disturbed: frozenset[Item] = frozenset()


@dataclass(frozen=True, slots=True)
class LineDetail:
    """A statement line: its record, its decision, and where it came from."""

    stored: StoredLine
    statement: StoredStatement
    decision: StoredDecision | None


@dataclass(frozen=True, slots=True)
class EntryDetail:
    """A book entry: its journal, its decision, and its history, oldest first."""

    stored: StoredEntry
    other_account_id: int | None
    journal_id: int | None
    journal: list[PostedLine]
    decision: StoredDecision | None
    history: list[AuditEvent]
    settled: list[Settled]
    links: list[EntryLink]


def view(ctx: Context, company_id: int, reconciliation_id: int) -> SpineView:
    """Load the Spine."""
    desk = reconciliation_for(ctx, company_id, reconciliation_id)
    bench = load_bench(ctx, desk)
    passes, taught = passes_of(ctx.db, desk.account), taught_of(ctx.db, desk.account)
    rows = align(bench.work, passes, taught, finished=desk.reconciliation.sealed, errors=_open_errors(ctx, desk))
    decided = {item for d in bench.work.decisions for item in d.entries}
    ages = {int(e.id): age(e, bench.work.end, desk.company.stale) for e in bench.work.entries if e.id not in decided}
    chain = chain_of(ctx.db, desk.account)
    at = desk.reconciliation
    seal = seals.seal_of(ctx.db, company_id, at.id) if at.sealed else None
    here: list[Finding] = []
    if at.sealed:
        here = findings_of(ctx.db, desk.account, chain).get(at.id, [])
        ring = sealed_ring(any(not found.mended for found in here), bool(here))
    else:
        ring = ring_of(bench.standing, at.stage)
    undo = reconciliations.next_step(ctx.db, company_id, at.id, ctx.user.id, "done")
    redo = reconciliations.next_step(ctx.db, company_id, at.id, ctx.user.id, "undone")
    left = residual(bench.standing, rows, bench.work)
    unmatched = {item for row in rows if row.kind is RowKind.LINE for item in row.lines}
    alone = tuple(line for line in bench.lines if line.id in unmatched and not at.sealed)
    return SpineView(
        bench,
        rows,
        ages,
        suggestions(ctx, desk, alone),
        hints(ctx, desk, alone),
        left,
        () if at.sealed or left is None else _clues(bench, rows, left),
        ring,
        seal,
        undo.label if undo and not at.sealed else None,
        redo.label if redo and not at.sealed else None,
        next((r for r in reversed(chain.reconciliations) if r.closing_date < at.closing_date), None),
        next((r for r in chain.reconciliations if r.closing_date > at.closing_date), None),
        sum(note.closed_at is None for note in review.notes(ctx.db, company_id, at.id)),
        frozenset(found.item for found in here if not found.mended),
    )


def _open_errors(ctx: Context, desk: Desk) -> list[StatementLine]:
    at = desk.reconciliation
    found = reconciliations.open_errors(ctx.db, desk.company.id, desk.account.id, at.closing_date)
    return [error.line for error in found]


def _clues(bench: Bench, rows: tuple[Row, ...], left: int) -> tuple[Clue, ...]:
    """Explanations of the residual; in tick lists of the difference itself."""
    now, work = bench.standing, bench.work
    alone = {item for row in rows if row.kind is RowKind.LINE for item in row.lines}
    counted = {item for d in work.decisions for item in d.entries}
    off = {kind: sum(n.amount for n in bench.notices if n.kind is kind) for kind in NoticeKind}
    totals = now.totals
    puzzle = Puzzle(
        amount=left,
        lines=tuple(line for line in work.lines if line.id in alone),
        open=tuple(e for e in work.entries if e.id not in counted and e.date <= work.end),
        counted=tuple(e for e in work.entries if e.id in counted),
        off=off[NoticeKind.NOT_FOOTING],
        bank_gap=off[NoticeKind.BANK_GAP],
        side_off=(
            None if totals.total_in is None else totals.total_in - now.ticked_in.total,
            None if totals.total_out is None else totals.total_out - now.ticked_out.total,
        )
        if now.ticking
        else (None, None),
    )
    return find_clues(puzzle, bench.say)


def change_of(ctx: Context, company_id: int, reconciliation_id: int) -> int:
    """A number that goes up with everything done in the account: cheap to ask for often."""
    return reconciliation_for(ctx, company_id, reconciliation_id).reconciliation.change


def line_detail(ctx: Context, company_id: int, line_id: int) -> LineDetail:
    """What stands behind a statement line."""
    company_for(ctx, company_id)
    stored = statements.stored_line(ctx.db, company_id, line_id)
    found = statements.statement(ctx.db, company_id, stored.statement_id) if stored else None
    if stored is None or found is None:
        raise NotFound("There is no such statement line.")
    account_for(ctx, company_id, found.bank_account_id)
    return LineDetail(stored, found, reconciliations.decision_on(ctx.db, company_id, line=line_id))


def entry_detail(ctx: Context, company_id: int, entry_id: int) -> EntryDetail:
    """What stands behind a book entry."""
    company_for(ctx, company_id)
    stored = bank_book.stored_entry(ctx.db, company_id, entry_id)
    if stored is None:
        raise NotFound("There is no such entry.")
    account_for(ctx, company_id, stored.bank_account_id)
    journal_id = ledger.journal_of_line(ctx.db, company_id, stored.journal_line_id) if stored.journal_line_id else None
    return EntryDetail(
        stored,
        entries.values_of(ctx, stored, company_id).other_account_id,
        journal_id,
        ledger.journal_lines(ctx.db, company_id, journal_id) if journal_id else [],
        reconciliations.decision_on(ctx.db, company_id, entry=entry_id),
        audit.events_of(ctx.db, company_id, "book_entry", entry_id),
        open_items.settled_by(ctx.db, company_id, entry_id),
        bank_book.links_of(ctx.db, company_id, entry_id),
    )
