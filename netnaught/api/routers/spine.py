"""The Spine: its view, and every decision made in it."""

from __future__ import annotations

from dataclasses import dataclass

from fastapi import APIRouter
from pydantic import BaseModel

from netnaught.api.deps import Ctx, Day, Id
from netnaught.api.routers.board import AccountOut, RingOut
from netnaught.api.routers.statements import StatementOut
from netnaught.core.alignment import Row, RowKind
from netnaught.core.clues import ClueKind
from netnaught.core.completion import BlockerKind
from netnaught.core.matching import FAR_APART, Cause, ProposalKind
from netnaught.core.outstanding import OutstandingKind
from netnaught.core.reconciliation import DecisionKind
from netnaught.core.seal import Item
from netnaught.core.settling import ItemKind
from netnaught.core.statement import Side
from netnaught.services import spine
from netnaught.services.spine import SpineView
from netnaught.store.audit import AuditEvent
from netnaught.store.ledger import PostedLine
from netnaught.store.reconciliations import Reconciliation, StoredDecision
from netnaught.store.seals import Seal

router = APIRouter(prefix="/api/companies/{company_id}", tags=["spine"])
ROOM = "/reconciliations/{reconciliation_id}"


class SideOut(BaseModel):
    """Money in one direction: signed total (minor units) and number."""

    total: int
    count: int

    @classmethod
    def of_side(cls, side: Side) -> SideOut:
        return cls(total=side.total, count=side.lines)


class StripOut(BaseModel):
    """The naught strip. Money in minor units; `difference` is null while no closing is known."""

    opening: int
    closing: int | None
    came_in: SideOut
    went_out: SideOut
    counted_so_far: int
    difference: int | None
    difference_in: int
    difference_out: int
    rest: int | None
    residual: int | None
    lines_total: int
    lines_resolved: int
    outstanding_in: SideOut
    outstanding_out: SideOut
    late: int
    bank_errors: int
    books_gap: int
    unfinished: int
    adjusted_balance: int | None
    book_start: int
    book_in: SideOut
    book_out: SideOut
    book_balance: int
    book_off: int
    gl_balance: int | None
    ticked_in: SideOut
    ticked_out: SideOut
    total_in: int | None
    total_out: int | None
    ticking: bool


@dataclass(frozen=True, slots=True)
class LineOut:
    """A statement line."""

    id: int
    statement_id: int
    date: Day
    amount: int
    reference: str
    description: str
    kind: str


@dataclass(frozen=True, slots=True)
class EntryOut:
    """A book entry. `age` and `stale` (what it is past, such as "6 months") are given while it is not at the bank."""

    id: int
    date: Day
    amount: int
    reference: str
    payee: str
    memo: str
    age: int | None
    age_kind: OutstandingKind | None
    stale: str


@dataclass(frozen=True, slots=True)
class DecisionOut:
    """A decision: by which pass or by whom, why, how sure (percent)."""

    id: int
    kind: DecisionKind
    by: str | None
    confidence: int | None
    why: str
    made_by: str
    made_at: str

    @classmethod
    def of_decision(cls, d: StoredDecision) -> DecisionOut:
        return cls(
            id=d.id,
            kind=d.decision.kind,
            by=d.by,
            confidence=d.confidence,
            why=d.why,
            made_by=d.made_by,
            made_at=d.made_at,
        )


class ProposalOut(BaseModel):
    """An offer. `difference`: bank − books, minor units."""

    kind: ProposalKind
    difference: int
    confidence: int
    why: str
    cause: Cause


class ShareOut(BaseModel):
    """A part of a coding: an account and its share in hundredths of a percent."""

    gl_account_id: int
    share: int
    tax_code_id: int | None
    department_id: int | None
    tags: list[str]


class SuggestionOut(BaseModel):
    """How a line would be coded, and why: `shares` in hundredths of a percent; `conflict`: rules that say otherwise."""

    account_id: int
    account_name: str
    payee: str
    memo: str
    times: int
    why: str
    rule_id: int | None
    conflict: list[str]
    shares: list[ShareOut]


