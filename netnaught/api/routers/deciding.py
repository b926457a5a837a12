"""What is done on the Spine: matching, ticking, recording, correcting, adjusting, undoing, sealing."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from netnaught.api.deps import Amount, Ctx, Day, Id, ItemId, Text, altering
from netnaught.core.matching import FAR_APART, PassName
from netnaught.services import deciding, recording, reversing, sealing, steps
from netnaught.services.coding import PartGiven
from netnaught.services.deciding import DryRun
from netnaught.services.recording import Recording
from netnaught.services.reversing import Replacement
from netnaught.services.sealing import Sealing

router = APIRouter(prefix="/api/companies/{company_id}/reconciliations/{reconciliation_id}", tags=["deciding"])


class MatchIn(BaseModel):
    """Items to be matched with each other, or washed where one side is empty."""

    lines: Annotated[list[ItemId], Field(max_length=5000)]
    entries: Annotated[list[ItemId], Field(max_length=5000)]
    why: Text = ""


class Pair(BaseModel):
    """A line and an entry of the same amount."""

    line: ItemId
    entry: ItemId


class PairsIn(BaseModel):
    """The answer to a question: which line belongs to which entry."""

    pairs: Annotated[list[Pair], Field(min_length=1, max_length=5000)]


class DecisionsIn(BaseModel):
    """Decisions to be withdrawn; `reason`: for altering a sealed reconciliation, by who has that right."""

    decisions: Annotated[list[ItemId], Field(min_length=1, max_length=5000)]
    reason: Text = ""


class TickIn(BaseModel):
    """Entries to be ticked; `reason`: for altering a sealed reconciliation, by who has that right."""

    entries: Annotated[list[ItemId], Field(min_length=1, max_length=5000)]
    reason: Text = ""


class PartIn(BaseModel):
    """A part of the amount: a fixed amount, a share in hundredths of a percent, or (neither) what is left.

    Tax is in the amount, or with `on_top` comes to it.
    """

    gl_account_id: ItemId
    amount: Amount | None = None
    share: Annotated[int, Field(ge=1, le=10_000)] | None = None
    tax_code_id: ItemId | None = None
    on_top: bool = False
    department_id: ItemId | None = None
    tags: Annotated[list[Text], Field(max_length=10)] = []
    memo: Text = ""

    def given(self) -> PartGiven:
        tags = tuple("-".join(tag.split()) for tag in self.tags if tag)
        values = self.model_dump(exclude={"tags"})
        return PartGiven(**values, tags=tags)


class RecordIn(BaseModel):
    """How statement lines are to be recorded in the books, all of them alike."""

    lines: Annotated[list[ItemId], Field(min_length=1, max_length=500)]
    parts: Annotated[list[PartIn], Field(min_length=1, max_length=60)]
    payee: Text = ""
    memo: Text = ""
    rule_id: ItemId | None = None


class PreviewIn(BaseModel):
    """One line and the parts its amount would go to."""

    line: ItemId
    parts: Annotated[list[PartIn], Field(min_length=1, max_length=60)]


class PreviewPosting(BaseModel):
    """A line that the journal would have beside the control account's. `amount`: minor units, the books' debit."""

    gl_account_id: int
    amount: int
    memo: str


class CorrectIn(BaseModel):
    """The entry whose amount becomes the line's."""

    line: ItemId
    entry: ItemId


class AdjustIn(BaseModel):
    """Lines and entries whose difference is posted as an entry and matched along."""

    lines: Annotated[list[ItemId], Field(min_length=1, max_length=500)]
    entries: Annotated[list[ItemId], Field(min_length=1, max_length=500)]
    other_account_id: ItemId
    payee: Text = ""
    memo: Text = ""


class BankErrorIn(BaseModel):
    """A line that the bank got wrong."""

    line: ItemId
    note: Text = ""


class PassesIn(BaseModel):
    """The passes whose matches are wanted; none named means all."""

    only: list[PassName] = []


class PassMatch(BaseModel):
    """A match that a pass would make."""

    lines: list[int]
    entries: list[int]
    by: PassName
    confidence: int
    why: str
    days: int
    far: bool


