"""What lingers: everything of an account that is not at the bank, with age and rule, rolled forward from the last seal."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from netnaught.core.ledger import BookEntry
from netnaught.core.outstanding import Age, AgeStep, age, ageing
from netnaught.core.rollforward import CheckNumbers, RollForward, check_numbers, roll_forward
from netnaught.core.seal import read_content
from netnaught.services.access import Context, Desk, account_for
from netnaught.services.workbench import Bench, chain_of, load_bench, period_start
from netnaught.store import bank_book, evidence
from netnaught.store.reconciliations import Reconciliation


@dataclass(frozen=True, slots=True)
class Outstanding:
    """An item not at the bank: its age, whether a seal lists it, its notes, whether it was reversed."""

    entry: BookEntry
    age: Age
    listed_since: date | None
    notes: tuple[str, ...]
    reversed: bool


@dataclass(frozen=True, slots=True)
class Lingering:
    """The outstanding list of an account at a closing date. `sealed`: it is the list as sealed then."""

    reconciliation: Reconciliation
    since: date
    items: tuple[Outstanding, ...]
    roll: RollForward
    checks: CheckNumbers
    ageing: tuple[AgeStep, ...]
    sealed: bool


def lingering(ctx: Context, company_id: int, account_id: int, reconciliation_id: int | None = None) -> Lingering | None:
    """The list at the end of a reconciliation (the newest, unless given); None where there is none yet."""
    company, account = account_for(ctx, company_id, account_id)
    chain = chain_of(ctx.db, account)
    wanted = [r for r in chain.reconciliations if reconciliation_id in (None, r.id)]
    if not wanted:
        return None
    at = wanted[-1] if reconciliation_id is not None else next((r for r in wanted if not r.sealed), wanted[-1])
    bench = load_bench(ctx, Desk(company, account, at))
    sealed: dict[int | str, int] = {}
    since: dict[int, date] = {}
    earlier = {s.reconciliation_id: s for s in chain.holding}
    for r in chain.reconciliations:
        if r.closing_date < at.closing_date and r.id in earlier:
            listed = read_content(earlier[r.id].content)["outstanding"]
            sealed = {item["id"]: int(item["amount"]) for item in listed}
            for item in listed:
                since.setdefault(item["id"], r.closing_date)
    if not since and not any(r.closing_date < at.closing_date for r in chain.reconciliations):
        sealed = {
            stored.id: stored.entry.amount
            for stored in bank_book.book(ctx.db, company_id, account_id)
            if stored.origin == "starting"
        }
    start = period_start(account, chain, at)
    cleared = {item for d in bench.work.decisions for item in d.entries}
    items = tuple(_items(ctx, bench, cleared, since))
    return Lingering(
        at,
        start.end,
        items,
        roll_forward(sealed, bench.work.entries, cleared, start.end, at.closing_date),
        check_numbers([stored.entry for stored in bank_book.book(ctx.db, company_id, account_id)]),
        ageing([(item.age, item.entry.amount) for item in items]),
        at.sealed,
    )


def _items(ctx: Context, bench: Bench, cleared: set[int | str], since: dict[int, date]) -> list[Outstanding]:
    left = [e for e in bench.work.entries if e.id not in cleared and e.date <= bench.work.end]
    company = bench.desk.company.id
    links = bank_book.links_of(ctx.db, company, *(int(e.id) for e in left))
    linked = {found for link in links for found in (link.entry_id, link.of_id)}
    notes: dict[int, list[str]] = {}
    for kept in evidence.evidence_of(ctx.db, company, "entry", [int(e.id) for e in left]):
        if kept.note:
            notes.setdefault(kept.entity_id, []).append(kept.note)
    return [
        Outstanding(
            entry,
            age(entry, bench.work.end, bench.desk.company.stale),
            since.get(int(entry.id)),
            tuple(notes.get(int(entry.id), [])),
            entry.id in linked,
        )
        for entry in left
    ]
