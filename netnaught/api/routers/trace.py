"""The opening trace: findings with their history, repairs with preview and undo."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field

from netnaught.api.deps import Ctx, Day, Id, ItemId, Text
from netnaught.core.seal import BankGapCause, DisturbanceKind, Finding, Item, Repair, SealedEntry
from netnaught.services import repairing, tracing
from netnaught.services.repairing import Effect, Wanted
from netnaught.services.tracing import Trace
from netnaught.store.seals import Seal

router = APIRouter(prefix="/api/companies/{company_id}/accounts/{account_id}/trace", tags=["trace"])


class SealedValues(BaseModel):
    """An item's values, as sealed or as they are now. Minor units."""

    date: Day
    amount: int
    reference: str
    payee: str
    memo: str


class AcceptanceOut(BaseModel):
    """Who accepted a change as it stands, and why; `by_entry` takes the shift back."""

    by_entry: int | None
    reason: str
    person: str
    at: str


class FindingOut(BaseModel):
    """One disturbance. `shift`: of the counted total, `net`: what is left of it, `list_shift`: of the list; minor units."""

    reconciliation_id: int
    is_line: bool
    id: int
    kind: DisturbanceKind
    shift: int
    net: int
    list_shift: int
    was: SealedValues | None
    now: SealedValues | None
    deleted: bool
    account_id: int | None
    fields: list[str]
    mended: bool
    acceptance: AcceptanceOut | None
    repairs: list[Repair]


class MendedOut(BaseModel):
    """What was disturbed and stands as sealed again."""

    id: int
    kind: DisturbanceKind
    values: SealedValues
    how: str
    person: str
    at: str


class PeriodOut(BaseModel):
    """A sealed period with its findings; `shift`: their sum."""

    reconciliation_id: int
    closing_date: Day
    sealed_by: str
    sealed_at: str
    number: int
    shift: int
    findings: list[FindingOut]
    mended: list[MendedOut]


class BankGapOut(BaseModel):
    """The bank gap, apart from the stairs, with its cause."""

    amount: int
    cause: BankGapCause
    text: str


class StraightOut(BaseModel):
    """A journal entry made, changed or deleted since the seal: what it posts straight to the control account."""

    journal_entry_id: int
    date: Day
    memo: str
    was: int
    now: int
    deleted: bool


class CameOut(SealedValues):
    """An entry that came since the seal: written, or moved here from another account."""

    entry_id: int


class MovedLedgerOut(BaseModel):
    """The ledger at a sealed date: `sealed` + `changed` + `added` + `straight` = `now`. Minor units."""

    reconciliation_id: int
    closing_date: Day
    sealed: int
    changed: int
    added: int
    straight: int
    now: int
    came: list[CameOut]
    postings: list[StraightOut]


class TraceOut(BaseModel):
    """From the sealed closing to what the books count today: `sealed_closing` + Σ shifts = `counted_today`."""

    sealed_to: Day | None
    sealed_closing: int
    counted_today: int
    gap: int
    open_findings: int
    periods: list[PeriodOut]
    bank_gap: BankGapOut | None
    open_reconciliation: int | None
    ledger: list[MovedLedgerOut]


class WantedIn(BaseModel):
    """One repair of one finding. `other_account_id`: what an accepting entry goes against."""

    reconciliation_id: ItemId
    is_line: bool = False
    id: ItemId
    repair: Repair
    other_account_id: ItemId | None = None
    reason: Text = ""

    def wanted(self) -> Wanted:
        item = Item(self.is_line, self.id)
        return Wanted(self.reconciliation_id, item, self.repair, self.other_account_id, self.reason)


class RepairsIn(BaseModel):
    """Repairs to be done together."""

    repairs: Annotated[list[WantedIn], Field(min_length=1, max_length=500)]


class EffectOut(BaseModel):
    """What a repair does."""

    reconciliation_id: int
    id: int
    repair: Repair
    text: str


class RepairPreviewOut(BaseModel):
    """What repairs would do together; the books gap before and after, minor units."""

    effects: list[EffectOut]
    gap_before: int
    gap_after: int


class Undone(BaseModel):
    """What was taken back."""

    label: str


class TraceEventOut(BaseModel):
    """One thing that happened to an entry; `disturbing`: after it was sealed."""

    at: str
    what: str
    person: str
    reason: str
    disturbing: bool


def _values(values: SealedEntry | None) -> SealedValues | None:
    return SealedValues.model_validate(values, from_attributes=True) if values else None


def _finding(f: Finding) -> FindingOut:
    accepted = f.acceptance
    return FindingOut(
        reconciliation_id=f.reconciliation_id,
        is_line=f.item.is_line,
        id=f.item.id,
        kind=f.kind,
        shift=f.shift,
        net=f.net,
        list_shift=f.list_shift,
        was=_values(f.was),
        now=_values(f.now.values if f.now else None),
        deleted=f.now is None or f.now.deleted,
        account_id=f.now.account_id if f.now else None,
        fields=list(f.fields),
        mended=f.mended,
        acceptance=AcceptanceOut.model_validate(accepted, from_attributes=True) if accepted else None,
        repairs=list(f.repairs),
    )


