"""Review by a second person: handing in freezes, approval seals, returning opens the work again with notes."""

from __future__ import annotations

from netnaught.core.wording import count
from netnaught.services.access import Context, Desk, Right, company_for, open_desk, reconciliation_for, record_event
from netnaught.services.errors import BadInput, Conflict, Forbidden, NotFound, Refused
from netnaught.services.sealing import Sealing, require_ready, seal_desk
from netnaught.store import bank_book, companies, reconciliations, review, seals, statements, users
from netnaught.store.database import atomic
from netnaught.store.review import ReviewNote


def set_review(ctx: Context, company_id: int, review_on: bool) -> None:
    """Whether this company has its reconciliations approved by a second person."""
    with atomic(ctx.db):
        company_for(ctx, company_id, Right.MANAGE)
        companies.set_review(ctx.db, company_id, review_on)
        record_event(ctx, company_id, "review switched", "company", company_id, after={"review": review_on})


def hand_in(ctx: Context, company_id: int, reconciliation_id: int) -> None:
    """Freeze a reconciliation at zero for review."""
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id)
        if not desk.company.review:
            raise Refused(f"{desk.company.name} asks for no review: seal it. Nothing was changed.")
        require_ready(ctx, desk)
        reconciliations.set_prepared(ctx.db, company_id, reconciliation_id, ctx.user.id, ctx.stamp)
        reconciliations.note_change(ctx.db, company_id, desk.account.id)
        record_event(ctx, company_id, "handed in", "reconciliation", reconciliation_id)


def _in_review(ctx: Context, company_id: int, reconciliation_id: int) -> Desk:
    desk = reconciliation_for(ctx, company_id, reconciliation_id, Right.APPROVE)
    if desk.reconciliation.stage != "in review":
        raise Conflict("This reconciliation is not in review; nothing was changed.")
    return desk


def approve(ctx: Context, company_id: int, reconciliation_id: int) -> Sealing:
    """Approve what somebody else prepared: that seals it, with both names. Refused while a note is open."""
    with atomic(ctx.db):
        desk = _in_review(ctx, company_id, reconciliation_id)
        if desk.reconciliation.prepared_by == ctx.user.id:
            raise Forbidden("You prepared this: another person approves it. Nothing was changed.")
        open_notes = [n for n in review.notes(ctx.db, company_id, reconciliation_id) if n.closed_at is None]
        if open_notes:
            number = count(len(open_notes), "review note")
            raise Refused(f"{number} must be closed before it can be approved. Nothing was changed.")
        preparer = users.user(ctx.db, desk.reconciliation.prepared_by or 0)
        done = seal_desk(ctx, desk, preparer.name if preparer else "")
        record_event(ctx, company_id, "approved", "reconciliation", reconciliation_id, after={"sha256": done.sha256})
        return done


def send_back(ctx: Context, company_id: int, reconciliation_id: int, text: str) -> None:
    """Return it to the preparer with a note; the work goes on."""
    with atomic(ctx.db):
        desk = _in_review(ctx, company_id, reconciliation_id)
        if not text.strip():
            raise BadInput("Say what is to be done: the preparer reads it. Nothing was changed.", field="text")
        stage = "opened again" if seals.seal_of(ctx.db, company_id, reconciliation_id) else "in work"
        reconciliations.set_returned(ctx.db, company_id, reconciliation_id, stage)
        review.add_note(ctx.db, company_id, reconciliation_id, (None, None), text.strip(), ctx.user.id, ctx.stamp)
        reconciliations.note_change(ctx.db, company_id, desk.account.id)
        record_event(ctx, company_id, "returned", "reconciliation", reconciliation_id, after={"note": text.strip()})


def notes(ctx: Context, company_id: int, reconciliation_id: int) -> list[ReviewNote]:
    """The notes of a reconciliation, oldest first."""
    reconciliation_for(ctx, company_id, reconciliation_id)
    return review.notes(ctx.db, company_id, reconciliation_id)


def add_note(
    ctx: Context, company_id: int, reconciliation_id: int, line: int | None, entry: int | None, text: str
) -> int:
    """A review note on an item or the whole; by who approves, or by the preparer as an answer."""
    with atomic(ctx.db):
        desk = reconciliation_for(ctx, company_id, reconciliation_id)
        _require_part(ctx, company_id)
        if not text.strip():
            raise BadInput("The note is empty. Nothing was changed.", field="text")
        found = statements.stored_line(ctx.db, company_id, line) if line else None
        stored = bank_book.stored_entry(ctx.db, company_id, entry) if entry else None
        if (line and found is None) or (entry and (stored is None or stored.bank_account_id != desk.account.id)):
            raise NotFound("The item does not belong to this reconciliation. Nothing was changed.")
        made = review.add_note(
            ctx.db, company_id, reconciliation_id, (line, entry), text.strip(), ctx.user.id, ctx.stamp
        )
        reconciliations.note_change(ctx.db, company_id, desk.account.id)
        record_event(ctx, company_id, "review note", "reconciliation", reconciliation_id, after={"text": text.strip()})
        return made


def close_note(ctx: Context, company_id: int, note_id: int) -> None:
    """A note is dealt with."""
    with atomic(ctx.db):
        _require_part(ctx, company_id)
        found = review.note(ctx.db, company_id, note_id)
        if found is None:
            raise NotFound("There is no such note. Nothing was changed.")
        if found.closed_at:
            raise Conflict("This note is closed already; nothing was changed.")
        review.close_note(ctx.db, company_id, note_id, ctx.user.id, ctx.stamp)
        record_event(ctx, company_id, "review note closed", "reconciliation", found.reconciliation_id)


def _require_part(ctx: Context, company_id: int) -> None:
    """Who prepares or approves takes part in a review."""
    try:
        company_for(ctx, company_id, Right.APPROVE)
    except Forbidden:
        company_for(ctx, company_id, Right.PREPARE)
