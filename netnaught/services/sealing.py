"""Sealing: at zero, with every line resolved and no gap open; and the seal's papers."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

from netnaught.core.seal import (
    FIRST,
    SealContent,
    SealDifference,
    SealedEntry,
    SealedLine,
    canonical,
    differences,
    fingerprint,
    read_content,
)
from netnaught.core.seal.content import Json
from netnaught.papers.pdf import render_pdf
from netnaught.services.access import Context, Desk, Right, open_desk, reconciliation_for, record_event
from netnaught.services.errors import BadInput, Conflict, NotFound, Refused
from netnaught.services.reporting import build_report, report_bytes
from netnaught.services.workbench import Bench, chain_of, load_bench, period_start
from netnaught.store import reconciliations, seals
from netnaught.store.database import atomic
from netnaught.store.reconciliations import Reconciliation
from netnaught.store.seals import Seal


@dataclass(frozen=True, slots=True)
class Signed:
    """Who sealed, when, who prepared it where it was reviewed, and the seal it replaces."""

    by: str
    at: str
    prepared_by: str = ""
    replaces: str = ""


def content_of(ctx: Context, bench: Bench, signed: Signed) -> SealContent:
    """What a seal of this reconciliation would hold now."""
    desk, now = bench.desk, bench.standing
    cleared = {item for d in bench.work.decisions for item in d.entries}

    def sealed(entry_ids_cleared: bool) -> tuple[SealedEntry, ...]:
        return tuple(
            SealedEntry(int(e.id), e.date.isoformat(), e.amount, e.reference, e.payee, e.memo)
            for e in bench.work.entries
            if (e.id in cleared) == entry_ids_cleared and (entry_ids_cleared or e.date <= bench.work.end)
        )

    statements: tuple[Json, ...] = tuple(
        {
            "id": s.id,
            "format": s.format,
            "start": s.head.start.isoformat(),
            "end": s.head.end.isoformat(),
            "opening": None if s.head.opening is None else str(s.head.opening),
            "closing": None if s.head.closing is None else str(s.head.closing),
            "file_sha256": s.file_sha256,
        }
        for s in bench.statements
    )
    decisions: tuple[Json, ...] = tuple(
        {
            "id": d.id,
            "kind": d.decision.kind.value,
            "lines": [int(item) for item in d.decision.lines],
            "entries": [int(item) for item in d.decision.entries],
            "pass": d.by,
            "why": d.why,
            "made_by": d.made_by,
            "made_at": d.made_at,
        }
        for d in bench.decisions
    )
    start = period_start(desk.account, chain_of(ctx.db, desk.account), desk.reconciliation).end
    return SealContent(
        company=desk.company.name,
        account=desk.account.name,
        currency=desk.account.currency,
        start=start.isoformat(),
        end=bench.work.end.isoformat(),
        sealed_by=signed.by,
        sealed_at=signed.at,
        prepared_by=signed.prepared_by,
        replaces=signed.replaces,
        opening=now.opening,
        closing=now.closing or 0,
        figures={
            "counted": now.counted,
            "outstanding_in": now.outstanding_in.total,
            "outstanding_out": now.outstanding_out.total,
            "late": now.late,
            "bank_errors": now.bank_errors,
            "book_balance": now.book_balance,
            **({} if bench.gl_balance is None else {"gl_balance": bench.gl_balance}),
        },
        statements=statements,
        decisions=decisions,
        lines=tuple(
            SealedLine(x.id, x.line.date.isoformat(), x.line.amount, x.line.reference, x.line.description, x.bank_id)
            for x in bench.lines
        ),
        cleared=sealed(True),
        outstanding=sealed(False),
    )


@dataclass(frozen=True, slots=True)
class Sealing:
    """What sealing did: the seal's fingerprint; sealed again, the later periods chained again, and those opened too."""

    sha256: str
    chained_again: tuple[date, ...] = ()
    opened_too: tuple[date, ...] = ()


def seal(ctx: Context, company_id: int, reconciliation_id: int) -> Sealing:
    """Seal a reconciliation.

    Refused, with every blocker named, unless the difference is zero, every statement line
    is resolved, no gap is open and every earlier reconciliation is sealed; and where the
    company asks for review, which seals by approval.
    """
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id, Right.SEAL)
        if desk.reconciliation.sealed:
            raise Conflict("This reconciliation is sealed already; nothing was changed.")
        if desk.company.review:
            raise Refused(
                f"{desk.company.name} has every reconciliation reviewed: hand it in, another person's approval seals it. "
                "Nothing was changed."
            )
        return seal_desk(ctx, desk, "")


def seal_desk(ctx: Context, desk: Desk, prepared_by: str) -> Sealing:
    """Seal what one has come to, inside a transaction; later seals are chained again, or opened too."""
    bench = require_ready(ctx, desk)
    company_id, account, at = desk.company.id, desk.account, desk.reconciliation
    chain = chain_of(ctx.db, account)
    earlier = seals.seal_of(ctx.db, company_id, at.id)
    signed = Signed(ctx.user.name, ctx.stamp, prepared_by, earlier.sha256 if earlier else "")
    content = canonical(content_of(ctx, bench, signed).content())
    made = "sealed again" if earlier else "sealed"
    reconciliations.set_sealed(ctx.db, company_id, at.id)
    new = _link(ctx, desk, chain.head, content, (bench.standing.opening, bench.standing.closing or 0), made, earlier)
    report = build_report(ctx, bench, ctx.user.name, ctx.stamp).with_seal(new.number, new.sha256, new.previous)
    for kind, paper in (("report.json", report_bytes(report)), ("report.pdf", render_pdf(report))):
        seals.add_paper(ctx.db, company_id, new.id, kind, paper, hashlib.sha256(paper).hexdigest())
    reconciliations.note_change(ctx.db, company_id, account.id)
    later = [r for r in chain.reconciliations if r.sealed and r.closing_date > at.closing_date]
    again, opened = _chain_again(ctx, desk, later, new)
    return Sealing(new.sha256, again, opened)