class SettlesOut(BaseModel):
    """Open items that a line seems to settle: how many, of which kind, and why."""

    number: int
    kind: ItemKind
    why: str


@dataclass(frozen=True, slots=True)
class RowOut:
    """A row of the Spine; `days`: bank date − book date."""

    key: str
    kind: RowKind
    on: Day
    lines: list[int]
    entries: list[int]
    days: int | None
    far: bool
    changed: bool
    decision: DecisionOut | None = None
    proposal: ProposalOut | None = None
    question: str | None = None
    suggestion: SuggestionOut | None = None
    settles: SettlesOut | None = None


class BlockerOut(BaseModel):
    """What stands in the way of sealing."""

    kind: BlockerKind
    text: str


class SealOut(BaseModel):
    """The seal of a reconciliation."""

    number: int
    sha256: str
    sealed_by: str
    sealed_at: str

    @classmethod
    def of_seal(cls, seal: Seal) -> SealOut:
        return cls(number=seal.number, sha256=seal.sha256, sealed_by=seal.sealed_by, sealed_at=seal.sealed_at)


class Neighbour(BaseModel):
    """The reconciliation before or after."""

    id: int
    closing_date: Day
    sealed: bool


class SpineOut(BaseModel):
    """Everything the Spine shows."""

    id: int
    change: int
    closing_date: Day
    account: AccountOut
    company_id: int
    company_name: str
    ring: RingOut
    stage: str
    prepared_by_me: bool
    notes_open: int
    seal: SealOut | None
    strip: StripOut
    blockers: list[BlockerOut]
    clues: list[ClueOut]
    statements: list[StatementOut]
    lines: list[LineOut]
    entries: list[EntryOut]
    rows: list[RowOut]
    undo: str | None
    redo: str | None
    before: Neighbour | None
    after: Neighbour | None


class Change(BaseModel):
    """Goes up with everything done in the account."""

    change: int


class ClueOut(BaseModel):
    """One explanation of the residual: the items to look at, and its part of the amount."""

    kind: ClueKind
    lines: list[int]
    entries: list[int]
    explains: int
    text: str


class JournalLineOut(BaseModel):
    """A line of the journal entry behind a book entry."""

    account: str
    name: str
    amount: int

    @classmethod
    def of_line(cls, line: PostedLine) -> JournalLineOut:
        return cls(account=line.account.number, name=line.account.name, amount=line.amount)


class HistoryOut(BaseModel):
    """One event in the life of an entry."""

    at: str
    user: str
    what: str
    before: dict[str, str | int | None] | None
    after: dict[str, str | int | None] | None

    @classmethod
    def of_event(cls, event: AuditEvent) -> HistoryOut:
        keep = ("date", "amount", "reference", "payee", "memo")

        def values(given: dict[str, object] | None) -> dict[str, str | int | None] | None:
            if given is None:
                return None
            return {key: v for key in keep if isinstance(v := given.get(key), str | int)}

        return cls(
            at=event.at, user=event.user, what=event.what, before=values(event.before), after=values(event.after)
        )


class LineDetailOut(BaseModel):
    """What stands behind a statement line."""

    id: int
    bank_id: str | None
    date: Day
    value_date: Day | None
    amount: int
    reference: str
    description: str
    kind: str
    position: int
    statement: StatementOut
    decision: DecisionOut | None


class LinkOut(BaseModel):
    """`entry_id` reverses or replaces `of_id`, and why."""

    entry_id: int
    of_id: int
    kind: str
    reason: str


class SettledOut(BaseModel):
    """What an entry settled of an open item, and what is still owed of it."""

    number: str
    party: str
    amount: int
    open: int


class EntryDetailOut(BaseModel):
    """What stands behind a book entry."""

    id: int
    date: Day
    amount: int
    reference: str
    payee: str
    memo: str
    origin: str
    external_id: str | None
    revision: int
    deleted: bool
    other_account_id: int | None
    journal_id: int | None
    journal: list[JournalLineOut]
    decision: DecisionOut | None
    settled: list[SettledOut]
    links: list[LinkOut]
    history: list[HistoryOut]


