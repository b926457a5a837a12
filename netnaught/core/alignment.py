"""The Spine's rows: each one match, one unresolved line, one entry not at the bank, or one offer.

Aligning two lists is part of the job, like the equations: it decides what a person sees as
one thing. Every line and entry of the work stands in exactly one row (a property test); entries of a
later period that are cleared there do not belong to the work.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from netnaught.core.matching import (
    DEFAULT_PASSES,
    NOTHING_TAUGHT,
    OpenItems,
    Outcome,
    Pass,
    Proposal,
    ProposalKind,
    Question,
    Taught,
    run_passes,
)
from netnaught.core.reconciliation import Decision, DecisionKind, Standing, Work
from netnaught.core.statement import ItemId, StatementLine


class RowKind(StrEnum):
    """What a row of the Spine is."""

    MATCHED = "matched"
    WASH = "wash"
    TICKED = "ticked"
    BANK_ERROR = "bank error"
    LINE = "line"
    PROPOSAL = "proposal"
    QUESTION = "question"
    OUTSTANDING = "outstanding"
    LATER = "later"


_OF_DECISION = {
    DecisionKind.MATCH: RowKind.MATCHED,
    DecisionKind.WASH: RowKind.WASH,
    DecisionKind.TICK: RowKind.TICKED,
    DecisionKind.BANK_ERROR: RowKind.BANK_ERROR,
    DecisionKind.BANK_CORRECTION: RowKind.BANK_ERROR,
}
_ALONE_IN_BOOKS = (RowKind.OUTSTANDING, RowKind.LATER)


@dataclass(frozen=True, slots=True)
class Row:
    """One row. `on` places it: the bank's date where there is a line, else the book date.

    `days`: bank date − book date, None where one side is missing.
    """

    kind: RowKind
    on: date
    lines: tuple[ItemId, ...]
    entries: tuple[ItemId, ...]
    decision: Decision | None = None
    proposal: Proposal | None = None
    question: Question | None = None
    days: int | None = None


def residual(now: Standing, rows: tuple[Row, ...], work: Work) -> int | None:
    """The difference as it would be if every proposal were taken; minor units."""
    if now.difference is None:
        return None
    offered = {item for row in rows if row.kind is RowKind.PROPOSAL for item in row.lines}
    return now.difference - sum(line.amount for line in work.lines if line.id in offered)


def open_items(work: Work, taught: Taught = NOTHING_TAUGHT) -> OpenItems:
    """What no decision holds and no later period cleared, carried items included."""
    lines = {item for d in work.decisions for item in d.lines}
    entries = {item for d in work.decisions for item in d.entries} | set(work.cleared_later)
    return OpenItems(
        tuple(line for line in work.lines if line.id not in lines),
        tuple(entry for entry in work.entries if entry.id not in entries),
        OpenItems(tuple(work.lines), tuple(work.entries)),
        taught,
    )


def _corrections(errors: Sequence[StatementLine], lines: Sequence[StatementLine]) -> Iterator[Proposal]:
    """Lines that are the exact opposite of an open bank error and came no earlier, each error once."""
    still = list(errors)
    for line in lines:
        error = next((e for e in still if e.amount == -line.amount and e.date <= line.date), None)
        if error is not None:
            still.remove(error)
            why = f"the bank takes back what it posted in error on {error.date}: {error.description}"
            yield Proposal((line.id,), (), ProposalKind.BANK_CORRECTION, 0, 90, why)


def align(
    work: Work,
    passes: Sequence[Pass] = DEFAULT_PASSES,
    taught: Taught = NOTHING_TAUGHT,
    *,
    finished: bool = False,
    errors: Sequence[StatementLine] = (),
) -> tuple[Row, ...]:
    """Rows in the order of the work: by date, entries not at the bank after everything else.

    `finished`: nothing is offered any more, and entries dated after the end are left out.
    `errors`: lines accepted as the bank's errors and not corrected yet; a line that takes one back is offered so.
    """
    line_dates = {line.id: line.date for line in work.lines}
    entry_dates = {entry.id: entry.date for entry in work.entries}
    place = {line.id: number for number, line in enumerate(work.lines)}

    def placed(
        kind: RowKind,
        lines: tuple[ItemId, ...],
        entries: tuple[ItemId, ...],
        decision: Decision | None = None,
        proposal: Proposal | None = None,
        question: Question | None = None,
    ) -> Row:
        bank = min([line_dates[item] for item in lines], default=None)
        books = min([entry_dates[item] for item in entries], default=None)
        days = (bank - books).days if bank and books else None
        return Row(kind, bank or books or work.end, lines, entries, decision, proposal, question, days)

    rows: list[Row] = []
    for d in work.decisions:
        # An entry that was removed or moved away since leaves its place empty: the trace tells of it.
        here = tuple(item for item in d.entries if item in entry_dates)
        if d.lines or here:
            rows.append(placed(_OF_DECISION[d.kind], d.lines, here, decision=d))
    decided_entries = {item for d in work.decisions for item in d.entries}
    items = open_items(work, taught)
    found = Outcome((), (), (), (), items) if finished else run_passes(items, passes)
    ready = (*map(Proposal.of_match, found.matches), *map(Proposal.of_wash, found.washes))
    taken = {item for p in (*ready, *found.proposals) for item in p.lines}
    taken |= {item for question in found.questions for item in question.lines}
    backed_out = () if finished else _corrections(errors, [x for x in items.lines if x.id not in taken])
    proposals = (*ready, *found.proposals, *backed_out)
    rows += [placed(RowKind.PROPOSAL, p.lines, p.entries, proposal=p) for p in proposals]
    rows += [placed(RowKind.QUESTION, q.lines, q.entries, question=q) for q in found.questions]
    shown_lines = {item for row in rows for item in row.lines}
    shown_entries = {item for row in rows for item in row.entries}
    rows += [placed(RowKind.LINE, (line.id,), ()) for line in items.lines if line.id not in shown_lines]
    for entry in work.entries:
        if entry.id in decided_entries or (entry.id in work.cleared_later and entry.date > work.end):
            continue
        if entry.id not in shown_entries and not (finished and entry.date > work.end):
            kind = RowKind.OUTSTANDING if entry.date <= work.end else RowKind.LATER
            rows.append(placed(kind, (), (entry.id,)))

    def order(row: Row) -> tuple[int, date, int, str]:
        last = _ALONE_IN_BOOKS.index(row.kind) + 1 if row.kind in _ALONE_IN_BOOKS else 0
        first_line = place[row.lines[0]] if row.lines else len(place)
        return last, row.on, first_line, str(row.entries[0]).zfill(20) if row.entries else ""

    return tuple(sorted(rows, key=order))