def require_ready(ctx: Context, desk: Desk) -> Bench:
    """The reconciliation at zero; Refused with every blocker named."""
    bench = load_bench(ctx, desk)
    blockers = bench.blockers()
    if blockers:
        reasons = " ".join(blocker.text for blocker in blockers)
        raise Refused(f"This cannot be sealed yet. {reasons} Nothing was changed.", blockers)
    return bench


def _link(
    ctx: Context,
    desk: Desk,
    head: Seal | None,
    content: bytes,
    balances: tuple[int, int],
    made: str,
    replaces: Seal | None,
) -> Seal:
    """A further link at the end of the account's chain, anchored in the audit trail."""
    number, previous = (head.number + 1, head.sha256) if head else (1, FIRST)
    digest = fingerprint(content, previous)
    seals.add_seal(
        ctx.db,
        desk.company.id,
        desk.account.id,
        desk.reconciliation.id,
        number=number,
        opening=balances[0],
        closing=balances[1],
        content=content,
        previous=previous,
        sha256=digest,
        user_id=ctx.user.id,
        now=ctx.stamp,
        made=made,
        replaces_id=replaces.id if replaces else None,
    )
    after = {"number": number, "sha256": digest, "reconciliation": desk.reconciliation.id, "made": made}
    record_event(ctx, desk.company.id, "sealed", "bank_account", desk.account.id, after=after)
    new = seals.seal_of(ctx.db, desk.company.id, desk.reconciliation.id)
    if new is None:
        raise NotFound("The seal was not stored.")
    return new


def _chain_again(
    ctx: Context, desk: Desk, later: Sequence[Reconciliation], head: Seal
) -> tuple[tuple[date, ...], tuple[date, ...]]:
    """Later seals whose content is the same are chained to the new one; from the first that is not, all are opened."""
    again: list[date] = []
    opened: list[date] = []
    for at in later:
        old = seals.seal_of(ctx.db, desk.company.id, at.id)
        there = replace(desk, reconciliation=at)
        if old is not None and not opened and _same(ctx, there, old):
            head = _link(ctx, there, head, old.content, (old.opening, old.closing), "chained again", old)
            for paper in seals.papers(ctx.db, desk.company.id, old.id):
                seals.add_paper(ctx.db, desk.company.id, head.id, paper.kind, paper.content, paper.sha256)
            again.append(at.closing_date)
        else:
            open_again(ctx, there, f"the period to {desk.reconciliation.closing_date.isoformat()} was sealed otherwise")
            opened.append(at.closing_date)
    return tuple(again), tuple(opened)


def _same(ctx: Context, desk: Desk, old: Seal) -> bool:
    """Whether a sealed period would be sealed with the same content now."""
    was = read_content(old.content)
    signed = Signed(was["sealed_by"], was["sealed_at"], was.get("prepared_by", ""), was.get("replaces", ""))
    return canonical(content_of(ctx, load_bench(ctx, desk), signed).content()) == old.content


def break_seal(ctx: Context, company_id: int, reconciliation_id: int, reason: str) -> None:
    """Open a sealed period again; its seal and papers stay readable."""
    with atomic(ctx.db):
        desk = reconciliation_for(ctx, company_id, reconciliation_id, Right.BREAK)
        if not desk.reconciliation.sealed:
            raise Conflict("This reconciliation is not sealed; nothing was changed.")
        if not reason.strip():
            raise BadInput("Say why the seal is broken: it is kept with it. Nothing was changed.", field="reason")
        open_again(ctx, desk, reason.strip())
        reconciliations.note_change(ctx.db, company_id, desk.account.id)


def open_again(ctx: Context, desk: Desk, reason: str) -> None:
    """Mark a sealed period as opened again, with the seal it had, in the audit trail."""
    old = seals.seal_of(ctx.db, desk.company.id, desk.reconciliation.id)
    reconciliations.set_opened_again(ctx.db, desk.company.id, desk.reconciliation.id)
    after: dict[str, object] = {
        "number": old.number if old else None,
        "sha256": old.sha256 if old else None,
        "reason": reason,
    }
    record_event(ctx, desk.company.id, "seal broken", "reconciliation", desk.reconciliation.id, after=after)


@dataclass(frozen=True, slots=True)
class SealTold:
    """A seal of a reconciliation, and what it says otherwise than the one it replaces."""

    seal: Seal
    replaces: int | None
    differences: tuple[SealDifference, ...]


def seals_told(ctx: Context, company_id: int, reconciliation_id: int) -> list[SealTold]:
    """All seals a reconciliation has had, newest first."""
    reconciliation_for(ctx, company_id, reconciliation_id)
    found = seals.seals_of(ctx.db, company_id, reconciliation_id)
    by_id = {seal.id: seal for seal in found}
    told: list[SealTold] = []
    for seal_ in found:
        old = by_id.get(seal_.replaces_id or 0)
        differs = differences(read_content(old.content), read_content(seal_.content)) if old else []
        told.append(SealTold(seal_, old.number if old else None, tuple(differs)))
    return told