def _changed(row: Row, view: SpineView) -> bool:
    """Whether something in a sealed row, also what is gone from it, is no longer as it was sealed."""
    if not view.disturbed:
        return False
    of_row = row.decision.entries if row.decision else row.entries
    items = {Item(False, int(i)) for i in of_row} | {Item(True, int(i)) for i in row.lines}
    return bool(items & view.disturbed)


def _row(row: Row, view: SpineView, decisions: dict[int, StoredDecision]) -> RowOut:
    lines, entries = [int(item) for item in row.lines], [int(item) for item in row.entries]
    made = decisions[int(row.decision.id)] if row.decision else None
    offer = row.proposal
    suggestion = view.suggestions.get(lines[0]) if row.kind is RowKind.LINE else None
    settles = view.settles.get(lines[0]) if row.kind is RowKind.LINE else None
    return RowOut(
        key=f"l{lines[0]}" if lines else f"e{entries[0]}",
        kind=row.kind,
        on=row.on,
        lines=lines,
        entries=entries,
        days=row.days,
        far=row.days is not None and abs(row.days) >= FAR_APART,
        changed=_changed(row, view),
        decision=DecisionOut.of_decision(made) if made else None,
        proposal=ProposalOut(
            kind=offer.kind,
            difference=offer.difference,
            confidence=offer.confidence,
            why=offer.why,
            cause=offer.cause,
        )
        if offer
        else None,
        question=row.question.question if row.question else None,
        suggestion=SuggestionOut(
            account_id=suggestion.account_id,
            account_name=suggestion.account_name,
            payee=suggestion.payee,
            memo=suggestion.memo,
            times=suggestion.times,
            why=suggestion.why,
            rule_id=suggestion.rule_id,
            conflict=list(suggestion.conflict),
            shares=[
                ShareOut(
                    gl_account_id=s.gl_account_id,
                    share=s.share,
                    tax_code_id=s.tax_code_id,
                    department_id=s.department_id,
                    tags=list(s.tags),
                )
                for s in suggestion.shares
            ],
        )
        if suggestion
        else None,
        settles=SettlesOut(number=len(settles.items), kind=settles.items[0].kind, why=settles.why) if settles else None,
    )


def _strip(view: SpineView) -> StripOut:
    now, books = view.bench.standing, view.bench.book_footing
    return StripOut(
        opening=now.opening,
        closing=now.closing,
        came_in=SideOut.of_side(now.came_in),
        went_out=SideOut.of_side(now.went_out),
        counted_so_far=now.counted_so_far,
        difference=now.difference,
        difference_in=now.unresolved_in.total,
        difference_out=now.unresolved_out.total,
        rest=now.rest,
        residual=view.residual,
        lines_total=now.lines_total,
        lines_resolved=now.lines_resolved,
        outstanding_in=SideOut.of_side(now.outstanding_in),
        outstanding_out=SideOut.of_side(now.outstanding_out),
        late=now.late,
        bank_errors=now.bank_errors,
        books_gap=now.books_gap,
        unfinished=now.unfinished,
        adjusted_balance=now.adjusted_balance,
        book_start=books.start,
        book_in=SideOut.of_side(books.came_in),
        book_out=SideOut.of_side(books.went_out),
        book_balance=books.end,
        book_off=books.off,
        gl_balance=view.bench.gl_balance,
        ticked_in=SideOut.of_side(now.ticked_in),
        ticked_out=SideOut.of_side(now.ticked_out),
        total_in=now.totals.total_in,
        total_out=now.totals.total_out,
        ticking=now.ticking,
    )


def _neighbour(found: Reconciliation | None) -> Neighbour | None:
    return Neighbour(id=found.id, closing_date=found.closing_date, sealed=found.sealed) if found else None


