"""Open items: importing unpaid invoices and bills, and settling them with statement lines."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from netnaught.core.coding import Posting
from netnaught.core.money import currency
from netnaught.core.reconciliation import DecisionKind
from netnaught.core.settling import ItemKind, Layout, OpenItem, Proposal, SettlingRefused, fitting, lay_out, propose
from netnaught.formats import Unreadable, read_open_items
from netnaught.services import deciding, entries, steps
from netnaught.services.access import Context, Desk, Right, company_for, open_desk, reconciliation_for, record_event
from netnaught.services.entries import EntryValues
from netnaught.services.errors import BadInput, NotFound, Refused
from netnaught.store import ledger, open_items, statements
from netnaught.store.database import atomic
from netnaught.store.open_items import StoredItem
from netnaught.store.reconciliations import NewDecision
from netnaught.store.statements import StoredLine


@dataclass(frozen=True, slots=True)
class Imported:
    """What importing did: new items, those known already as they are, and known ones that say otherwise now."""

    new: int
    known: int
    held: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Settling:
    """What a line could settle, oldest due first, and what it most likely does."""

    items: tuple[OpenItem, ...]
    proposal: Proposal | None


def list_items(ctx: Context, company_id: int) -> list[StoredItem]:
    """All items with what is still owed."""
    company_for(ctx, company_id)
    return open_items.open_items(ctx.db, company_id)


def import_items(
    ctx: Context, company_id: int, name: str, data: bytes, accounts: dict[ItemKind, int | None]
) -> Imported:
    """Add the items of a table that are not known yet, each kind to its account; nothing is stored on an error.

    An item known with another amount or number is held back and named: settled parts rest on it.
    """
    company = company_for(ctx, company_id, Right.PREPARE)
    try:
        found = read_open_items(data, currency(company.currency))
    except Unreadable as error:
        raise BadInput.of_file(name, error) from None
    with atomic(ctx.db):
        known = {stored.external_id: stored.item for stored in open_items.open_items(ctx.db, company_id)}
        fresh: list[tuple[str, OpenItem, int]] = []
        held: list[str] = []
        for ident, item in found:
            before = known.get(ident)
            if before is None:
                fresh.append((ident, item, _account(ctx, company_id, item.kind, accounts)))
            elif (before.kind, before.number, before.amount) != (item.kind, item.number, item.amount):
                held.append(f"{item.number} ({ident})")
        open_items.add_items(ctx.db, company_id, fresh, ctx.stamp)
        record_event(
            ctx, company_id, "open items imported", "company", company_id, after={"file": name, "new": len(fresh)}
        )
    return Imported(len(fresh), len(found) - len(fresh) - len(held), tuple(held))


def _account(ctx: Context, company_id: int, kind: ItemKind, accounts: dict[ItemKind, int | None]) -> int:
    account = accounts.get(kind)
    if account is None or ledger.gl_account(ctx.db, company_id, account) is None:
        raise BadInput(f"Choose the account that {kind.value}s were posted to. Nothing was stored.", field=kind.value)
    return account


def _line(ctx: Context, company_id: int, reconciliation_id: int, line_id: int) -> StoredLine:
    mine = statements.lines_of(ctx.db, company_id, reconciliation_id)
    found = next((line for line in mine if line.id == line_id), None)
    if found is None:
        raise NotFound("This statement line does not belong to this reconciliation. Nothing was changed.")
    return found


def settling(ctx: Context, company_id: int, reconciliation_id: int, line_id: int) -> Settling:
    """What a line could settle."""
    desk = reconciliation_for(ctx, company_id, reconciliation_id)
    line = _line(ctx, company_id, reconciliation_id, line_id).line
    if desk.account.currency != desk.company.currency:
        return Settling((), None)
    items = [stored.item for stored in open_items.open_items(ctx.db, company_id)]
    return Settling(tuple(fitting(line, items)), propose(line, items))


# A hint in the row is worth so many comparisons of a line with an item; beyond, the inspector tells of one line.
_MOST_HINTS = 20_000


def hints(ctx: Context, desk: Desk, lines: Sequence[StoredLine]) -> dict[int, Proposal]:
    """What lines that nothing is matched with would settle, by line."""
    if not lines or desk.account.currency != desk.company.currency:
        return {}
    items = [stored.item for stored in open_items.open_items(ctx.db, desk.company.id) if stored.item.open > 0]
    if len(items) * len(lines) > _MOST_HINTS:
        return {}
    found = {line.id: propose(line.line, items) for line in lines}
    return {line: offer for line, offer in found.items() if offer is not None}


def settle(
    ctx: Context,
    company_id: int,
    reconciliation_id: int,
    line_id: int,
    item_ids: Sequence[int],
    write_off_account_id: int | None = None,
) -> int:
    """Record a line as the payment of open items, in their order, and match the two, in one step; returns the entry.

    Too little leaves the last item open in part, or is written off to an account; too much stays on account.
    """
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        line = _line(ctx, company_id, reconciliation_id, line_id).line
        known = {stored.item.id: stored for stored in open_items.open_items(ctx.db, company_id)}
        if any(item not in known for item in item_ids):
            raise NotFound("There is no such open item in this company. Nothing was changed.")
        chosen = [known[item] for item in item_ids]
        try:
            layout = lay_out(line.amount, [s.item for s in chosen], write_off=write_off_account_id is not None)
        except SettlingRefused as error:
            said = str(error)
            raise Refused(f"{said[0].upper()}{said[1:]}. Nothing was changed.") from None
        postings = _postings(layout, {s.item.id: s.gl_account_id for s in chosen}, line.amount, write_off_account_id)
        parties = sorted({s.item.party for s in chosen})
        numbers = ", ".join(s.item.number for s in chosen)
        values = EntryValues(
            line.date, line.amount, line.reference, ", ".join(parties), numbers, postings[0].gl_account_id, postings
        )
        entry_id = entries.create(ctx, desk.company, desk.account, values, origin="recorded")
        open_items.settle(ctx.db, company_id, entry_id, [(paid.item.id, paid.amount) for paid in layout.paid])
        new = NewDecision(DecisionKind.MATCH, (line_id,), (entry_id,), f"settles {numbers}")
        ids = deciding.check_and_add(ctx, desk, [new])
        steps.note(ctx, desk, f"settle {numbers}"[:120], [steps.created(entry_id), steps.decided(ids)])
        return entry_id


def _postings(layout: Layout, accounts: dict[int, int], amount: int, write_off: int | None) -> tuple[Posting, ...]:
    """One posting for each item, what was written off against it, what stays on account."""
    sign = 1 if amount > 0 else -1
    found = [Posting(accounts[p.item.id], sign * p.amount, memo=p.item.number) for p in layout.paid]
    if layout.written and write_off is not None:
        found.append(Posting(write_off, -sign * layout.written, memo="written off"))
    if layout.on_account:
        last = layout.paid[-1].item
        found.append(Posting(accounts[last.id], sign * layout.on_account, memo=f"{last.party}, on account"))
    return tuple(found)