def _effects(effects: list[Effect] | tuple[Effect, ...]) -> list[EffectOut]:
    return [
        EffectOut(
            reconciliation_id=e.wanted.reconciliation_id, id=e.wanted.item.id, repair=e.wanted.repair, text=e.text
        )
        for e in effects
    ]


def _periods(found: Trace) -> list[PeriodOut]:
    by_period = {period.reconciliation_id: period for period in found.stairs.periods}
    mended: dict[int, list[MendedOut]] = {}
    for m in found.mended:
        values = SealedValues.model_validate(m.values, from_attributes=True)
        out = MendedOut(id=m.entry_id, kind=m.kind, values=values, how=m.how, person=m.person, at=m.at)
        mended.setdefault(m.reconciliation_id, []).append(out)
    periods: list[PeriodOut] = []
    for at, seal in found.seals.items():
        if at in by_period or at in mended:
            findings = by_period[at].findings if at in by_period else ()
            periods.append(_period(found, seal, findings, mended.get(at, [])))
    return periods


def _period(found: Trace, seal: Seal, findings: tuple[Finding, ...], mended: list[MendedOut]) -> PeriodOut:
    return PeriodOut(
        reconciliation_id=seal.reconciliation_id,
        closing_date=found.closings[seal.reconciliation_id],
        sealed_by=seal.sealed_by,
        sealed_at=seal.sealed_at,
        number=seal.number,
        shift=sum(f.net for f in findings),
        findings=[_finding(f) for f in findings],
        mended=mended,
    )


@router.get("", operation_id="trace")
def get_trace(ctx: Ctx, company_id: Id, account_id: Id) -> TraceOut:
    """The whole trace of an account."""
    found = tracing.trace(ctx, company_id, account_id)
    sealed = [found.closings[at] for at in found.seals]
    gap = found.bank_gap
    return TraceOut(
        sealed_to=max(sealed, default=None),
        sealed_closing=found.stairs.sealed_closing,
        counted_today=found.counted_today,
        gap=found.stairs.gap,
        open_findings=len(found.stairs.open),
        periods=_periods(found),
        bank_gap=BankGapOut.model_validate(gap, from_attributes=True) if gap else None,
        open_reconciliation=found.open_reconciliation.id if found.open_reconciliation else None,
        ledger=[
            MovedLedgerOut(
                reconciliation_id=moved.reconciliation_id,
                closing_date=moved.closing_date,
                sealed=moved.shift.sealed,
                changed=moved.shift.changed,
                added=moved.shift.added,
                straight=moved.shift.straight,
                now=moved.shift.now,
                came=[
                    CameOut(
                        entry_id=int(e.id),
                        date=e.date,
                        amount=e.amount,
                        reference=e.reference,
                        payee=e.payee,
                        memo=e.memo,
                    )
                    for e in moved.came
                ],
                postings=[StraightOut.model_validate(p, from_attributes=True) for p in moved.postings],
            )
            for moved in found.ledger
        ],
    )


@router.get("/history/{entry_id}", operation_id="traceHistory")
def get_history(
    ctx: Ctx, company_id: Id, account_id: Id, entry_id: Id, reconciliation: Annotated[int, Query(ge=1, le=2**53)]
) -> list[TraceEventOut]:
    """Everything that happened to an entry, as told for one sealed period."""
    found = tracing.history(ctx, company_id, account_id, entry_id, reconciliation)
    return [TraceEventOut.model_validate(event, from_attributes=True) for event in found]


@router.post("/preview", operation_id="previewRepairs")
def post_preview(ctx: Ctx, company_id: Id, account_id: Id, body: RepairsIn) -> RepairPreviewOut:
    """What repairs would do together; nothing is changed."""
    found = repairing.preview(ctx, company_id, account_id, [w.wanted() for w in body.repairs])
    return RepairPreviewOut(effects=_effects(found.effects), gap_before=found.gap_before, gap_after=found.gap_after)


@router.post("/repair", operation_id="repairFindings")
def post_repair(ctx: Ctx, company_id: Id, account_id: Id, body: RepairsIn) -> list[EffectOut]:
    """Mend findings, all or none, as one step."""
    return _effects(repairing.repair(ctx, company_id, account_id, [w.wanted() for w in body.repairs]))


@router.post("/undo", operation_id="undoRepair")
def post_undo(ctx: Ctx, company_id: Id, account_id: Id) -> Undone:
    """Take back this person's last repair."""
    return Undone(label=repairing.undo(ctx, company_id, account_id))