class DryRunOut(BaseModel):
    """What running the passes would do, by pass; odd ones (dates far apart) first."""

    counts: dict[str, int]
    matches: list[PassMatch]
    proposals: int
    questions: int
    left_lines: int


class Applied(BaseModel):
    """How many matches were made, and how many lines rules recorded."""

    matches: int
    recorded: int


class Step(BaseModel):
    """What was undone or done again."""

    label: str


class Sealed(BaseModel):
    """The seal's fingerprint; sealed again: the later periods chained to it again, and those opened too."""

    sha256: str
    chained_again: list[Day] = []
    opened_too: list[Day] = []


def sealed_out(done: Sealing) -> Sealed:
    """What sealing did, as answered."""
    return Sealed(sha256=done.sha256, chained_again=list(done.chained_again), opened_too=list(done.opened_too))


@router.post("/match", operation_id="match", status_code=204)
def post_match(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: MatchIn) -> None:
    """Match items, allowed only at zero."""
    deciding.match(ctx, company_id, reconciliation_id, body.lines, body.entries, body.why)


@router.post("/pair", operation_id="pair", status_code=204)
def post_pair(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: PairsIn) -> None:
    """Match pairs of equal amount, as one step."""
    deciding.match_pairs(ctx, company_id, reconciliation_id, [(p.line, p.entry) for p in body.pairs])


@router.post("/unmatch", operation_id="unmatch", status_code=204)
def post_unmatch(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: DecisionsIn) -> None:
    """Withdraw decisions: the items are open again."""
    deciding.withdraw(altering(ctx, body.reason), company_id, reconciliation_id, body.decisions)


@router.post("/tick", operation_id="tick", status_code=204)
def post_tick(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: TickIn) -> None:
    """Tick entries where the statement has no lines."""
    deciding.tick(altering(ctx, body.reason), company_id, reconciliation_id, body.entries)


def _dry_run(run: DryRun) -> DryRunOut:
    matches = [
        PassMatch(
            lines=[int(item) for item in m.lines],
            entries=[int(item) for item in m.entries],
            by=m.by,
            confidence=m.confidence,
            why=m.why,
            days=m.days,
            far=abs(m.days) >= FAR_APART,
        )
        for m in run.outcome.matches
    ]
    matches += [
        PassMatch(
            lines=[int(item) for item in w.ids] if w.on_bank else [],
            entries=[] if w.on_bank else [int(item) for item in w.ids],
            by=PassName.WASHES,
            confidence=w.confidence,
            why=w.why,
            days=0,
            far=False,
        )
        for w in run.outcome.washes
    ]
    return DryRunOut(
        counts={name.value: number for name, number in run.outcome.counts.items()},
        matches=sorted(matches, key=lambda m: not m.far),
        proposals=len(run.outcome.proposals),
        questions=len(run.outcome.questions),
        left_lines=len(run.outcome.left.lines),
    )


@router.get("/passes", operation_id="dryRun")
def get_dry_run(ctx: Ctx, company_id: Id, reconciliation_id: Id) -> DryRunOut:
    """What running the passes would do; nothing is changed."""
    return _dry_run(deciding.dry_run(ctx, company_id, reconciliation_id))


@router.post("/passes", operation_id="runPasses")
def post_passes(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: PassesIn) -> Applied:
    """Run the passes and keep their matches, as one step."""
    made, recorded = recording.run_passes(ctx, company_id, reconciliation_id, frozenset(body.only))
    return Applied(matches=made, recorded=recorded)


@router.post("/record", operation_id="record", status_code=204)
def post_record(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: RecordIn) -> None:
    """Record a line the books lack, and match it, in one step."""
    how = Recording(tuple(part.given() for part in body.parts), body.payee, body.memo, body.rule_id)
    recording.record_lines(ctx, company_id, reconciliation_id, body.lines, how)


@router.post("/record/preview", operation_id="previewRecord")
def post_preview(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: PreviewIn) -> list[PreviewPosting]:
    """What recording a line would post beside the control account; nothing is changed."""
    parts = [part.given() for part in body.parts]
    found = recording.preview(ctx, company_id, reconciliation_id, body.line, parts)
    return [PreviewPosting(gl_account_id=p.gl_account_id, amount=-p.amount, memo=p.memo) for p in found]


