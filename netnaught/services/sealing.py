"""Sealing: at zero, with every line resolved and no gap open; and the seal's papers."""

from __future__ import annotations

import hashlib

from netnaught.core.seal import SealContent, SealedEntry, SealedLine, canonical, fingerprint
from netnaught.core.seal.chain import FIRST
from netnaught.core.seal.content import Json
from netnaught.papers.pdf import render_pdf
from netnaught.services.access import Context, Right, open_desk, record_event
from netnaught.services.errors import Refused
from netnaught.services.reporting import build_report, report_bytes
from netnaught.services.workbench import Bench, chain_of, load_bench, period_start
from netnaught.store import reconciliations, seals
from netnaught.store.database import atomic


def _content(ctx: Context, bench: Bench) -> SealContent:
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
        sealed_by=ctx.user.name,
        sealed_at=ctx.stamp,
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


def seal(ctx: Context, company_id: int, reconciliation_id: int) -> str:
    """Seal a reconciliation; returns the seal's fingerprint.

    Refused, with every blocker named, unless the difference is zero, every statement line
    is resolved, no gap is open and every earlier reconciliation is sealed.
    """
    with atomic(ctx.db):
        desk = open_desk(ctx, company_id, reconciliation_id, Right.SEAL)
        bench = load_bench(ctx, desk)
        blockers = bench.blockers()
        if blockers:
            reasons = " ".join(blocker.text for blocker in blockers)
            raise Refused(f"This cannot be sealed yet. {reasons} Nothing was changed.", blockers)
        chain = chain_of(ctx.db, desk.account)
        last = chain.head
        number, previous = (last.number + 1, last.sha256) if last else (1, FIRST)
        content = canonical(_content(ctx, bench).content())
        digest = fingerprint(content, previous)
        seal_id = seals.add_seal(
            ctx.db,
            company_id,
            desk.account.id,
            reconciliation_id,
            number=number,
            opening=bench.standing.opening,
            closing=bench.standing.closing or 0,
            content=content,
            previous=previous,
            sha256=digest,
            user_id=ctx.user.id,
            now=ctx.stamp,
        )
        reconciliations.set_sealed(ctx.db, company_id, reconciliation_id)
        report = build_report(ctx, bench, ctx.user.name, ctx.stamp).with_seal(number, digest, previous)
        for kind, paper in (("report.json", report_bytes(report)), ("report.pdf", render_pdf(report))):
            seals.add_paper(ctx.db, company_id, seal_id, kind, paper, hashlib.sha256(paper).hexdigest())
        reconciliations.note_change(ctx.db, company_id, desk.account.id)
        record_event(
            ctx, company_id, "sealed", "bank_account", desk.account.id, after={"number": number, "sha256": digest}
        )
    return digest