@router.get(ROOM + "/spine", operation_id="spine")
def get_spine(ctx: Ctx, company_id: Id, reconciliation_id: Id) -> SpineOut:
    """The Spine of a reconciliation."""
    view = spine.view(ctx, company_id, reconciliation_id)
    bench = view.bench
    decisions = {d.id: d for d in bench.decisions}
    entries: list[EntryOut] = []
    shown = {item for row in view.rows for item in row.entries}
    for e in bench.work.entries:
        if e.id not in shown:
            continue
        age = view.ages.get(int(e.id))
        entries.append(
            EntryOut(
                id=int(e.id),
                date=e.date,
                amount=e.amount,
                reference=e.reference,
                payee=e.payee,
                memo=e.memo,
                age=age.days if age else None,
                age_kind=age.kind if age else None,
                stale=age.stale if age else "",
            )
        )
    lines = [
        LineOut(
            id=x.id,
            statement_id=x.statement_id,
            date=x.line.date,
            amount=x.line.amount,
            reference=x.line.reference,
            description=x.line.description,
            kind=x.line.kind,
        )
        for x in bench.lines
    ]
    at = bench.desk.reconciliation
    return SpineOut(
        id=at.id,
        change=at.change,
        closing_date=at.closing_date,
        account=AccountOut.of_account(bench.desk.account),
        company_id=bench.desk.company.id,
        company_name=bench.desk.company.name,
        ring=RingOut.of_ring(view.ring),
        stage=at.stage,
        prepared_by_me=at.prepared_by == ctx.user.id,
        notes_open=view.notes_open,
        seal=SealOut.of_seal(view.seal) if view.seal else None,
        strip=_strip(view),
        blockers=[] if at.sealed else [BlockerOut(kind=b.kind, text=b.text) for b in bench.blockers()],
        clues=[
            ClueOut(
                kind=c.kind,
                lines=[int(i) for i in c.lines],
                entries=[int(i) for i in c.entries],
                explains=c.explains,
                text=c.text,
            )
            for c in view.clues
        ],
        statements=[StatementOut.of_statement(s) for s in bench.statements],
        lines=lines,
        entries=entries,
        rows=[_row(row, view, decisions) for row in view.rows],
        undo=view.undo,
        redo=view.redo,
        before=_neighbour(view.before),
        after=_neighbour(view.after),
    )


@router.get(ROOM + "/change", operation_id="change")
def get_change(ctx: Ctx, company_id: Id, reconciliation_id: Id) -> Change:
    """Whether somebody has done something: cheap to ask for often."""
    return Change(change=spine.change_of(ctx, company_id, reconciliation_id))


@router.get("/lines/{line_id}", operation_id="line")
def get_line(ctx: Ctx, company_id: Id, line_id: Id) -> LineDetailOut:
    """What stands behind a statement line."""
    found = spine.line_detail(ctx, company_id, line_id)
    line = found.stored.line
    return LineDetailOut(
        id=found.stored.id,
        bank_id=found.stored.bank_id,
        date=line.date,
        value_date=line.value_date,
        amount=line.amount,
        reference=line.reference,
        description=line.description,
        kind=line.kind,
        position=found.stored.position,
        statement=StatementOut.of_statement(found.statement),
        decision=DecisionOut.of_decision(found.decision) if found.decision else None,
    )


@router.get("/entries/{entry_id}", operation_id="entry")
def get_entry(ctx: Ctx, company_id: Id, entry_id: Id) -> EntryDetailOut:
    """What stands behind a book entry."""
    found = spine.entry_detail(ctx, company_id, entry_id)
    stored, entry = found.stored, found.stored.entry
    return EntryDetailOut(
        id=stored.id,
        date=entry.date,
        amount=entry.amount,
        reference=entry.reference,
        payee=entry.payee,
        memo=entry.memo,
        origin=stored.origin,
        external_id=stored.external_id,
        revision=stored.revision,
        deleted=stored.deleted_at is not None,
        links=[LinkOut.model_validate(x, from_attributes=True) for x in found.links],
        settled=[SettledOut.model_validate(x, from_attributes=True) for x in found.settled],
        other_account_id=found.other_account_id,
        journal_id=found.journal_id,
        journal=[JournalLineOut.of_line(line) for line in found.journal],
        decision=DecisionOut.of_decision(found.decision) if found.decision else None,
        history=[HistoryOut.of_event(event) for event in found.history],
    )