@router.post("/correct", operation_id="correct", status_code=204)
def post_correct(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: CorrectIn) -> None:
    """Correct an entry to the bank's amount, and match it, in one step."""
    recording.correct_to_line(ctx, company_id, reconciliation_id, body.line, body.entry)


class GroupIn(BaseModel):
    """A near group, and the one entry of it that is wrong by what the group is off."""

    lines: Annotated[list[ItemId], Field(min_length=1, max_length=500)]
    entries: Annotated[list[ItemId], Field(min_length=1, max_length=500)]
    entry: ItemId


@router.post("/correct-group", operation_id="correctGroup", status_code=204)
def post_correct_group(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: GroupIn) -> None:
    """Correct one entry of a near group by what the group is off, and match all of it."""
    lines, entries = tuple(body.lines), tuple(body.entries)
    recording.correct_in_group(ctx, company_id, reconciliation_id, lines, entries, body.entry)


class DateIn(BaseModel):
    """An entry and the date it should have."""

    entry: ItemId
    date: Day


@router.post("/correct-date", operation_id="correctDate", status_code=204)
def post_correct_date(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: DateIn) -> None:
    """Give an entry another date; what it is matched with stays matched."""
    recording.correct_date(ctx, company_id, reconciliation_id, body.entry, body.date)


class ReverseIn(BaseModel):
    """An entry to be taken back on a day, and why; `new_reference`: with a new check in its place, dated the same.

    `against`: it is written off to this account.
    """

    entry: ItemId
    date: Day
    reason: Annotated[Text, Field(min_length=1, max_length=120)]
    new_reference: Text = ""
    against: ItemId | None = None


@router.post("/reverse", operation_id="reverseEntry", status_code=204)
def post_reverse(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: ReverseIn) -> None:
    """Reverse an entry that is not at the bank, or void and reissue it, and wash the two, in one step."""
    instead = Replacement(body.date, body.new_reference) if body.new_reference else None
    reversing.reverse(ctx, company_id, reconciliation_id, body.entry, body.date, body.reason, instead, body.against)


class LineIn(BaseModel):
    """One statement line."""

    line: ItemId


@router.post("/bank-correction", operation_id="bankCorrection", status_code=204)
def post_bank_correction(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: LineIn) -> None:
    """Resolve a line as the bank's correction of an error accepted before."""
    deciding.bank_correction(ctx, company_id, reconciliation_id, body.line)


@router.post("/adjust", operation_id="postAdjustment", status_code=204)
def post_adjust(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: AdjustIn) -> None:
    """Post the difference between lines and entries, and match all of it, in one step."""
    recording.post_adjustment(
        ctx,
        company_id,
        reconciliation_id,
        tuple(body.lines),
        tuple(body.entries),
        other_account_id=body.other_account_id,
        payee=body.payee,
        memo=body.memo,
    )


@router.post("/bank-error", operation_id="bankError", status_code=204)
def post_bank_error(ctx: Ctx, company_id: Id, reconciliation_id: Id, body: BankErrorIn) -> None:
    """Accept a line as the bank's error, open until the bank corrects it."""
    deciding.bank_error(ctx, company_id, reconciliation_id, body.line, body.note)


@router.post("/undo", operation_id="undo")
def post_undo(ctx: Ctx, company_id: Id, reconciliation_id: Id) -> Step:
    """Take back this person's last step."""
    return Step(label=steps.undo(ctx, company_id, reconciliation_id))


@router.post("/redo", operation_id="redo")
def post_redo(ctx: Ctx, company_id: Id, reconciliation_id: Id) -> Step:
    """Do again what was last undone."""
    return Step(label=steps.redo(ctx, company_id, reconciliation_id))


@router.post("/seal", operation_id="seal")
def post_seal(ctx: Ctx, company_id: Id, reconciliation_id: Id) -> Sealed:
    """Seal at zero; refused with every reason otherwise."""
    return sealed_out(sealing.seal(ctx, company_id, reconciliation_id))
